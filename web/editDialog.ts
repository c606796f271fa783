import { reactive, ref } from 'vue'
import type { z } from 'zod'
import { useForm, type Form } from './form.ts'

/** A dialog in which a thing is made, or the one with an id is edited. */
export interface EditDialog<S extends z.ZodObject> {
  open: boolean
  /** The thing that is edited; null when a new one is made. */
  id: number | null
  form: Form<S>
  begin: (id: number | null, values: z.input<S>) => void
  close: () => void
  /** Saves what was typed, and closes when that went through. */
  save: () => Promise<void>
}

/**
 * @param empty what a new thing begins with
 * @param store saves what was typed, as a new thing or over the one with this id
 */
export function useEditDialog<S extends z.ZodObject>(
  schema: S,
  empty: z.input<S>,
  store: (id: number | null, checked: z.output<S>) => Promise<unknown>,
): EditDialog<S> {
  const form = useForm(schema, empty)
  const open = ref(false)
  const id = ref<number | null>(null)
  return reactive({
    open,
    id,
    form,
    begin(which: number | null, values: z.input<S>) {
      id.value = which
      form.reset(values)
      open.value = true
    },
    close() {
      open.value = false
    },
    async save() {
      if (await form.submit((checked) => store(id.value, checked))) open.value = false
    },
  }) as EditDialog<S>
}
