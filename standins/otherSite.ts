import { createHash } from 'node:crypto'
import express, { type Express } from 'express'
import { z } from 'zod'
import { Html, html } from '../core/html.ts'

/** What stands on the page: a form in its place, a form or a quiz in a frame, pop-ups, or a line twice. */
const query = z.object({
  form: z.string().max(60).default(''),
  frame: z.string().max(60).default(''),
  quiz: z.string().max(80).default(''),
  popups: z.string().max(10).default('yes'),
  twice: z.string().max(10).default(''),
})

const style = `body{margin:0;font:18px/1.6 Georgia,serif;color:#26323a;background:#eef1ec}main{max-width:640px;margin:0 auto;padding:40px 20px}h1{font-size:34px;line-height:1.2}form,.done,button,label,h3{color:red!important;letter-spacing:4px}iframe{width:100%;border:0}footer{margin-top:900px}`

/** Lets a frame of a form be as high as what stands in it: the lines that are copied beside it. */
const growing = `addEventListener('message',({data,source})=>{for(const frame of document.querySelectorAll('iframe'))if(frame.contentWindow===source&&data?.nurtel)frame.style.height=data.nurtel.height+'px'})`

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64')

/**
 * Plays a site of somebody else, as strict as one can be, with lines of ours in it: nothing but these may load, and
 * its own style would spoil whatever it reached.
 * @param origin where the lines lead to
 */
export function createOtherSite(origin: string): Express {
  const site = express()
  site.set('query parser', 'simple')
  site.disable('x-powered-by')
  site.get('/', (request, response) => {
    const read = query.safeParse(request.query)
    const { form, frame, quiz, popups, twice } = read.success ? read.data : query.parse({})
    const line = (given: Html): Html => html`<script async src="${origin}/embed.js" ${given}></script>`
    const lines = [
      ...(form ? [line(html`data-form="${form}"`)] : []),
      ...(popups === 'yes' ? [line(html`data-pop-ups`)] : []),
    ]
    const policy = [
      "default-src 'none'",
      `style-src 'sha256-${hashOf(style)}'`,
      `script-src ${origin} 'sha256-${hashOf(growing)}'`,
      `connect-src ${origin}`,
      `img-src ${origin}`,
      `font-src ${origin}`,
      `frame-src ${origin}`,
      "require-trusted-types-for 'script'",
      'trusted-types nurtel',
    ]
    response
      .set({ 'content-security-policy': policy.join('; '), 'cache-control': 'no-store' })
      .type('html')
      .send(
        html`<!doctype html>
          <html lang="en">
            <head>
              <meta charset="utf-8" />
              <meta name="viewport" content="width=device-width, initial-scale=1" />
              <title>The Paper Loft</title>
              ${new Html(`<style>${style}</style>`)}
            </head>
            <body>
              <main>
                <h1>The Paper Loft</h1>
                <p>Sheets from small mills, sold by the quire. Next week: how to store them flat.</p>
                <p><button type="button" id="before">A button of this site</button></p>
                ${lines}${twice && lines}${
                  frame &&
                  html`<iframe src="${origin}/forms/frame/${frame}" title="Sign up" height="600"></iframe>
                    ${new Html(`<script>${growing}</script>`)}`
                }
                ${
                  quiz &&
                  html`<iframe src="${origin}/q/${quiz}?in=frame" title="Quiz" height="560"></iframe>
                    ${new Html(`<script>${growing}</script>`)}`
                }
                <footer><p>The Paper Loft is a made-up shop.</p></footer>
              </main>
            </body>
          </html>`.markup,
      )
  })
  site.use((_request, response) => {
    response.status(404).type('text').send('Nothing here')
  })
  return site
}
