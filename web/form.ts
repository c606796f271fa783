import { nextTick, reactive, ref } from 'vue'
import { z } from 'zod'
import type { ProblemDetails } from '../contract/problems.ts'
import { problemOf } from './api.ts'

/** Something of a list, by its id, that must be chosen; none is at first. */
export const choice = (message: string) => z.number().nullable().pipe(z.number(message))

/** What a control of a form is bound to. */
export interface FieldBinding {
  name: string
  /** The type of the value is that of the control. */
  modelValue: never
  'onUpdate:modelValue': (value: unknown) => void
  errorMessages: string[]
}

export interface Form<S extends z.ZodObject> {
  values: z.input<S>
  /** What is wrong, by the path of the value; it stands under its field. */
  faults: Record<string, string>
  /** What is wrong with no field in particular. */
  problem: ProblemDetails | null
  busy: boolean
  /** Fills the form anew; what was wrong is forgotten. */
  reset: (values: z.input<S>) => void
  /** Binds a control to a value: `v-bind="form.field('name')"`. */
  field: (name: keyof z.input<S> & string) => FieldBinding
  /**
   * Checks what was typed by the schema, does the work, and says whether it went through. What is wrong, here or on
   * the server, stands under its field, and the first such field gets the focus; what was typed stays.
   */
  submit: (work: (checked: z.output<S>) => Promise<unknown>) => Promise<boolean>
}

async function focusFirstFault(faults: Readonly<Record<string, string>>): Promise<void> {
  await nextTick()
  const fields = [...document.querySelectorAll<HTMLElement>('input[name], textarea[name]')]
  fields.find((field) => Object.hasOwn(faults, field.getAttribute('name') ?? ''))?.focus()
}

/**
 * The one way of forms: a schema of the contract checks in the browser, the server checks again, and the faults of
 * both stand under their fields.
 * @param initial what the form begins with
 */
export function useForm<S extends z.ZodObject>(schema: S, initial: z.input<S>): Form<S> {
  const values = reactive(structuredClone(initial)) as Record<string, unknown>
  const faults = ref<Record<string, string>>({})
  const problem = ref<ProblemDetails | null>(null)
  const busy = ref(false)

  async function refuse(found: Record<string, string>): Promise<false> {
    faults.value = found
    await focusFirstFault(found)
    return false
  }

  return reactive({
    values: values as z.input<S>,
    faults,
    problem,
    busy,
    reset(next: z.input<S>) {
      Object.assign(values, structuredClone(next))
      faults.value = {}
      problem.value = null
    },
    field: (name: string): FieldBinding => ({
      name,
      modelValue: values[name] as never,
      'onUpdate:modelValue': (value: unknown) => {
        values[name] = value
        Reflect.deleteProperty(faults.value, name)
      },
      errorMessages: faults.value[name] === undefined ? [] : [faults.value[name]],
    }),
    async submit(work: (checked: z.output<S>) => Promise<unknown>) {
      problem.value = null
      const read = schema.safeParse(values)
      if (!read.success)
        return refuse(
          Object.fromEntries(read.error.issues.map(({ path, message }) => [path.join('.'), message])),
        )
      faults.value = {}
      busy.value = true
      try {
        await work(read.data)
        return true
      } catch (error) {
        const told = problemOf(error)
        // What has a field stands there; only the rest needs a place of its own.
        problem.value = told.fields ? null : told
        return await refuse(told.fields ?? {})
      } finally {
        busy.value = false
      }
    },
  }) as Form<S>
}
