import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router'
import { useSession } from './workspace/session.ts'

const withId: RouteRecordRaw['props'] = ({ params }) => ({ id: Number(params.id) })

/** Every screen with what menus, tabs and Go-to must know of it: they read it here. */
export const routes: RouteRecordRaw[] = [
  { path: '/', redirect: '/today' },
  { path: '/sign-in', component: () => import('./workspace/SignIn.vue'), meta: { title: 'Sign in' } },
  {
    path: '/today',
    component: () => import('./today/TodayView.vue'),
    meta: { title: 'Today', station: 'Today', detail: 'arrivals and departures' },
  },
  {
    path: '/people',
    component: () => import('./audience/people/PeopleList.vue'),
    meta: { title: 'People', station: 'People', tab: 'All people', detail: 'everyone on your list' },
  },
  {
    path: '/people/segments',
    component: () => import('./audience/segments/SegmentList.vue'),
    meta: { title: 'Segments', station: 'People', tab: 'Segments', detail: 'saved filters' },
  },
  {
    path: '/people/tags',
    component: () => import('./audience/describing/TagList.vue'),
    meta: { title: 'Tags', station: 'People', tab: 'Tags', detail: 'labels on people' },
  },
  {
    path: '/people/topics',
    component: () => import('./audience/describing/TopicList.vue'),
    meta: { title: 'Topics', station: 'People', tab: 'Topics', detail: 'what people agreed to receive' },
  },
  {
    path: '/people/fields',
    component: () => import('./audience/describing/FieldList.vue'),
    meta: { title: 'Fields', station: 'People', tab: 'Fields', detail: 'your own details about people' },
  },
  {
    path: '/people/scorecards',
    component: () => import('./audience/scores/ScorecardList.vue'),
    meta: { title: 'Scorecards', station: 'People', tab: 'Scorecards', detail: 'points for what people do' },
  },
  {
    path: '/people/imports',
    component: () => import('./audience/imports/ImportList.vue'),
    meta: { title: 'Imports', station: 'People', tab: 'Imports', detail: 'people from CSV files' },
  },
  {
    path: '/people/scorecards/:id(\\d+|new)',
    component: () => import('./audience/scores/ScorecardView.vue'),
    props: ({ params }) => ({ id: params.id === 'new' ? null : Number(params.id) }),
    meta: { title: 'Scorecard', station: 'People' },
  },
  {
    path: '/people/imports/:id(\\d+)',
    component: () => import('./audience/imports/ImportView.vue'),
    props: withId,
    meta: { title: 'Import', station: 'People' },
  },
  {
    path: '/people/:id(\\d+)',
    component: () => import('./audience/people/PersonView.vue'),
    props: withId,
    meta: { title: 'Person', station: 'People' },
  },
  {
    path: '/funnels',
    component: () => import('./funnels/FunnelList.vue'),
    meta: { title: 'Funnels', station: 'Funnels', detail: 'lines from the first page to the last' },
  },
  {
    path: '/funnels/:id(\\d+)',
    component: () => import('./funnels/FunnelDesk.vue'),
    props: withId,
    meta: { title: 'Funnel', station: 'Funnels' },
  },
  {
    path: '/funnels/:id(\\d+)/settings',
    component: () => import('./funnels/FunnelSettings.vue'),
    props: withId,
    meta: { title: 'Settings of a funnel', station: 'Funnels' },
  },
  {
    path: '/funnels/:id(\\d+)/stage',
    component: () => import('./funnels/FunnelStage.vue'),
    props: withId,
    meta: { title: 'Rehearsal of a funnel', station: 'Funnels' },
  },
  {
    path: '/follow-ups',
    component: () => import('./followups/FollowupList.vue'),
    meta: { title: 'Follow-ups', station: 'Follow-ups', detail: 'emails that go out by themselves' },
  },
  {
    path: '/follow-ups/:id(\\d+)',
    component: () => import('./followups/FollowupEditor.vue'),
    props: withId,
    meta: { title: 'Follow-up', station: 'Follow-ups' },
  },
  {
    path: '/follow-ups/:id(\\d+)/people',
    component: () => import('./followups/FollowupPeople.vue'),
    props: withId,
    meta: { title: 'People in a follow-up', station: 'Follow-ups' },
  },
  {
    path: '/follow-ups/:id(\\d+)/journal',
    component: () => import('./followups/FollowupJournal.vue'),
    props: withId,
    meta: { title: 'Journal of a follow-up', station: 'Follow-ups' },
  },
  {
    path: '/follow-ups/:id(\\d+)/numbers',
    component: () => import('./followups/FollowupNumbers.vue'),
    props: withId,
    meta: { title: 'Numbers of a follow-up', station: 'Follow-ups' },
  },
  {
    path: '/follow-ups/:id(\\d+)/rehearsal',
    component: () => import('./followups/FollowupRehearsal.vue'),
    props: withId,
    meta: { title: 'Rehearsal of a follow-up', station: 'Follow-ups' },
  },
  {
    path: '/rehearsal/:id(\\d+)',
    component: () => import('./followups/RehearsalStage.vue'),
    props: withId,
    meta: { title: 'Rehearsal', station: 'Follow-ups' },
  },
  {
    path: '/library/pages',
    component: () => import('./pages/PageList.vue'),
    meta: { title: 'Pages', station: 'Library', tab: 'Pages', detail: 'what your public sees' },
  },
  {
    path: '/library/forms',
    component: () => import('./capture/FormList.vue'),
    meta: { title: 'Forms', station: 'Library', tab: 'Forms', detail: 'how strangers become contacts' },
  },
  {
    path: '/library/forms/:id(\\d+)',
    component: () => import('./capture/FormEditor.vue'),
    props: withId,
    meta: { title: 'Form', station: 'Library' },
  },
  {
    path: '/library/pop-ups',
    component: () => import('./capture/PopUpList.vue'),
    meta: { title: 'Pop-ups', station: 'Library', tab: 'Pop-ups', detail: 'forms that open over a page' },
  },
  {
    path: '/library/pop-ups/:id(\\d+)',
    component: () => import('./capture/PopUpEditor.vue'),
    props: withId,
    meta: { title: 'Pop-up', station: 'Library' },
  },
  {
    path: '/library/emails',
    component: () => import('./email/EmailList.vue'),
    meta: { title: 'Emails', station: 'Library', tab: 'Emails', detail: 'what people are sent' },
  },
  {
    path: '/library/emails/:id(\\d+)',
    component: () => import('./email/EmailEditor.vue'),
    props: withId,
    meta: { title: 'Email', station: 'Library' },
  },
  {
    path: '/library/emails/:id(\\d+)/report',
    component: () => import('./email/EmailReport.vue'),
    props: withId,
    meta: { title: 'Email report', station: 'Library' },
  },
  {
    path: '/library/products',
    component: () => import('./commerce/ProductList.vue'),
    meta: {
      title: 'Products',
      station: 'Library',
      tab: 'Products',
      detail: 'what is sold, at which prices',
    },
  },
  {
    path: '/library/coupons',
    component: () => import('./commerce/CouponList.vue'),
    meta: {
      title: 'Coupons',
      station: 'Library',
      tab: 'Coupons',
      detail: 'words that buyers type to pay less',
    },
  },
  {
    path: '/library/courses',
    component: () => import('./pages/CourseList.vue'),
    meta: {
      title: 'Courses',
      station: 'Library',
      tab: 'Courses',
      detail: 'lessons in order, and who may see them',
    },
  },
  {
    path: '/library/deadlines',
    component: () => import('./commerce/DeadlineList.vue'),
    meta: {
      title: 'Deadlines',
      station: 'Library',
      tab: 'Deadlines',
      detail: 'offers that end for each person by themselves',
    },
  },
  {
    path: '/library/products/:id(\\d+)',
    component: () => import('./commerce/ProductEditor.vue'),
    props: withId,
    meta: { title: 'Product', station: 'Library' },
  },
  {
    path: '/library/quizzes',
    component: () => import('./quizzes/QuizList.vue'),
    meta: {
      title: 'Quizzes',
      station: 'Library',
      tab: 'Quizzes',
      detail: 'questions that tell what each person wants',
    },
  },
  {
    path: '/library/quizzes/:id(\\d+)',
    component: () => import('./quizzes/QuizEditor.vue'),
    props: withId,
    meta: { title: 'Quiz', station: 'Library' },
  },
  {
    path: '/library/quizzes/:id(\\d+)/report',
    component: () => import('./quizzes/QuizReport.vue'),
    props: withId,
    meta: { title: 'Quiz report', station: 'Library' },
  },
  {
    path: '/library/junctions',
    component: () => import('./junctions/JunctionList.vue'),
    meta: {
      title: 'Junctions',
      station: 'Library',
      tab: 'Junctions',
      detail: 'links that send each person to the right page',
    },
  },
  {
    path: '/library/junctions/:id(\\d+)',
    component: () => import('./junctions/JunctionEditor.vue'),
    props: withId,
    meta: { title: 'Junction', station: 'Library' },
  },
  {
    path: '/library/links',
    component: () => import('./email/NamedLinks.vue'),
    meta: {
      title: 'Links',
      station: 'Library',
      tab: 'Links',
      detail: 'links that emails and pages share',
    },
  },
  {
    path: '/library/files',
    component: () => import('./pages/FilesView.vue'),
    meta: {
      title: 'Pictures and files',
      station: 'Library',
      tab: 'Pictures and files',
      detail: 'what pages and emails show and give',
    },
  },
  {
    path: '/library/shared-details',
    component: () => import('./blocks/SharedDetails.vue'),
    meta: {
      title: 'Shared details',
      station: 'Library',
      tab: 'Shared details',
      detail: 'names, dates and pictures that pages and emails say',
    },
  },
  {
    path: '/library/brand',
    component: () => import('./pages/BrandView.vue'),
    meta: { title: 'Brand', station: 'Library', tab: 'Brand', detail: 'logo, colours and typefaces' },
  },
  {
    path: '/library/site',
    component: () => import('./pages/SiteView.vue'),
    meta: {
      title: 'Site settings',
      station: 'Library',
      tab: 'Site settings',
      detail: 'domains, consent and search engines',
    },
  },
  {
    path: '/library/pages/:id(\\d+)',
    component: () => import('./pages/PageEditor.vue'),
    props: withId,
    meta: { title: 'Page', station: 'Library' },
  },
  {
    path: '/results/orders',
    component: () => import('./commerce/OrderList.vue'),
    meta: { title: 'Orders', station: 'Results', tab: 'Orders', detail: 'who bought what, and refunds' },
  },
  {
    path: '/results/left-carts',
    component: () => import('./commerce/RecoveryView.vue'),
    meta: {
      title: 'Left carts',
      station: 'Results',
      tab: 'Left carts',
      detail: 'who left the checkout and came back',
    },
  },
  {
    path: '/results/orders/:id(\\d+)',
    component: () => import('./commerce/OrderScreen.vue'),
    props: withId,
    meta: { title: 'Order', station: 'Results' },
  },
  {
    path: '/outbox',
    component: () => import('./email/OutboxView.vue'),
    meta: { title: 'Outbox', station: 'Outbox', detail: 'queue, sent and problems' },
  },
  {
    path: '/outbox/sending',
    component: () => import('./email/SendingSettings.vue'),
    meta: { title: 'Sending', station: 'Outbox', detail: 'senders, quiet hours and limits' },
  },
  {
    path: '/outbox/broadcasts',
    component: () => import('./email/broadcasts/BroadcastList.vue'),
    meta: { title: 'Broadcasts', station: 'Outbox', detail: 'emails sent to many at once' },
  },
  {
    path: '/outbox/broadcasts/new',
    component: () => import('./email/broadcasts/WriteBroadcast.vue'),
    meta: { title: 'New broadcast', station: 'Outbox', detail: 'send an email to many at once' },
  },
  {
    path: '/outbox/broadcasts/:id(\\d+)',
    component: () => import('./email/broadcasts/BroadcastScreen.vue'),
    props: withId,
    meta: { title: 'Broadcast', station: 'Outbox' },
  },
  {
    path: '/outbox/calendar',
    component: () => import('./email/broadcasts/BroadcastCalendar.vue'),
    meta: { title: 'Calendar', station: 'Outbox', detail: 'when broadcasts go out' },
  },
  {
    path: '/outbox/inbox',
    component: () => import('./email/TestInbox.vue'),
    props: { id: null },
    meta: { title: 'Test inbox', station: 'Outbox', detail: 'mail caught by the stand-in server' },
  },
  {
    path: '/outbox/inbox/:id(\\d+)',
    component: () => import('./email/TestInbox.vue'),
    props: withId,
    meta: { title: 'Test inbox', station: 'Outbox' },
  },
  {
    path: '/:rest(.*)',
    component: () => import('./frame/NoSuchScreen.vue'),
    meta: { title: 'Page not found' },
  },
]

export const router = createRouter({ history: createWebHistory('/app/'), routes })

router.beforeEach(async (to) => {
  const session = useSession()
  const known = session.me !== null || (await session.resume().catch(() => false))
  if (!known && to.path !== '/sign-in') return { path: '/sign-in', query: { to: to.fullPath } }
  return true
})

router.afterEach((to) => {
  document.title = `${to.meta.title} · Nurtel`
})
