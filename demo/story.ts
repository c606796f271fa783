import type { Queries } from '../server/database/connect.ts'
import * as craft from './chapters/craft.ts'
import * as benchSurvey from './chapters/benchSurvey.ts'
import * as firstJournal from './chapters/firstJournal.ts'
import * as letter from './chapters/letter.ts'
import * as newsletter from './chapters/newsletter.ts'
import * as onceMore from './chapters/onceMore.ts'
import * as orderPages from './chapters/orderPages.ts'
import * as popUps from './chapters/popUps.ts'
import * as pictures from './chapters/pictures.ts'
import * as paperGrain from './chapters/paperGrain.ts'
import * as quiz from './chapters/quiz.ts'
import * as sessions from './chapters/sessions.ts'
import * as shop from './chapters/shop.ts'
import * as site from './chapters/site.ts'
import * as templatePack from './chapters/templatePack.ts'
import type { Person } from './person.ts'

/** What the chapters have made, by chapter. */
export interface Story {
  templatePack: templatePack.TemplatePack
  paperGrain: paperGrain.PaperGrain
  quiz: quiz.Quiz
  sessions: sessions.Sessions
  shop: shop.Shop
  letter: letter.Letter
  newsletter: newsletter.Newsletter
  craft: craft.Craft
  site: site.SitePages
  orderPages: orderPages.OrderPages
  firstJournal: firstJournal.FirstJournal
}

/** Makes the things of all chapters: pages, emails, follow-ups, tags, topics, fields, products. */
export async function makeStory(q: Queries, at: Date): Promise<Story> {
  const drawn = await pictures.make(q, at)
  const pack = await templatePack.make(q, drawn, at)
  const topics = await letter.make(q, at)
  await benchSurvey.make(q, at)
  const signUp = await newsletter.make(q, topics.topics.letter, at)
  await popUps.make(q, { templatePack: pack.form, letter: signUp.form }, at)
  const journal = await firstJournal.make(q, drawn, at)
  const sold = await shop.make(q, { pictures: drawn, templates: pack.path.file, journal: journal.course }, at)
  const pages = await site.make(q, { pictures: drawn, course: sold.course }, at)
  const bought = await orderPages.make(
    q,
    { pictures: drawn, products: sold.products, terms: pages.terms },
    at,
  )
  await firstJournal.leadOthers(q, journal, sold.course)
  await onceMore.make(q, { pictures: drawn, workshop: sold.products.workshop, thanks: bought.thanks }, at)
  return {
    templatePack: pack,
    paperGrain: await paperGrain.make(q, { lesson: pack.emails.grain, pictures: drawn }, at),
    quiz: await quiz.make(q, { pictures: drawn, letter: topics.topics.letter }, at),
    sessions: await sessions.make(q, at),
    shop: sold,
    letter: topics,
    newsletter: signUp,
    craft: await craft.make(q, at),
    site: pages,
    orderPages: bought,
    firstJournal: journal,
  }
}

/** Lives a person's part in all chapters, in the order in which one leads to the next. */
export function live(person: Person, story: Story): void {
  templatePack.live(person, story.templatePack)
  paperGrain.live(person, story.paperGrain)
  quiz.live(person, story.quiz)
  craft.live(person, story.craft)
  sessions.live(person, story.sessions)
  shop.live(person, story.shop)
  letter.live(person, story.letter)
  person.activities.sort((a, b) => a.at - b.at)
}
