import { z } from 'zod'
import {
  enrolmentViews,
  jumpRequest,
  jumpResult,
  rehearsalRequest,
  rehearsalStage,
  startOverRequest,
} from '../followups.ts'
import { created, get, post } from '../route.ts'
import { workStarted } from '../work.ts'
import {
  fieldEdit,
  fieldList,
  mergeRequest,
  tagEdit,
  taggingRequest,
  tagList,
  topicEdit,
  topicList,
  topicRequest,
} from './describing.ts'
import { importChoices, importList, importView } from './imports.ts'
import {
  bulkRequest,
  contactList,
  contactQuery,
  exportQuery,
  peopleCount,
  personEdit,
  personMerge,
  personNew,
  personView,
  selection,
} from './people.ts'
import {
  bandMoves,
  cardRequest,
  checkRequest,
  historyView,
  scorecardEdit,
  scorecardList,
  scorecardSaved,
  scoreCheckView,
} from './scores.ts'
import {
  sampleRequest,
  sampleView,
  segmentEdit,
  segmentList,
  vocabulary,
  whyRequest,
  whyView,
} from './segments.ts'

export const people = {
  find: post('/people/find', { body: contactQuery, answer: contactList }),
  count: post('/people/count', { body: selection, answer: peopleCount }),
  bulk: post('/people/bulk', { body: bulkRequest, answer: workStarted }),
  exportCsv: get('/people/export.csv', { query: exportQuery }),
  exportJsonLines: get('/people/export.jsonl', { query: exportQuery }),
  create: post('/people', { body: personNew, answer: created }),
  view: get('/people/:id', { answer: personView }),
  edit: post('/people/:id', { body: personEdit }),
  tag: post('/people/:id/tags', { body: taggingRequest }),
  setTopic: post('/people/:id/topics', { body: topicRequest }),
  merge: post('/people/:id/merge', { body: personMerge }),
  erase: post('/people/:id/erase', {}),
  dataJson: get('/people/:id/data.json', {}),
  dataCsv: get('/people/:id/data.csv', {}),
  /** The ledger of consent, to be printed or kept. */
  consentPdf: get('/people/:id/consent.pdf', {}),
  consentCsv: get('/people/:id/consent.csv', {}),
  enrolments: get('/people/:id/enrolments', { answer: enrolmentViews }),
  setRehearsal: post('/people/:id/rehearsal', { body: rehearsalRequest }),
  jump: post('/people/:id/jump', { body: jumpRequest, answer: jumpResult }),
  /** For somebody in rehearsal. */
  letIn: post('/people/:id/let-in', { body: z.object({ followup: z.number().int().positive() }) }),
  stage: get('/people/:id/stage', { answer: rehearsalStage }),
  /** As if somebody in rehearsal had never been here: only who they are stays. */
  startOver: post('/people/:id/start-over', { body: startOverRequest }),
}

export const segments = {
  sample: post('/people/sample', { body: sampleRequest, answer: sampleView }),
  why: post('/people/why', { body: whyRequest, answer: whyView }),
  vocabulary: get('/vocabulary', { answer: vocabulary }),
  list: get('/segments', { answer: segmentList }),
  create: post('/segments', { body: segmentEdit, answer: created }),
  edit: post('/segments/:id', { body: segmentEdit }),
  delete: post('/segments/:id/delete', {}),
}

export const tags = {
  list: get('/tags', { answer: tagList }),
  create: post('/tags', { body: tagEdit, answer: created }),
  edit: post('/tags/:id', { body: tagEdit }),
  merge: post('/tags/:id/merge', { body: mergeRequest }),
  delete: post('/tags/:id/delete', {}),
}

export const topics = {
  list: get('/topics', { answer: topicList }),
  create: post('/topics', { body: topicEdit, answer: created }),
  edit: post('/topics/:id', { body: topicEdit }),
}

export const fields = {
  list: get('/fields', { answer: fieldList }),
  create: post('/fields', { body: fieldEdit, answer: created }),
  edit: post('/fields/:id', { body: fieldEdit }),
}

export const scorecards = {
  list: get('/scorecards', { answer: scorecardList }),
  create: post('/scorecards', { body: scorecardEdit, answer: scorecardSaved }),
  check: post('/scorecards/check', { body: checkRequest, answer: scoreCheckView }),
  history: post('/scorecards/history', { body: checkRequest, answer: historyView }),
  edit: post('/scorecards/:id', { body: scorecardEdit, answer: scorecardSaved }),
  moves: post('/scorecards/:id/moves', { body: cardRequest, answer: bandMoves }),
  delete: post('/scorecards/:id/delete', {}),
}

const fileName = z.object({ name: z.string().trim().min(1).max(200).default('people.csv') })

export const imports = {
  list: get('/imports', { answer: importList }),
  /** The body is the file itself, as it comes. */
  upload: post('/imports', { query: fileName, answer: created }),
  view: get('/imports/:id', { answer: importView }),
  check: post('/imports/:id/check', { body: importChoices, answer: workStarted }),
  run: post('/imports/:id/run', { answer: workStarted }),
  undo: post('/imports/:id/undo', { answer: workStarted }),
  errorsCsv: get('/imports/:id/errors.csv', {}),
}
