import { readFileSync } from 'node:fs'
import express from 'express'

/** The yardstick: an Express that answers with one fixed string and does nothing else. */
const [, , port, file = ''] = process.argv
const markup = readFileSync(file, 'utf8')
const server = express()
server.get('/', (_request, response) => {
  response.type('html').send(markup)
})
server.listen(Number(port), '127.0.0.1', () => console.log('ready'))
