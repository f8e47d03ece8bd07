import { describe, expect, it } from 'vitest'
import type { Design, Link } from '../../../../core/design/schema'
import { assign, nextCodes, schoolsOf } from '../../../../core/messages/assign'
import { clashes } from '../../../../core/messages/clashes'
import { explain, typed } from '../../../../core/messages/explain'
import { routeOf } from '../../../../core/messages/routes'
import { commands, reportText, rows, streams } from '../../../../core/messages/table'
import { edited, glazeRoom, linkOn, twoPanelDesign } from '../../../fixtures/designs'

/** A link with messages for `n` loads of awkward names. */
function manyLoads(kind: Link['kind'], n: number): { design: Design; link: Link } {
  const design = glazeRoom()
  const first = design.loads[0]!
  const names = ['Fan', 'fan', 'Fan 2', '照明', '24 V', 'Äpfel']
  design.loads = Array.from({ length: n }, (_, i) => ({
    ...first,
    id: `fan-${i}`,
    name: names[i % names.length]!,
  }))
  const link = linkOn(design, kind)
  link.messages = design.loads.map(l => ({
    loadId: l.id,
    ack: true,
    change: true,
    codes: { on: '', off: '' },
  }))
  return { design, link }
}

describe('automatic codes', () => {
  for (const kind of ['bluetooth-serial', 'http'] as const) {
    it.each(schoolsOf(linkOn(twoPanelDesign(), kind)).map(s => [s]))(
      `${kind}, %s: 1 to 40 loads, all distinct and clear of each other`,
      school => {
        for (let n = 1; n <= 40; n++) {
          const { design, link } = manyLoads(kind, n)
          const codes = assign(design, link, school)
          for (const m of link.messages) m.codes = codes[m.loadId]!
          expect(clashes(design, link)).toEqual([])
        }
      },
    )
    it(`${kind}: one load after another gets codes clear of those before`, () => {
      const { design, link } = manyLoads(kind, 40)
      const messages = link.messages.splice(0)
      for (const m of messages) {
        m.codes = nextCodes(
          design,
          link,
          design.loads.find(l => l.id === m.loadId)!,
        )
        ;(link.messages as typeof messages).push(m)
      }
      expect(clashes(design, link)).toEqual([])
    })
  }
  it('take the first letter of the name where it is free', () => {
    const design = glazeRoom()
    expect(assign(design, linkOn(design, 'bluetooth-serial'), 'letters')).toEqual({
      'booth-extractor': { on: 'B', off: 'b' },
      'wheel-lights': { on: 'W', off: 'w' },
      'cupboard-fan': { on: 'D', off: 'd' },
      'rinse-pump': { on: 'R', off: 'r' },
    })
  })
  it('count in digits of equal length, so that "1" never starts "10"', () => {
    const design = glazeRoom()
    expect(
      Object.values(assign(design, linkOn(design, 'bluetooth-serial'), 'digits')).map(
        c => c.on! + c.off!,
      ),
    ).toEqual(['12', '34', '56', '78'])
    expect(
      Object.values(
        assign(...(Object.values(manyLoads('bluetooth-serial', 5)) as [Design, Link]), 'digits'),
      ).map(c => c.on),
    ).toEqual(['01', '03', '05', '07', '09'])
  })
  it('the fix offered for the rinse pump leaves the rest alone', () => {
    const design = glazeRoom()
    const repaired = edited(design, {
      type: 'assignCodes',
      linkId: 'apron-link',
      codes: {
        'rinse-pump': nextCodes(design, linkOn(design, 'bluetooth-serial'), design.loads[3]!),
      },
    })
    expect(clashes(repaired, linkOn(repaired, 'bluetooth-serial'))).toEqual([])
  })
})

describe('message table', () => {
  it('lists commands in the order of the sheet and leaves out empty codes', () => {
    const design = glazeRoom()
    const link = linkOn(design, 'bluetooth-serial')
    expect(commands(design, link).map(c => c.code)).toEqual([
      'E',
      'e',
      'L',
      'l',
      'F',
      'f',
      '1',
      '10',
    ])
    link.messages[0]!.codes.on = ''
    expect(commands(design, link).map(c => c.code)).toEqual(['e', 'L', 'l', 'F', 'f', '1', '10'])
  })
  it('words reports: the mark before the code, or one line a load', () => {
    const design = twoPanelDesign()
    const all = (kind: Link['kind']) =>
      rows(design, linkOn(design, kind)).flatMap(r =>
        ['on', 'off'].map(v => reportText(linkOn(design, kind), r.load, r.message, v)),
      )
    expect(all('bluetooth-serial')).toEqual(['+F', '+f'])
    expect(all('http')).toEqual(['fan=1', 'fan=0'])
  })
  it('keeps an event stream open only where something is told unasked', () => {
    expect(streams(linkOn(twoPanelDesign(), 'http'))).toBe(true)
    expect(streams(linkOn(glazeRoom(), 'http'))).toBe(false)
    expect(streams(linkOn(twoPanelDesign(), 'bluetooth-serial'))).toBe(false)
  })
})

describe('explained input', () => {
  const design = glazeRoom()
  it('says of every byte what it does', () => {
    const { bytes, codes, leftover } = explain(design, linkOn(design, 'bluetooth-serial'), 'e10 ?')
    expect(bytes.map(b => [b.char, b.hex, b.says])).toEqual([
      ['e', '65', '"e" = Booth extractor off'],
      ['1', '31', '"1" = Rinse pump on'],
      ['0', '30', '"0" is no code, nothing happens'],
      [' ', '20', '" " is no code, nothing happens'],
      ['?', '3F', '"?" = ask for the state'],
    ])
    expect(codes).toEqual(['e', '1', '?'])
    expect(leftover).toBe('')
  })
  it('tells a half code that waits, and bytes beyond ASCII', () => {
    const other = edited(design, {
      type: 'assignCodes',
      linkId: 'apron-link',
      codes: { 'rinse-pump': { on: '12', off: '10' } },
    })
    expect(explain(other, linkOn(other, 'bluetooth-serial'), '1')).toMatchObject({
      leftover: '1',
      bytes: [{ says: 'start of "12", "10", waits for more' }],
    })
    const bytes = typed(linkOn(other, 'bluetooth-serial'), 'ä')
    expect(
      bytes.ok
        && explain(other, linkOn(other, 'bluetooth-serial'), bytes.text).bytes.map(b => b.hex),
    ).toEqual(['C3', 'A4'])
  })
  it('knows a route, its near misses, and what is none', () => {
    const http = linkOn(design, 'http')
    expect(explain(design, http, 'GET /fan/on HTTP/1.1')).toMatchObject({
      codes: ['/fan/on'],
      bytes: [{ says: 'Drying cupboard fan on' }],
    })
    expect(explain(design, http, '/Fan/On').bytes[0]?.says).toContain('differs in letter case')
    expect(explain(design, http, '/oven').bytes[0]?.says).toContain('404')
  })
  it.each([
    ['/a', '/a'],
    ['http://h:80/a/b?x=1#y', '/a/b'],
    ['POST /a HTTP/1.1', '/a'],
    ['http://h', '/'],
    ['  /a  ', '/a'],
    ['http://h:80/set?pin=5&value=1#y', '/set?pin=5&value=1'],
    ['GET /set?value=1&pin=5&n=3&tag=AA HTTP/1.1', '/set?value=1&pin=5'],
    ['/set?pin=6', '/set'],
  ])('route of %s', (input, route) => {
    const known = new Set(['/set?pin=5&value=1', '/set?value=1&pin=5'])
    expect(routeOf(input, r => known.has(r))).toBe(route)
  })
})
