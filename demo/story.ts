import type { Queries } from '../server/database/connect.ts'
import * as craft from './chapters/craft.ts'
import * as letter from './chapters/letter.ts'
import * as paperGrain from './chapters/paperGrain.ts'
import * as quiz from './chapters/quiz.ts'
import * as sessions from './chapters/sessions.ts'
import * as shop from './chapters/shop.ts'
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
  craft: craft.Craft
}

/** Makes the things of all chapters: pages, emails, follow-ups, tags, topics, fields, products. */
export async function makeStory(q: Queries, at: Date): Promise<Story> {
  const pack = await templatePack.make(q, at)
  return {
    templatePack: pack,
    paperGrain: await paperGrain.make(q, pack.emails.grain, at),
    quiz: await quiz.make(q, at),
    sessions: await sessions.make(q, at),
    shop: await shop.make(q, at),
    letter: await letter.make(q, at),
    craft: await craft.make(q, at),
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
