import { computed, ref, type ComputedRef, type Ref } from 'vue'
import { otherwise, type JunctionContent, type JunctionRule } from '../../core/junctions/junction.ts'
import { nowhere } from '../../core/blocks/target.ts'
import { useContentHistory, type ContentHistory } from '../blocks/contentHistory.ts'
import { newPartId } from '../blocks/editing.ts'

/** A junction that is being edited; every edit can be undone. */
export interface JunctionEditing extends Omit<ContentHistory<JunctionContent>, 'apply'> {
  /** Begins with another content, which can be undone. */
  replace: (content: JunctionContent) => void
  /** The id of a rule, or `otherwise`; none for the junction itself. */
  selected: Ref<string | null>
  rule: ComputedRef<JunctionRule | null>
  set: (given: Partial<JunctionContent>) => void
  setRule: (rule: JunctionRule) => void
  /** Adds a rule at a place, which asks nothing yet. */
  insert: (at: number) => void
  remove: (id: string) => void
  duplicate: (id: string) => void
  /** Takes a rule to another place. */
  move: (id: string, to: number) => void
  /** One place up or down. */
  shift: (id: string, by: -1 | 1) => void
}

export function useJunctionEditing(initial: JunctionContent): JunctionEditing {
  const { content, apply, ...history } = useContentHistory(initial)
  const selected = ref<string | null>(null)
  const placeOf = (id: string): number => content.value.rules.findIndex((rule) => rule.id === id)
  const setRules = (rules: JunctionRule[], of: string | null = null): void =>
    apply({ ...content.value, rules }, of)

  function add(rule: JunctionRule, at: number): void {
    setRules(content.value.rules.toSpliced(at, 0, rule))
    selected.value = rule.id
  }
  function move(id: string, to: number): void {
    const from = placeOf(id)
    const rule = content.value.rules[from]
    if (!rule || to < 0 || to >= content.value.rules.length || to === from) return
    setRules(content.value.rules.toSpliced(from, 1).toSpliced(to, 0, rule))
  }

  return {
    content,
    ...history,
    replace: (next) => apply(next),
    selected,
    rule: computed(() => content.value.rules.find(({ id }) => id === selected.value) ?? null),
    set: (given) => apply({ ...content.value, ...given }, `junction ${Object.keys(given).join(' ')}`),
    setRule: (next) =>
      setRules(
        content.value.rules.map((rule) => (rule.id === next.id ? next : rule)),
        next.id,
      ),
    insert: (at) => add({ id: newPartId(), name: '', when: { kind: 'all', of: [] }, target: nowhere }, at),
    remove(id) {
      const at = placeOf(id)
      if (at < 0) return
      setRules(content.value.rules.toSpliced(at, 1))
      selected.value = content.value.rules[Math.min(at, content.value.rules.length - 1)]?.id ?? otherwise
    },
    duplicate(id) {
      const at = placeOf(id)
      const rule = content.value.rules[at]
      if (rule) add({ ...rule, id: newPartId() }, at + 1)
    },
    move,
    shift: (id, by) => move(id, placeOf(id) + by),
  }
}
