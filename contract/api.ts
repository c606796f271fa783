import { z } from 'zod'
import { audienceRoutes } from './audience/routes.ts'
import {
  againRequest,
  broadcastForecast,
  broadcastList,
  broadcastQuery,
  broadcastRequest,
  broadcastView,
  decision,
  planMove,
  sampleReaders,
} from './broadcasts.ts'
import { emailRoutes } from './emails.ts'
import {
  causeRequest,
  inboxMessage,
  inboxRows,
  outboxCounts,
  outboxGroup,
  outboxList,
  outboxMoment,
  outboxQuery,
} from './email.ts'
import { followupList, followupView } from './followups.ts'
import { formRoutes } from './forms.ts'
import { namedLinkRoutes } from './namedLinks.ts'
import { pageRoutes } from './pages.ts'
import { popUpRoutes } from './popUps.ts'
import { created, get, post, type Route } from './route.ts'
import { searchHits, searchQuery } from './search.ts'
import { sendingRoutes } from './sending.ts'
import { sharedDetailRoutes } from './sharedDetails.ts'
import { todayView } from './today.ts'
import { workList } from './work.ts'
import { clockStrip, me, passwordChange, signInRequest } from './workspace.ts'

/** Every route of the API, by what it is about. */
export const api = {
  ...audienceRoutes,
  ...pageRoutes,
  ...formRoutes,
  ...popUpRoutes,
  ...emailRoutes,
  ...sharedDetailRoutes,
  ...sendingRoutes,
  ...namedLinkRoutes,
  auth: {
    signIn: post('/auth/sign-in', { body: signInRequest }),
    signOut: post('/auth/sign-out', {}),
    changePassword: post('/auth/password', { body: passwordChange }),
    me: get('/auth/me', { answer: me }),
  },
  live: {
    /** Server-sent events: which subjects have changed. */
    stream: get('/live', {}),
  },
  today: {
    view: get('/today', { answer: todayView }),
    clockStrip: get('/clock-strip', { answer: clockStrip }),
    search: get('/search', { query: searchQuery, answer: searchHits }),
  },
  work: {
    list: get('/work', { answer: workList }),
    cancel: post('/work/:id/cancel', {}),
  },
  followups: {
    list: get('/followups', { answer: followupList }),
    view: get('/followups/:id', { answer: followupView }),
    retry: post('/followups/:id/retry', {}),
  },
  email: {
    outbox: get('/outbox', { query: outboxQuery, answer: outboxList }),
    outboxProblems: get('/outbox/problems', { answer: z.array(outboxGroup) }),
    outboxQueue: get('/outbox/queue', { answer: z.array(outboxMoment) }),
    cancel: post('/outbox/:id/cancel', {}),
    hurry: post('/outbox/:id/hurry', {}),
    again: post('/outbox/:id/again', {}),
    /** Everything that did not go out for a cause. */
    causeAgain: post('/outbox/again', { body: causeRequest, answer: z.object({ people: z.number().int() }) }),
    outboxCounts: get('/outbox/counts', { answer: outboxCounts }),
    inbox: get('/inbox', { query: searchQuery, answer: inboxRows }),
    message: get('/inbox/:id', { answer: inboxMessage }),
    messageHtml: get('/inbox/:id/html', {}),
  },
  broadcasts: {
    list: get('/broadcasts', { query: broadcastQuery, answer: broadcastList }),
    view: get('/broadcasts/:id', { answer: broadcastView }),
    forecast: post('/broadcasts/forecast', { body: broadcastRequest, answer: broadcastForecast }),
    /** Ten of those who would get it. */
    sample: post('/broadcasts/sample', { body: broadcastRequest, answer: sampleReaders }),
    create: post('/broadcasts', { body: broadcastRequest, answer: created }),
    callBack: post('/broadcasts/:id/call-back', {}),
    /** Not to be called back any more: it goes out at once. */
    hurry: post('/broadcasts/:id/hurry', {}),
    pause: post('/broadcasts/:id/pause', {}),
    resume: post('/broadcasts/:id/resume', {}),
    stop: post('/broadcasts/:id/stop', {}),
    move: post('/broadcasts/:id/move', { body: planMove }),
    decide: post('/broadcasts/:id/decide', { body: decision }),
    again: post('/broadcasts/:id/again', { body: againRequest, answer: created }),
  },
} satisfies Record<string, Record<string, Route>>
