import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { courseContent } from '../../core/pages/course.ts'
import { emptySite, fakeServer, pressButton, show, submitDialog, typeInDialog } from '../../testing/screen.ts'
import CourseList from './CourseList.vue'

const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
const press = async (words: string): Promise<void> => {
  pressButton(words)
  await settle()
}

beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => vi.useRealTimers())

describe('the list of courses', () => {
  it('says for whom each is, and how far people came; one is made and edited in a dialog', async () => {
    const server = fakeServer()
    server.answers('GET /site', emptySite({ topics: [{ id: 3, name: 'Letter' }] }))
    const subscribers = { for: 'subscribers' as const, topic: 3 }
    server.answers('GET /courses', [
      {
        ...courseContent.parse({ name: 'First Journal', access: { for: 'buyers' } }),
        id: 1,
        began: 40,
        finished: 10,
        bought: 44,
        lessons: [
          { page: 5, name: 'Lesson one', live: true, seen: 40 },
          { page: 6, name: 'Lesson two', live: false, seen: 10 },
        ],
      },
      {
        ...courseContent.parse({ name: 'Paper grain', access: subscribers }),
        id: 2,
        began: 0,
        finished: 0,
        bought: 0,
        lessons: [],
      },
    ])
    server.answers('POST /courses', { id: 3 })
    server.answers('POST /courses/2/save', null)
    const { wrapper } = await show(CourseList, {})
    await settle()
    for (const words of [
      'for buyers',
      'Bought',
      '44',
      'draft',
      'for subscribers of Letter',
      'No lessons yet',
    ])
      expect(wrapper.text()).toContain(words)
    expect(wrapper.find('[aria-label="10 of 40 saw it"] span').attributes('style')).toContain('25%')
    await press('New course')
    submitDialog()
    await settle()
    expect(document.querySelector('.v-dialog')?.textContent).toContain('Give the course a name')
    typeInDialog('Leather')
    await settle()
    submitDialog()
    await settle()
    expect(server.sent('POST /courses')).toMatchObject([{ name: 'Leather', access: { for: 'everybody' } }])
    await press('Edit Paper grain')
    submitDialog()
    await settle()
    expect(server.sent('POST /courses/2/save')).toMatchObject([{ name: 'Paper grain', access: subscribers }])
  })
})
