import { describe, expect, it } from 'vitest'
import { hostnameOf, ownHosts } from './hosts.ts'

describe('the name in a Host header', () => {
  it.each([
    ['127.0.0.1:4600', '127.0.0.1'],
    ['LocalHost', 'localhost'],
    // RFC 9110 §7.2 and RFC 3986 §3.2.2: an IPv6 address stands in brackets.
    ['[::1]:4600', '[::1]'],
    ['mail.quillfeather.example', 'mail.quillfeather.example'],
    ['', null],
    ['a b', null],
    ['user@127.0.0.1', null],
    ['127.0.0.1:4600, evil.test', null],
    ['127.0.0.1:123456', null],
    [undefined, null],
  ])('%j is %j', (header, name) => expect(hostnameOf(header)).toBe(name))
})

describe('a server', () => {
  const isOwn = ownHosts('Letters.quillfeather.example')
  it('answers to its own names, on any port', () => {
    for (const host of ['localhost:1', '127.0.0.1', '[::1]:80', 'letters.QUILLFEATHER.example:443'])
      expect(isOwn(host), host).toBe(true)
  })
  it('answers to no other', () => {
    for (const host of ['evil.test', '127.0.0.1.evil.test', 'quillfeather.example', '10.0.0.1', undefined])
      expect(isOwn(host), host).toBe(false)
  })
})
