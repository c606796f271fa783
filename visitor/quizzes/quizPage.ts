import type { Html } from '../../core/html.ts'
import { sectionsHtml } from '../../core/pages/render.ts'
import { pageContent } from '../../core/pages/page.ts'
import { html } from '../../core/html.ts'
import { quizStyle } from '../../core/quizzes/quizHtml.ts'
import type { QuizResult } from '../../core/quizzes/quiz.ts'
import { formStyle } from '../../core/capture/formHtml.ts'
import type { PageContext } from '../../core/pages/context.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import type { PublishedQuiz } from '../../server/quizzes/publishedQuizzes.ts'
import type { Site } from '../../server/pages/site.ts'
import type { ShownPage } from '../../server/pages/versions.ts'
import type { Platform } from '../../server/platform.ts'
import { noPage, pageContext, type View } from '../pages/pageContext.ts'
import { renderPage, type RenderedPage } from '../pages/renderPage.ts'
import { quizScript } from './quizScript.ts'

/** A page of a quiz: what stands in it, and what is said of it to others. */
export interface QuizPage {
  /** Its public path, for who shares it. */
  path: string
  title: string
  /** What others see who get its address. */
  sharing: QuizResult['sharing'] | null
  /** A document in its main part, below what comes first and above what comes last. */
  document: BlockDocument | null
  /** May search engines list it? */
  listed: boolean
  /** Shown in a frame of another page. */
  framed: boolean
}

const plainDocument: BlockDocument = { sections: [] }

/**
 * Renders a page of a quiz.
 * @param parts what stands before its document, and after it
 */
export function renderQuizPage(
  platform: Platform,
  site: Site,
  quiz: PublishedQuiz,
  view: View,
  page: QuizPage,
  parts: (context: PageContext) => { before: Html; after?: Html },
): RenderedPage {
  const document = page.document ?? plainDocument
  const { cover } = quiz.content
  const shown: ShownPage = {
    id: noPage,
    path: page.path.slice(1),
    name: quiz.name,
    version: quiz.version,
    content: pageContent.parse({
      title: (page.title || quiz.name).slice(0, 120),
      listed: page.listed && !page.framed,
      document,
      sharing: {
        title: (page.sharing?.title || page.title || quiz.name).slice(0, 120),
        words: page.sharing?.words || cover?.words.slice(0, 300) || '',
        picture: page.sharing?.picture ?? cover?.picture ?? null,
      },
    }),
  }
  const here = { quiz: quiz.id }
  const context = pageContext(platform, site, view, here)
  const { before, after } = parts(context)
  // Answers and the address are sent by forms, which a redirect may lead out of the house.
  const forms = quiz.content.results.flatMap(({ shows }) =>
    shows.by === 'target' ? context.originsOf(shows.target) : [],
  )
  return renderPage(platform, site, shown, view, {
    framedBy: page.framed ? 'anybody' : 'nobody',
    path: page.path,
    here,
    own: {
      html: html`<div data-quiz>
        ${before}${page.document && sectionsHtml({ document }, context)}${after}
      </div>`,
      css: `${formStyle}${quizStyle}`,
      scriptUrl: quizScript.path,
      forms,
      bare: page.framed,
    },
  })
}
