import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { z } from 'zod'
import * as api from '../contract/api.ts'
import { addressOf, get, post } from '../contract/route.ts'
import { ApiProblem, call, linkTo, onSignedOut, problemOf, upload, useCsrfToken } from './api.ts'

const answer = vi.fn<(url: string, init: RequestInit) => Promise<Response>>()
const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status })
const shape = z.object({ people: z.number() })
const reading = get('/people/count', { answer: shape })
const finding = post('/people/find', { body: z.object({ search: z.string() }), answer: shape })
const changing = post('/tags/:id/delete', {})
const sending = post('/imports', { query: z.object({ name: z.string() }), answer: shape })

const problemFrom = (asking: Promise<unknown>) =>
  asking.then(
    () => null,
    (error: unknown) => problemOf(error),
  )

beforeEach(() => vi.stubGlobal('fetch', answer))
afterEach(() => {
  answer.mockReset()
  useCsrfToken('')
})

describe('asking the server', () => {
  it('gives what it says, in the shape that was agreed', async () => {
    answer.mockResolvedValueOnce(json({ people: 3 }))
    expect(await call(reading)).toEqual({ people: 3 })
    expect(answer.mock.calls[0]?.[0]).toBe('/api/people/count')
    answer.mockResolvedValueOnce(json({ people: 'three' }))
    expect(await problemFrom(call(reading))).toMatchObject({
      title: 'This could not be shown',
    })
  })

  it('carries the token with every change, and with no reading', async () => {
    useCsrfToken('of this sign-in')
    answer.mockImplementation(() => Promise.resolve(json({ people: 1 })))
    await call(reading)
    await call(finding, { body: { search: 'x' } })
    await call(changing, { params: { id: 3 } })
    const headers = answer.mock.calls.map(([, init]) => new Headers(init.headers).get('x-nurtel-csrf'))
    expect(headers).toEqual([null, 'of this sign-in', 'of this sign-in'])
    expect(answer.mock.calls.map(([, init]) => init.body)).toEqual([undefined, '{"search":"x"}', undefined])
  })

  it('tells a refusal as the server words it (RFC 9457)', async () => {
    const problem = {
      status: 422,
      title: 'Some values are not valid',
      detail: 'Look',
      fields: { name: 'Taken' },
    }
    answer.mockResolvedValueOnce(json(problem, 422))
    const refused = await call(changing, { params: { id: 1 } }).catch((error: unknown) => error)
    expect(refused).toBeInstanceOf(ApiProblem)
    expect(problemOf(refused)).toEqual(problem)
  })

  it('says that the server does not answer, also when something else answers in its place', async () => {
    answer.mockRejectedValueOnce(new TypeError('failed to fetch'))
    expect(await problemFrom(call(reading))).toMatchObject({ status: 0, title: 'Nurtel is not responding' })
    answer.mockResolvedValueOnce(new Response('<h1>Bad gateway</h1>', { status: 502 }))
    expect(await problemFrom(call(reading))).toMatchObject({
      status: 502,
      title: 'Nurtel is not responding',
    })
  })

  it('tells when nobody is signed in any more, but not of a password that is wrong', async () => {
    const signedOut = vi.fn()
    onSignedOut(signedOut)
    answer.mockImplementation(() => Promise.resolve(json({ status: 401, title: 'No', detail: '' }, 401)))
    await problemFrom(
      call(api.auth.signIn, { body: { address: 'mara@quillfeather.example', password: 'wrong' } }),
    )
    await problemFrom(call(api.auth.me))
    expect(signedOut).not.toHaveBeenCalled()
    await problemFrom(call(api.today.view))
    expect(signedOut).toHaveBeenCalledTimes(1)
  })

  it('says nothing when it was called off', async () => {
    const calledOff = new AbortController()
    answer.mockImplementationOnce(() => Promise.reject(new DOMException('aborted', 'AbortError')))
    calledOff.abort()
    const error = await call(reading, { signal: calledOff.signal }).catch((thrown: unknown) => thrown)
    expect(error).toMatchObject({ name: 'AbortError' })
  })
})

describe('sending a file', () => {
  class Upload extends EventTarget {
    static last: Upload
    upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {}
    onload = () => undefined
    onerror = () => undefined
    status = 0
    response: unknown = null
    responseType = ''
    headers: Record<string, string> = {}
    opened: string[] = []
    constructor() {
      super()
      Upload.last = this
    }
    open(...how: string[]): void {
      this.opened = how
    }
    setRequestHeader(name: string, value: string): void {
      this.headers[name] = value
    }
    send(): void {
      this.upload.onprogress?.({ loaded: 30, total: 120 })
      this.upload.onprogress?.({ loaded: 1, total: 0 })
    }
  }
  beforeEach(() => vi.stubGlobal('XMLHttpRequest', Upload))

  it('tells how much of it is there, and gives what the server made of it', async () => {
    useCsrfToken('of this sign-in')
    const shares: number[] = []
    const sent = upload(sending, { name: 'a&b.csv' }, new Blob(['email']), (share) => shares.push(share))
    Object.assign(Upload.last, { status: 201, response: { people: 2 } })
    Upload.last.onload()
    expect(await sent).toEqual({ people: 2 })
    expect(shares).toEqual([0.25, 0])
    expect(Upload.last.opened).toEqual(['POST', '/api/imports?name=a%26b.csv'])
    expect(Upload.last.headers['x-nurtel-csrf']).toBe('of this sign-in')
  })

  it('tells why it was refused, or that the server is away', async () => {
    const refused = upload(sending, { name: 'x' }, new Blob([]), () => undefined)
    Object.assign(Upload.last, {
      status: 422,
      response: { status: 422, title: 'This file is empty', detail: '' },
    })
    Upload.last.onload()
    expect(await problemFrom(refused)).toMatchObject({ title: 'This file is empty' })
    const broken = upload(sending, { name: 'x' }, new Blob([]), () => undefined)
    Upload.last.onerror()
    expect(await problemFrom(broken)).toMatchObject({ title: 'Nurtel is not responding' })
  })
})

describe('the address of a route', () => {
  it('has its ids filled in, leaves out what says nothing, and escapes the rest', () => {
    expect(addressOf('/tags/:id/merge', { id: 7 }, { q: 'a&b c', page: 2, none: undefined, empty: '' })).toBe(
      '/tags/7/merge?q=a%26b+c&page=2',
    )
    expect(linkTo(api.people.dataCsv, { params: { id: 12 } })).toBe('/api/people/12/data.csv')
    expect(linkTo(api.people.exportCsv, { query: { who: '{"search":"é"}' } })).toBe(
      '/api/people/export.csv?who=%7B%22search%22%3A%22%C3%A9%22%7D',
    )
  })
})
