import { walk } from '../../core/blocks/walk.ts'
import { html } from '../../core/html.ts'
import { safeEmailHtml } from '../../core/blocks/safeHtml.ts'
import { conditionalParts, emailLinks, type EmailContent } from '../../core/email/email.ts'
import { withConditions, type EmailContext } from '../../core/email/emailContext.ts'
import { emailMarkup } from '../../core/email/emailMarkup.ts'
import { wordsText } from '../../core/email/emailTemplate.ts'
import { pictureOfDetail } from '../../core/blocks/mergeValues.ts'
import { plainText } from '../../core/email/plainText.ts'
import type { Site } from '../pages/site.ts'

/** MJML is loaded when first needed: it takes longer than the rest of the server. */
async function layOut(markup: string): Promise<string> {
  const { default: mjml } = await import('mjml')
  const { html, errors } = await mjml(markup, { validationLevel: 'soft', ignoreIncludes: true })
  if (errors.length > 0) throw new Error(`The email cannot be laid out: ${errors[0]?.formattedMessage}`)
  return html
}

function linkNumbers(content: EmailContent): EmailContext['linkOf'] {
  const numbers = new Map(emailLinks(content).map(({ block, part }, n) => [`${block} ${part}`, n]))
  return (block, part) => numbers.get(`${block} ${part}`) ?? null
}

function conditionNumbers(content: EmailContent): EmailContext['conditionOf'] {
  const numbers = new Map(conditionalParts(content).map(({ part }, n) => [part, n]))
  return (part) => numbers.get(part) ?? null
}

const contextOf = (content: EmailContent, site: Site, editing: boolean): EmailContext => ({
  brand: site.brand,
  business: site.business,
  pictureOf: (id) => site.pictures.get(id) ?? null,
  detailPicture: (detail) => pictureOfDetail(site.mergeFields, detail),
  titleOf: (page) => site.pages.get(page)?.title ?? null,
  safeHtml: safeEmailHtml,
  linkOf: linkNumbers(content),
  conditionOf: conditionNumbers(content),
  editing,
})

/** What is made of an email once for all its readers: templates whose links are numbered as `emailLinks` has them. */
export interface EmailTemplates {
  subject: string
  /** Null when only the text part goes out. */
  html: string | null
  text: string
}

/** Makes the templates of an email. */
export async function renderEmail(content: EmailContent, site: Site): Promise<EmailTemplates> {
  return {
    subject: wordsText(content.subject),
    html: content.textOnly
      ? null
      : withConditions(await layOut(emailMarkup(content, contextOf(content, site, false)))),
    text: plainText(content, linkNumbers(content), emailLinks(content).length),
  }
}

/** A tag with its styles where the policy of the application lets them pass: the sheet sets them one by one. */
const withoutStyles = (tag: string): string =>
  tag.replaceAll(' style="', ' data-style="').replace(/ style(?=[\s>])/g, '')

/** The class by which the markup tells the parts of the document. */
const partClass = /class="([^"]*?)\s*\b([bs])-([a-z0-9]{6,20})"/

/** What the sheet of the editor shows: the email's own markup, with ids where its parts are. */
export async function drawEmail(content: EmailContent, site: Site): Promise<{ style: string; body: string }> {
  const laidOut = await layOut(emailMarkup(content, contextOf(content, site, true)))
  const guides = new Map([...walk(content.document)].map(({ block }) => [block.id, block.guidance]))
  const rules = [...laidOut.matchAll(/<style[^>]*>([\s\S]*?)<\/style>/g)].map(([, inner]) => inner)
  const body = /<body[^>]*>([\s\S]*)<\/body>/.exec(laidOut)?.[1] ?? ''
  return {
    style: [...rules, `body{margin:0;background:${site.brand.colours.tint}}`].join('\n'),
    body: body
      // What only one family of mail programs reads.
      .replace(/<!--\[if[^>]*?mso[\s\S]*?<!\[endif\]-->/g, '')
      .replace(/<[a-z][^>]*>/gi, (tag) =>
        withoutStyles(tag).replace(partClass, (_, classes: string, sort: string, id: string) => {
          const guide = guides.get(id)
          return html`class="${classes}" id="${sort}-${id}"${guide && html` data-guide="${guide}"`}`.markup
        }),
      ),
  }
}
