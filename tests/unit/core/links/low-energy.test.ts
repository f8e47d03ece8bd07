import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { applyEdit } from '../../../../core/design/edits/edits'
import { fingerprint } from '../../../../core/design/fingerprint'
import { servesOne } from '../../../../core/design/links/traits'
import type { Design, LinkOf } from '../../../../core/design/schema'
import { packetsOf } from '../../../../core/links/kinds/low-energy'
import { reach } from '../../../../core/links/reach'
import { exactWireMs, wireReason } from '../../../../core/links/timing'
import { edited, fanDesign, over } from '../../../fixtures/designs'

const low = (design: Design = fanDesign()): Design => over(design, 'low-energy')
const linkOf = (design: Design) => design.links[0] as LinkOf<'low-energy'>
const set = (design: Design, patch: Partial<LinkOf<'low-energy'>>): Design =>
  edited(design, { type: 'setLink', linkId: linkOf(design).id, patch })

describe('low-energy Bluetooth', () => {
  it('cuts a text into packets, one a connection event; worked by hand', () => {
    const design = low()
    const link = linkOf(design)
    expect(link.packetBytes).toBe(20)
    expect(
      ['x', 'x'.repeat(20), 'x'.repeat(21), 'x'.repeat(61)].map(t => packetsOf(link, t)),
    ).toEqual([1, 1, 2, 4])
    // 61 bytes are 20 + 20 + 20 + 1: three more events of 30 ms.
    expect(exactWireMs(design, link, 'x'.repeat(61))).toBe(90)
    expect(wireReason(design, link, 'x'.repeat(61))).toBe(
      '61 bytes in 4 packets of 20: 3 more connection events of 30 ms',
    )
    const wide = set(design, { packetBytes: 244, intervalMs: 15 })
    expect(exactWireMs(wide, linkOf(wide), 'x'.repeat(61))).toBe(0)
    expect(exactWireMs(wide, linkOf(wide), 'x'.repeat(245))).toBe(15)
  })
  it('says for each browser whether its page works there, and serves one unless it serves more', () => {
    const design = low()
    expect(servesOne(linkOf(design))).toBe(true)
    const places = (d: Design) => reach(d).map(r => `${r.from}: ${r.works}`)
    expect(places(design)).toEqual([
      'phone browser, page over https or installed: sometimes',
      'desktop browser, page as a file or over https: sometimes',
      'page from a plain http address: no',
      'a second phone meanwhile: no',
    ])
    const more = set(design, { clients: 3 })
    expect(servesOne(linkOf(more))).toBe(false)
    expect(places(more).at(-1)).toBe('a second phone meanwhile: yes')
    for (const r of reach(design)) if (r.works !== 'yes') expect(r.instead, r.from).not.toBe('')
  })
  it('needs a board with that radio, which Wi-Fi shares', () => {
    const codes = (d: Design) => check(d).findings.map(f => f.code)
    expect(codes(low())).toContain('no-low-energy')
    const dual = edited(low(), { type: 'setBoard', board: 'board-dual-radio' })
    expect(codes(dual)).not.toContain('no-low-energy')
    expect(codes(dual)).not.toContain('page-unopenable')
    expect(codes(dual)).not.toContain('two-radios')
    const both = edited(dual, { type: 'addPanel', name: 'Browser', over: 'http' })
    expect(codes(both)).toContain('two-radios')
  })
  it('both sides agree on service, characteristics and packets', () => {
    const design = low()
    const others = [
      set(design, { service: '00000000-0000-4000-8000-000000000000' }),
      set(design, { packetBytes: 180 }),
      design,
      set(design, { intervalMs: 50, clients: 2 }),
    ].map(fingerprint)
    expect(new Set(others).size).toBe(3)
    expect(others[3]).toBe(others[2])
  })
  it('two links have services of their own; a UUID that is none is refused with its place', () => {
    const design = edited(low(), { type: 'addPanel', name: 'Other', over: 'low-energy' })
    const names = design.links.flatMap(l =>
      l.kind === 'low-energy' ? [l.service, l.writeTo, l.notifyFrom] : [],
    )
    expect(new Set(names).size).toBe(6)
    expect(
      applyEdit(design, {
        type: 'setLink',
        linkId: linkOf(design).id,
        patch: { writeTo: 'FFE1' },
      }),
    ).toMatchObject({ ok: false, problems: [{ path: '/links/0/writeTo' }] })
  })
})
