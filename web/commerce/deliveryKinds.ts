import type { Delivery } from '../../core/commerce/delivery.ts'
import { sharedActionKinds, topicActionKinds, type ActionKinds } from '../blocks/inspector/actionKinds.ts'

/** What a product can bring, and what it does with buyers. */
export const deliveryKinds: ActionKinds<Delivery> = {
  sendFile: {
    title: 'A file',
    inputs: [{ path: 'file', label: 'File', as: 'thing', thing: 'file' }],
    fresh: { does: 'sendFile', file: null },
  },
  openPage: {
    title: 'A page',
    inputs: [{ path: 'page', label: 'Page', as: 'thing', thing: 'page' }],
    fresh: { does: 'openPage', page: null },
  },
  openCourse: {
    title: 'A course',
    inputs: [{ path: 'course', label: 'Course', as: 'thing', thing: 'course' }],
    fresh: { does: 'openCourse', course: null },
  },
  sendEmail: {
    title: 'An email',
    inputs: [{ path: 'email', label: 'Email', as: 'thing', thing: 'email' }],
    fresh: { does: 'sendEmail', email: null },
  },
  openAddress: {
    title: 'An address elsewhere',
    inputs: [{ path: 'url', label: 'Web address', as: 'line' }],
    fresh: { does: 'openAddress', url: '' },
  },
  ...sharedActionKinds,
  ...topicActionKinds,
  notifyTeam: { title: 'Tell the team', inputs: [], fresh: { does: 'notifyTeam' } },
}
