import { courseContent } from '../../core/pages/course.ts'
import { createCourse, saveCourse } from '../../server/pages/courses.ts'
import type { Queries } from '../../server/database/connect.ts'
import { compose } from '../composer.ts'
import { createPage } from './create.ts'
import { altOf, type Pictures } from './pictures.ts'

const { block, text, section } = compose

/** The course that is sold: who has bought it finds its lessons, everybody else the offer. */
export interface FirstJournal {
  course: number
  lessons: number[]
}

const about = {
  name: 'Bind Your First Journal',
  description: 'Six lessons from a stack of paper to a sewn journal, at your own pace.',
  access: { for: 'buyers' as const },
}

/** What each lesson says, and what one does in it. */
const lessons: readonly { title: string; words: string; steps: string[]; picture?: keyof Pictures }[] = [
  {
    title: 'Choose paper that wants to be a book',
    words: 'Every sheet has a direction. Find it before anything else, and the rest of the book is easy.',
    steps: [
      'Bend the sheet both ways',
      'Mark the softer bend with a pencil',
      'Cut eight sheets the same way',
    ],
    picture: 'grain',
  },
  {
    title: 'Fold, and press the folds flat',
    words: 'A section is four sheets, folded once. The bone folder does the work, not the thumb.',
    steps: [
      'Fold from the middle outwards',
      'Run the folder along each fold',
      'Leave them under a board overnight',
    ],
  },
  {
    title: 'Five holes in a row',
    words: 'The template decides where the needle goes. From now on nothing can slip.',
    steps: ['Lay the template into the fold', 'Pierce from the inside', 'Check the holes against the light'],
    picture: 'pamphlet',
  },
  {
    title: 'Sew the sections',
    words: 'One thread, from the first section to the last, with a kettle stitch at each end.',
    steps: [
      'Wax an arm’s length of thread',
      'Sew in and out along the fold',
      'Tie each section to the one before',
    ],
    picture: 'coptic',
  },
  {
    title: 'Make the case',
    words: 'Two boards, a spine and a sheet of cloth: measured on your own book, never from a table.',
    steps: [
      'Cut the boards a little larger than the pages',
      'Glue from the middle',
      'Turn the cloth in at the corners',
    ],
    picture: 'caseBound',
  },
  {
    title: 'Hang the book in it',
    words: 'The last ten minutes decide. Breathe, and do it in one go.',
    steps: ['Put glue on the first sheet', 'Close the case and press', 'Do not open it before the morning'],
    picture: 'journal',
  },
]

/** Makes the course with its lessons. Where others are led is set once it is sold somewhere. */
export async function make(q: Queries, pictures: Pictures, at: Date): Promise<FirstJournal> {
  const course = await createCourse(q, courseContent.parse(about), at)
  const ids: number[] = []
  for (const [i, { title, words, steps, picture }] of lessons.entries())
    ids.push(
      await createPage(
        q,
        {
          path: `first-journal/lesson-${i + 1}`,
          name: `First Journal: lesson ${i + 1}`,
          purpose: 'lesson',
          title,
          course,
          opens: i === 0 ? { when: 'atOnce' } : { when: 'previousSeen' },
          sections: [
            section([
              {
                share: 2,
                blocks: [
                  block('heading', { level: 1, words: title }),
                  text(words),
                  ...(picture ? [block('picture', { picture: pictures[picture], alt: altOf(picture) })] : []),
                  block('heading', { words: 'At the bench', level: 2 }),
                  block('list', { marker: 'numbers', items: steps }),
                ],
              },
              { blocks: [block('lessonList', { course, title: 'In this course' })] },
            ]),
          ],
        },
        at,
      ),
    )
  return { course, lessons: ids }
}

/** Leads whoever has not bought the course to where it is sold. */
export const leadOthers = (q: Queries, { course }: FirstJournal, product: number): Promise<void> =>
  saveCourse(q, course, courseContent.parse({ ...about, others: { to: 'product', product } }))

/**
 * Lets everybody in who has bought the course, and has them go through it: a lesson every few days, some to the end,
 * many not (common practice).
 */
export async function storeLearners(
  q: Queries,
  { course, lessons: pages }: FirstJournal,
  product: number,
  now: number,
): Promise<void> {
  await q.rows(
    `insert into course_learner (course_id, contact_id, bought_at)
     select $1, contact_id, min(paid_at) from customer_order join order_line on order_id = customer_order.id
     where product_id = $2 and state = 'paid' and contact_id is not null group by contact_id`,
    [course, product],
  )
  await q.rows(
    `insert into lesson_seen (contact_id, page_id, at)
     select contact_id, page, seen from course_learner, unnest($2::bigint[]) with ordinality lesson (page, n),
       lateral (select bought_at + (n - 1) * (2 + contact_id % 4) * interval '1 day' + (contact_id % 700) * interval '1 minute' as seen) each
     where course_id = $1 and n <= contact_id * 7919 % (cardinality($2::bigint[]) + 3) and seen < $3`,
    [course, pages, new Date(now)],
  )
  await q.rows(
    `with finished as (
       update course_learner set finished_at = (select max(at) from lesson_seen
         where contact_id = course_learner.contact_id and page_id = any($2))
       where course_id = $1 and (select count(*) from lesson_seen
         where contact_id = course_learner.contact_id and page_id = any($2)) = cardinality($2::bigint[])
       returning contact_id, finished_at)
     insert into activity (contact_id, kind, details, at)
     select contact_id, 'courseFinished', jsonb_build_object('course', $1::bigint), finished_at from finished`,
    [course, pages],
  )
}
