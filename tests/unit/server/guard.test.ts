import { createHash } from 'node:crypto'
import type { IncomingHttpHeaders, IncomingMessage } from 'node:http'
import { describe, expect, it } from 'vitest'
import { Guesses } from '../../../server/guard/guesses'
import { pagePolicy } from '../../../server/guard/headers'
import { COOKIE, isLoopback, KeyRing } from '../../../server/guard/keys'
import { foreignName, foreignPage, foreignType, outsidePage } from '../../../server/guard/origin'
import { pairPage } from '../../../server/guard/pair-page'

const HOST = '127.0.0.1:4680'

describe('who asks', () => {
  it.each<[string, string, number | null]>([
    ['an address', HOST, null],
    ['one of IPv6', '[::1]:4680', null],
    ['localhost', 'localhost:4680', null],
    ['a name of the house', 'bench.local', null],
    ['a name from elsewhere', 'evil.example:4680', 421],
    ['one that only begins so', '127.0.0.1.evil.example', 421],
    ['none', '', 421],
    ['nonsense', '[', 421],
  ])('by %s', (_, host, status) =>
    expect(foreignName({ host }, '127.0.0.1')?.status ?? null).toBe(status),
  )

  it.each<[string, string, IncomingHttpHeaders, boolean]>([
    ['a program', 'PUT', { host: HOST }, false],
    [
      'the page itself',
      'PUT',
      { host: HOST, origin: `http://${HOST}`, 'sec-fetch-site': 'same-origin' },
      false,
    ],
    [
      'a page of another port',
      'PUT',
      { host: HOST, origin: 'http://127.0.0.1:8000', 'sec-fetch-site': 'same-site' },
      true,
    ],
    [
      'a page from elsewhere',
      'POST',
      { host: HOST, origin: 'http://evil.example', 'sec-fetch-site': 'cross-site' },
      true,
    ],
    ['a page without an origin', 'POST', { host: HOST, origin: 'null' }, true],
    [
      'a form of one, sent as a navigation',
      'POST',
      {
        host: HOST,
        origin: 'http://evil.example',
        'sec-fetch-site': 'cross-site',
        'sec-fetch-mode': 'navigate',
        'sec-fetch-dest': 'document',
      },
      true,
    ],
    [
      'a picture of a page from elsewhere',
      'GET',
      {
        host: HOST,
        'sec-fetch-site': 'cross-site',
        'sec-fetch-mode': 'no-cors',
        'sec-fetch-dest': 'image',
      },
      true,
    ],
    [
      'a script of one',
      'GET',
      { host: HOST, 'sec-fetch-site': 'same-site', 'sec-fetch-mode': 'no-cors' },
      true,
    ],
    [
      'who follows a link to here',
      'GET',
      {
        host: HOST,
        'sec-fetch-site': 'cross-site',
        'sec-fetch-mode': 'navigate',
        'sec-fetch-dest': 'document',
      },
      false,
    ],
    [
      'who types the address',
      'GET',
      {
        host: HOST,
        'sec-fetch-site': 'none',
        'sec-fetch-mode': 'navigate',
        'sec-fetch-dest': 'document',
      },
      false,
    ],
  ])('%s: %s', (_, method, headers, foreign) =>
    expect(foreignPage(method, headers) !== null).toBe(foreign),
  )

  it.each<[string, IncomingHttpHeaders, boolean]>([
    ['a page from a file', { host: HOST, origin: 'null', 'sec-fetch-site': 'cross-site' }, false],
    [
      'one of another port of this machine',
      { host: HOST, origin: 'http://localhost:9000', 'sec-fetch-site': 'cross-site' },
      false,
    ],
    ['a program', { host: HOST }, false],
    [
      'a page of the world outside',
      { host: HOST, origin: 'https://evil.example', 'sec-fetch-site': 'cross-site' },
      true,
    ],
    [
      'a picture of one',
      { host: HOST, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' },
      true,
    ],
  ])('a board is asked by %s', (_, headers, foreign) =>
    expect(outsidePage(headers) !== null).toBe(foreign),
  )

  it('only JSON is taken where JSON is meant, whatever else a form can send', () => {
    const types = ['application/json']
    for (const type of [
      'text/plain',
      'application/x-www-form-urlencoded',
      'multipart/form-data; boundary=x',
      '',
      'application/jsonx',
    ])
      expect(
        foreignType('POST', { 'content-type': type, 'content-length': '2' }, types)?.status,
        type,
      ).toBe(415)
    expect(foreignType('POST', { 'content-type': 'text/plain' }, types)?.status).toBe(415)
    expect(
      foreignType(
        'PUT',
        { 'content-type': 'application/json; charset=utf-8', 'content-length': '2' },
        types,
      ),
    ).toBeNull()
    expect(foreignType('POST', {}, types)).toBeNull()
    expect(foreignType('POST', { 'transfer-encoding': 'chunked' }, types)?.status).toBe(415)
  })
})

describe('keys', () => {
  const request = (headers: IncomingHttpHeaders, remoteAddress = '192.0.2.7') =>
    ({ headers, socket: { remoteAddress } }) as unknown as IncomingMessage
  const paired = (now = () => 0) => {
    const ring = new KeyRing(true, now)
    const made = ring.pair(ring.code)!
    ring.setDevices([{ id: 1, name: 'Phone', keyHash: made.keyHash }])
    return { ring, key: made.key }
  }
  it.each([
    ['127.0.0.1', true],
    ['127.1.2.3', true],
    ['::1', true],
    ['localhost', true],
    ['0.0.0.0', false],
    ['::', false],
    ['192.0.2.7', false],
    ['127.0.0.1.evil.example', false],
  ])('%s is this machine alone: %s', (host, alone) => expect(isLoopback(host)).toBe(alone))

  it('without guard everybody is let in, with it only who has a key, as a cookie or by name, until it is withdrawn', () => {
    expect(new KeyRing(false).allows(request({}))).toBe(true)
    const { ring, key } = paired()
    expect(ring.allows(request({}))).toBe(false)
    expect(ring.allows(request({ cookie: `a=b; ${COOKIE}=${key}; c=d` }))).toBe(true)
    expect(ring.allows(request({ authorization: `Bearer ${key}` }))).toBe(true)
    for (const cookie of [
      `${COOKIE}=${key.slice(1)}`,
      `x${COOKIE}=${key}`,
      `${COOKIE}=${'0'.repeat(64)}`,
      `${COOKIE}=`,
    ])
      expect(ring.allows(request({ cookie })), cookie).toBe(false)
    ring.setDevices([])
    expect(ring.allows(request({ authorization: `Bearer ${key}` }))).toBe(false)
  })
  it('a code is good for one device, and is read with a gap', () => {
    const ring = new KeyRing(true)
    const { code } = ring
    expect(ring.pair(`${code.slice(0, 3)} ${code.slice(3)}`)).not.toBeNull()
    expect(ring.code).not.toBe(code)
    expect(ring.pair(code)).toBeNull()
  })
  it('after five wrong codes there is another one, and a pause that doubles; within it even the right one is not taken', () => {
    let now = 0
    const ring = new KeyRing(true, () => now)
    const seen: string[] = []
    ring.changed = code => seen.push(code)
    const wrong = () => ring.pair(ring.code === '000000' ? '000001' : '000000')
    const pauses: number[] = []
    for (let round = 0; round < 3; round++) {
      for (let i = 0; i < 5; i++) expect(wrong()).toBeNull()
      pauses.push(ring.pauseMs)
      expect(ring.pair(ring.code)).toBeNull()
      now += ring.pauseMs
    }
    expect([pauses, seen.length]).toEqual([[30_000, 60_000, 120_000], 3])
    // A day of guessing tries a few hundred of a million codes.
    expect(ring.pair(ring.code)).not.toBeNull()
    expect(ring.pauseMs).toBe(0)
  })
  it('a datagram is answered where a paired device was heard from lately', () => {
    let now = 0
    const { ring, key } = paired(() => now)
    expect(ring.knows('192.0.2.7')).toBe(false)
    ring.allows(request({ authorization: `Bearer ${key}` }, '::ffff:192.0.2.7'))
    expect([ring.knows('192.0.2.7'), ring.knows('192.0.2.8')]).toEqual([true, false])
    now += 25 * 3_600_000
    expect(ring.knows('192.0.2.7')).toBe(false)
    expect(new KeyRing(false).knows('192.0.2.9')).toBe(true)
  })
  it('a PIN of four digits is not guessed through', () => {
    let now = 0
    const guesses = new Guesses(() => now)
    let tried = 0
    while (now < 7 * 86_400_000) {
      if (guesses.waitMs('192.0.2.7') > 0) now += guesses.waitMs('192.0.2.7')
      guesses.failed('192.0.2.7')
      tried++
    }
    expect(tried).toBeLessThan(1000)
    expect(guesses.waitMs('192.0.2.8')).toBe(0)
    for (let i = 0; i < 5000; i++) guesses.failed(`who ${i}`)
  })
})

describe('what browsers are told', () => {
  it('scripts in a page run only when they are the ones that were sent', () => {
    const policy = pagePolicy(
      '<script>one()</script><script type="module" src="/x.js"></script><script type="application/json" id="a">{}</script>',
    )
    const hash = (text: string) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`
    expect(policy).toContain(`script-src 'self' ${hash('one()')} ${hash('{}')};`)
    expect(policy).not.toMatch(/unsafe-eval|script-src[^;]*unsafe-inline/)
    expect(policy).toContain("frame-ancestors 'self'")
  })
  it('the page for a code tells nothing of what is behind it, and fetches nothing from elsewhere', () => {
    expect(pairPage()).not.toMatch(/https?:|design|fingerprint/i)
    expect(pagePolicy(pairPage())).toContain("script-src 'self' 'sha256-")
  })
})
