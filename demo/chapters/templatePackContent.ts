import type { Program } from '../../core/followups/program.ts'
import { business } from '../business.ts'

/** The ids that the program refers to. */
export interface TemplatePackIds {
  form: number
  tags: { invited: number }
  emails: { delivery: number; reminder: number; invitation: number; grain: number }
}

/** The follow-up of the story: deliver at once, look after two days, remind or invite. */
export function templatePackProgram({ form, tags, emails }: TemplatePackIds): Program {
  const clicked = (email: number) =>
    ({ kind: 'did', activity: 'emailClicked', details: { email }, atLeast: 1 }) as const
  return {
    startsWhen: [{ kind: 'formSent', form }],
    reentry: 'never',
    leavesWhen: [],
    zone: business.zone,
    steps: [
      { kind: 'send', id: 'deliver', email: emails.delivery },
      { kind: 'waitFor', id: 'two-days', amount: 2, unit: 'days' },
      {
        kind: 'branch',
        id: 'clicked',
        arms: [
          {
            label: 'Has the file',
            when: clicked(emails.delivery),
            steps: [
              { kind: 'send', id: 'invite', email: emails.invitation },
              { kind: 'addTag', id: 'tag-invited', tag: tags.invited },
            ],
          },
        ],
        otherwise: {
          label: 'Not yet',
          steps: [
            { kind: 'send', id: 'remind', email: emails.reminder },
            { kind: 'waitFor', id: 'two-more-days', amount: 2, unit: 'days' },
            {
              kind: 'branch',
              id: 'clicked-reminder',
              arms: [
                {
                  label: 'Has it now',
                  when: { kind: 'any', of: [clicked(emails.delivery), clicked(emails.reminder)] },
                  steps: [
                    { kind: 'send', id: 'invite-late', email: emails.invitation },
                    { kind: 'addTag', id: 'tag-invited-late', tag: tags.invited },
                  ],
                },
              ],
              otherwise: { label: 'Silent', steps: [{ kind: 'end', id: 'leave-in-peace' }] },
            },
          ],
        },
      },
      { kind: 'waitFor', id: 'four-days', amount: 4, unit: 'days' },
      { kind: 'send', id: 'teach-grain', email: emails.grain },
    ],
  }
}
