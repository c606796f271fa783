import type { CourseView } from '../../contract/courses.ts'
import { courseContent, type CourseContent } from '../../core/pages/course.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound } from '../http/problems.ts'

const columns = 'id, name, description, access, others'

/** How each course is meant, by its number. */
export async function loadCourses(q: Queries): Promise<ReadonlyMap<number, CourseContent>> {
  const rows = await q.rows<{ id: number } & CourseContent>(`select ${columns} from course`)
  return new Map(rows.map(({ id, ...content }) => [id, courseContent.parse(content)]))
}

/** Every course with its lessons, and how far people are; nobody made up is counted. */
export async function listCourses(q: Queries): Promise<CourseView[]> {
  const rows = await q.rows<CourseContent & Pick<CourseView, 'id' | 'began' | 'finished' | 'bought'>>(
    `select ${columns},
       (select count(distinct contact_id)::int from lesson_seen join page on page.id = page_id and course_id = course.id
         join contact on contact.id = contact_id and not rehearsal) began,
       (select count(*)::int from course_learner join contact on contact.id = contact_id and not rehearsal
         where course_id = course.id and finished_at is not null) finished,
       (select count(*)::int from course_learner join contact on contact.id = contact_id and not rehearsal
         where course_id = course.id and bought_at is not null) bought
     from course order by lower(name), id`,
  )
  const lessons = await q.rows<CourseView['lessons'][number] & { course: number }>(
    `select course_id course, page.id page, page.name, published_version is not null live,
       (select count(*)::int from lesson_seen join contact on contact.id = contact_id and not rehearsal
         where page_id = page.id) seen
     from page where course_id is not null and archived_at is null order by lesson_number nulls last, page.id`,
  )
  return rows.map(({ id, began, finished, bought, ...content }) => ({
    ...courseContent.parse(content),
    id,
    began,
    finished,
    bought,
    lessons: lessons.filter(({ course }) => course === id).map(({ course: _, ...lesson }) => lesson),
  }))
}

/** @returns its id */
export async function createCourse(
  q: Queries,
  { name, description, access, others }: CourseContent,
  at: Date,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    'insert into course (name, description, access, others, created_at) values ($1, $2, $3, $4, $5) returning id',
    [name, description, JSON.stringify(access), JSON.stringify(others), at],
  )
  if (!row) throw new Error('an insert returned no row')
  await announce(q, 'pages')
  return row.id
}

/** @throws Problem 404 */
export async function saveCourse(
  q: Queries,
  id: number,
  { name, description, access, others }: CourseContent,
): Promise<void> {
  const row = await q.row(
    'update course set name = $2, description = $3, access = $4, others = $5 where id = $1 returning id',
    [id, name, description, JSON.stringify(access), JSON.stringify(others)],
  )
  if (!row) throw notFound('This course')
  await announce(q, 'pages')
}

/** Lets somebody into a course that they bought. */
export async function letIntoCourse(q: Queries, course: number, contact: number, at: Date): Promise<void> {
  await q.rows(
    `insert into course_learner (course_id, contact_id, bought_at)
     select id, $2, $3 from course where id = $1
     on conflict (course_id, contact_id) do update
       set bought_at = coalesce(course_learner.bought_at, excluded.bought_at)`,
    [course, contact, at],
  )
}

/** Takes the way into courses back that somebody had bought. */
export async function takeFromCourses(
  q: Queries,
  courses: readonly number[],
  contact: number,
): Promise<void> {
  await q.rows('update course_learner set bought_at = null where contact_id = $1 and course_id = any($2)', [
    contact,
    courses,
  ])
}

/** Writes down that somebody has seen a lesson, the first time; and that they have finished, with the last one. */
export async function recordLessonSeen(
  q: Queries,
  {
    contact,
    page,
    course,
    lessons,
  }: { contact: number; page: number; course: number; lessons: readonly number[] },
  at: Date,
): Promise<void> {
  const first = await q.row(
    `insert into lesson_seen (contact_id, page_id, at) values ($1, $2, $3) on conflict do nothing returning page_id`,
    [contact, page, at],
  )
  if (!first) return
  const finished = await q.row(
    `insert into course_learner (course_id, contact_id, finished_at)
     select $1, $2, $3 where not exists (
       select from unnest($4::bigint[]) lesson
       where not exists (select from lesson_seen where contact_id = $2 and page_id = lesson))
     on conflict (course_id, contact_id) do update set finished_at = excluded.finished_at
       where course_learner.finished_at is null
     returning course_id`,
    [course, contact, at, lessons],
  )
  if (finished)
    await recordActivities(q, [{ contact, kind: 'courseFinished', at: at.getTime(), details: { course } }])
}
