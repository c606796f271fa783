import { nameOf, type Names } from '../../core/audience/segments/names.ts'
import { describeCondition } from '../../core/audience/segments/describe.ts'
import { armsOf, type StartsWhen, type Step } from '../../core/followups/program.ts'
import { describeWait } from '../../core/followups/waiting.ts'

export function describeStart(rule: StartsWhen, names: Names): string {
  switch (rule.kind) {
    case 'tagAdded':
      return `the tag ${nameOf(names, 'tags', rule.tag)} is added`
    case 'addressConfirmed':
      return rule.form === undefined
        ? 'an address is confirmed'
        : `an address is confirmed by the form ${nameOf(names, 'forms', rule.form)}`
    case 'formSent': {
      const which = rule.form === undefined ? 'any form' : `the form ${nameOf(names, 'forms', rule.form)}`
      const where = rule.page === undefined ? '' : ` on ${nameOf(names, 'pages', rule.page)}`
      return `${which}${where} is submitted`
    }
  }
}

/** A step in a few words, and in one sentence. */
export function describeStep(step: Step, names: Names): { title: string; detail: string } {
  switch (step.kind) {
    case 'send': {
      const email = nameOf(names, 'emails', step.email)
      const only = step.onlyIf ? ` Only if ${describeCondition(step.onlyIf, names)}.` : ''
      return { title: email, detail: `Sends the email ${email}.${only}` }
    }
    case 'waitFor':
      return {
        title: `wait ${describeWait(step)}`,
        detail: `Waits ${describeWait(step)} from the previous step.`,
      }
    case 'branch':
      return {
        title: 'branch',
        detail: [
          ...step.arms.map((arm) => `${arm.label}: if ${describeCondition(arm.when, names)}.`),
          `${armsOf(step).at(-1)?.label}: everybody else.`,
        ].join(' '),
      }
    case 'addTag':
      return {
        title: `tag ${nameOf(names, 'tags', step.tag)}`,
        detail: `Adds the tag ${nameOf(names, 'tags', step.tag)}.`,
      }
    case 'end':
      return { title: 'end', detail: 'Leaves the follow-up here.' }
  }
}
