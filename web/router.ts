import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './workspace/session.ts'

declare module 'vue-router' {
  interface RouteMeta {
    /** The station of the line that the screen belongs to. */
    station?: string
    title: string
  }
}

export const router = createRouter({
  history: createWebHistory('/app/'),
  routes: [
    { path: '/', redirect: '/today' },
    { path: '/sign-in', component: () => import('./workspace/SignIn.vue'), meta: { title: 'Sign in' } },
    {
      path: '/today',
      component: () => import('./today/TodayView.vue'),
      meta: { title: 'Today', station: '/today' },
    },
    {
      path: '/people',
      component: () => import('./audience/PeopleList.vue'),
      meta: { title: 'People', station: '/people' },
    },
    ...(
      [
        ['segments', 'Segments', () => import('./audience/SegmentList.vue')],
        ['tags', 'Tags', () => import('./audience/TagList.vue')],
        ['topics', 'Topics', () => import('./audience/TopicList.vue')],
        ['fields', 'Fields', () => import('./audience/FieldList.vue')],
        ['scorecards', 'Scorecards', () => import('./audience/ScorecardList.vue')],
        ['imports', 'Imports', () => import('./audience/ImportList.vue')],
      ] as const
    ).map(([part, title, component]) => ({
      path: `/people/${part}`,
      component,
      meta: { title, station: '/people' },
    })),
    {
      path: '/people/scorecards/:id(\\d+|new)',
      component: () => import('./audience/ScorecardView.vue'),
      props: ({ params }) => ({ id: params.id === 'new' ? null : Number(params.id) }),
      meta: { title: 'Scorecard', station: '/people' },
    },
    {
      path: '/people/imports/:id(\\d+)',
      component: () => import('./audience/ImportView.vue'),
      props: ({ params }) => ({ id: Number(params.id) }),
      meta: { title: 'Import', station: '/people' },
    },
    {
      path: '/people/:id(\\d+)',
      component: () => import('./audience/PersonView.vue'),
      props: ({ params }) => ({ id: Number(params.id) }),
      meta: { title: 'Person', station: '/people' },
    },
    {
      path: '/follow-ups',
      component: () => import('./followups/FollowupList.vue'),
      meta: { title: 'Follow-ups', station: '/follow-ups' },
    },
    {
      path: '/follow-ups/:id(\\d+)',
      component: () => import('./followups/FollowupView.vue'),
      props: ({ params }) => ({ id: Number(params.id) }),
      meta: { title: 'Follow-up', station: '/follow-ups' },
    },
    {
      path: '/outbox',
      component: () => import('./email/OutboxView.vue'),
      meta: { title: 'Outbox', station: '/outbox' },
    },
    {
      path: '/outbox/broadcasts',
      component: () => import('./email/BroadcastList.vue'),
      meta: { title: 'Broadcasts', station: '/outbox' },
    },
    {
      path: '/outbox/inbox/:id(\\d+)?',
      component: () => import('./email/TestInbox.vue'),
      props: ({ params }) => ({ id: params.id ? Number(params.id) : null }),
      meta: { title: 'Test inbox', station: '/outbox' },
    },
    {
      path: '/:rest(.*)',
      component: () => import('./frame/NoSuchScreen.vue'),
      meta: { title: 'Nothing here' },
    },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  const known = session.me !== null || (await session.resume().catch(() => false))
  if (!known && to.path !== '/sign-in') return { path: '/sign-in', query: { to: to.fullPath } }
  return true
})

router.afterEach((to) => {
  document.title = `${to.meta.title} · Nurtel`
})
