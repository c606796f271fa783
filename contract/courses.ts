import { z } from 'zod'
import { courseContent } from '../core/pages/course.ts'
import { created, get, post } from './route.ts'

const id = z.number().int()
const count = z.number().int()

export const courseView = courseContent.extend({
  id,
  /** So many saw a lesson of it, saw all, and bought it. */
  began: count,
  finished: count,
  bought: count,
  lessons: z.array(z.object({ page: id, name: z.string(), live: z.boolean(), seen: count })),
})
export type CourseView = z.infer<typeof courseView>

export const courses = {
  list: get('/courses', { answer: z.array(courseView) }),
  create: post('/courses', { body: courseContent, answer: created }),
  save: post('/courses/:id/save', { body: courseContent }),
} as const
