/** Commands that are signed with the time of day. */
import { createHmac } from 'node:crypto'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import { FRESH, openTimed } from '../../../../core/bytes/signing'
import { check } from '../../../../core/checks/check'
import type { Edit } from '../../../../core/design/edits/edits'
import type { Design } from '../../../../core/design/schema'
import { takesOnce } from '../../../../core/design/links/traits'
import {
  nextCount,
  practiceSecret,
  PRACTICE_TIME_S as NOW,
  sealedText,
  unsealed,
} from '../../../../core/messages/sealing'
import { signatureVectors } from '../../../../core/sides/signature-vectors'
import { canProgram } from '../../../../core/sides/program/can-program'
import { authEdit } from '../../../../core/checks/auth-rules'
import { edited, fanDesign, linkOn, twoPanelDesign } from '../../../fixtures/designs'

const TIME = { kind: 'time', tagBytes: 8, toleranceS: 30, once: true } as const
const timed = (start: Design, linkId: string, once = true): Design => {
  const link = start.links.find(l => l.id === linkId)
  if (!link) throw new Error('no such link')
  const plain = edited(start, authEdit(start, link, { ...TIME, once }))
  const lines: Edit = {
    type: 'assignCodes',
    linkId,
    codes: { fan: { on: 'fan on', off: 'fan off' } },
  }
  return link.kind === 'http' ? plain : edited(plain, lines)
}
const serial = (once = true) => timed(fanDesign(), 'phone-link', once)
const linkOf = (design: Design) => linkOn(design, 'bluetooth-serial')
const sealed = (design: Design, counter: number) =>
  sealedText(linkOf(design), 'fan on', { secret: practiceSecret(linkOf(design)), counter }).trim()
const opened = (design: Design, text: string, clockS = NOW, window = FRESH) =>
  unsealed(linkOf(design), practiceSecret(linkOf(design)), window, text, clockS)

describe('a command signed with the time', () => {
  it('carries the time and the first bytes of HMAC-SHA-256 over it and the command', () => {
    const design = serial()
    const seconds = Buffer.alloc(4)
    seconds.writeUInt32BE(NOW)
    const tag = createHmac('sha256', practiceSecret(linkOf(design)))
      .update(seconds)
      .update('fan on')
      .digest('hex')
      .slice(0, 16)
      .toUpperCase()
    expect(sealed(design, NOW)).toBe(`fan on ${NOW}.${tag}`)
  })

  it('is taken within the tolerance of the clock, either way, and told why it is not', () => {
    const design = serial(false)
    for (const off of [-30, -1, 0, 30])
      expect(opened(design, sealed(design, NOW + off))).toMatchObject({ ok: true, body: 'fan on' })
    expect(opened(design, sealed(design, NOW - 31))).toEqual({
      ok: false,
      why: 'its time is 31 s behind',
    })
    expect(opened(design, sealed(design, NOW + 45))).toEqual({
      ok: false,
      why: 'its time is 45 s ahead',
    })
    expect(opened(design, 'fan on')).toEqual({ ok: false, why: 'it carries no time and tag' })
    expect(opened(design, sealed(design, NOW).replace(String(NOW), String(NOW + 1)))).toMatchObject(
      {
        ok: false,
        why: expect.stringContaining('the tag does not fit'),
      },
    )
  })

  it('is taken again within the tolerance, or once, as designed', () => {
    for (const once of [false, true]) {
      const design = serial(once)
      const text = sealed(design, NOW)
      const first = opened(design, text)
      if (!first.ok) throw new Error(first.why)
      expect(opened(design, text, NOW + 5, first.window).ok).toBe(!once)
      expect(takesOnce(linkOf(design).auth)).toBe(once)
    }
  })

  it('taken once agrees with a list of all times that were taken', () => {
    const key = new TextEncoder().encode('a key of sixteen')
    const scheme = { tagBytes: 8, toleranceS: 25, once: true }
    const datagram = (time: number) => {
      const head = Buffer.alloc(4)
      head.writeUInt32BE(time)
      const signed = Buffer.concat([head, Buffer.from('x')])
      const tag = createHmac('sha256', key).update(signed).digest().subarray(0, 8)
      return new Uint8Array(Buffer.concat([signed, tag]))
    }
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -30, max: 30 }), { maxLength: 40 }), offs => {
        let window = FRESH
        const taken = new Set<number>()
        let newest = 0
        offs.forEach((off, n) => {
          const clock = NOW + n
          const time = clock + off
          const result = openTimed(scheme, key, window, datagram(time), clock)
          const good = Math.abs(off) <= 25 && !taken.has(time) && newest - time <= 31
          expect(result.ok).toBe(good)
          if (!result.ok) return
          taken.add(time)
          newest = Math.max(newest, time)
          ;({ window } = result)
        })
      }),
    )
  })

  it('says a later time each time, where each is taken once', () => {
    const link = linkOf(serial())
    expect(nextCount(link, 0, NOW)).toBe(NOW)
    expect(nextCount(link, NOW, NOW)).toBe(NOW + 1)
    expect(nextCount(link, NOW, NOW + 60)).toBe(NOW + 60)
    expect(nextCount(linkOf(serial(false)), NOW, NOW)).toBe(NOW)
  })

  it('works on the bench, pressed several times in a second; a copy does nothing', () => {
    const bench = new Bench(serial(), 1)
    bench.advance(1000)
    for (const want of ['on', 'off', 'on'])
      bench.act({ do: 'key', surfaceId: 'phone', loadId: 'fan', want })
    bench.advance(3000)
    expect(bench.value('fan')).toBe('on')
    bench.act({ do: 'replay', linkId: 'phone-link', back: 1 })
    bench.advance(5000)
    expect(bench.value('fan')).toBe('on')
    const again = new Bench(serial(false), 1)
    again.act({ do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'on' })
    again.advance(2000)
    again.act({ do: 'press', controlId: 'fan-button' })
    again.advance(3000)
    expect(again.value('fan')).toBe('off')
    again.act({ do: 'replay', linkId: 'phone-link' })
    again.advance(5000)
    expect(again.value('fan')).toBe('on')
    again.act({ do: 'press', controlId: 'fan-button' })
    again.advance(60_000)
    again.act({ do: 'replay', linkId: 'phone-link' })
    again.advance(62_000)
    expect(again.value('fan')).toBe('off')
  })

  it('needs a clock, which is told, and what else is not made for it', () => {
    const codes = (d: Design) =>
      check(d).findings.flatMap(f => (f.code === 'time-needs-clock' ? [f.severity] : []))
    expect(codes(serial())).toEqual(['stop'])
    expect(codes(timed(twoPanelDesign(), 'browser-link'))).toEqual(['warn'])
    const found = check(serial()).findings.find(f => f.code === 'time-needs-clock')
    expect(codes(edited(serial(), found!.fixes[0]!.edit))).toEqual([])
    expect(canProgram(serial())).toBe(false)
    expect(signatureVectors(serial(), linkOf(serial()))).toContain(String(NOW))
  })
})
