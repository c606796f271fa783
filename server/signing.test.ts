import { describe, expect, it } from 'vitest'
import { createSigner } from './signing.ts'

const signer = createSigner('a secret for tests that is long enough')
const other = createSigner('another secret for tests, long enough too')

describe('a signed token', () => {
  it('gives back what it was made of, for its own use and install alone', () => {
    const token = signer.sign('click', [12, 'a b\u00e9'])
    expect(signer.open('click', token)).toEqual(['12', 'a b\u00e9'])
    expect(signer.open('open', token)).toBeNull()
    expect(other.open('click', token)).toBeNull()
  })

  it('has one spelling: padding, unused last bits and appended signs are refused', () => {
    const token = signer.sign('click', [1, 2])
    const [body = '', mac = ''] = token.split('.')
    // RFC 4648 §3.5: 16 bytes leave four unused bits in the last of 22 letters, which decoders may pass over.
    const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_'
    const last = letters.indexOf(mac.slice(-1))
    const twin = `${mac.slice(0, -1)}${letters[last ^ 1]}`
    expect(Buffer.from(twin, 'base64url')).toEqual(Buffer.from(mac, 'base64url'))
    const spellings = [
      `${body}.${twin}`,
      `${body}.${mac}=`,
      `${body}.${mac}==`,
      `${body}.${mac}!`,
      `${body}.${mac}\n`,
      `${body}=.${mac}`,
      `${body} .${mac}`,
      `${body}.${mac.replaceAll('-', '+').replaceAll('_', '/')}x`,
      `${token}.`,
      `.${mac}`,
      body,
      '',
    ]
    for (const spelling of spellings) expect(signer.open('click', spelling), spelling).toBeNull()
  })
})
