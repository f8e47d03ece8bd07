/** Where boards are in their networks: found, alone at their address, and what puts it right. */
import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import type { Finding } from '../../../../core/checks/finding'
import type { Edit } from '../../../../core/design/edits/edits'
import { freeAddress } from '../../../../core/design/links/host'
import { onNetwork } from '../../../../core/design/links/traits'
import type { Design } from '../../../../core/design/schema'
import { demoDesigns } from '../../../../demo/demo'
import { edited, fanDesign } from '../../../fixtures/designs'

const found = (design: Design): Finding[] =>
  check(design).findings.filter(f => f.code.startsWith('address-'))
const codes = (design: Design) => found(design).map(f => f.code)
const repaired = (design: Design) => edited(design, ...found(design).map(f => f.fixes[0]!.edit))
const placed = (linkId: string, address: string, network = 'router'): Edit =>
  ({ type: 'setLink', linkId, patch: { address, network } }) as Edit
const addresses = (design: Design) => design.links.filter(onNetwork).map(l => [l.id, l.address])

/** Two boards in the house, each with a page; the first has datagrams too. */
const TWO = edited(
  fanDesign(),
  { type: 'setBoard', board: 'board-dual-radio' },
  { type: 'addPanel', name: 'Browser', over: 'http' },
  { type: 'addPeer', name: 'Box', over: 'udp' },
  { type: 'addController', name: 'Porch' },
  { type: 'setBoard', board: 'board-dual-radio', controllerId: 'porch' },
  { type: 'addLoad', name: 'Bell', controllerId: 'porch' },
  { type: 'addPanel', name: 'Tablet', over: 'http', controllerId: 'porch' },
)

describe('an address', () => {
  it('is of one board, from the start', () => {
    expect(addresses(TWO)).toEqual([
      ['browser-link', 'http://192.168.4.1'],
      ['box-link', '192.168.4.1'],
      ['tablet-link', 'http://192.168.4.2'],
    ])
    expect(codes(TWO)).toEqual([])
    expect(freeAddress(TWO.links)).toBe('192.168.4.3')
    for (const design of demoDesigns()) expect(codes(design), design.name).toEqual([])
  })

  it('that two boards have is told once, and put right on all links of one', () => {
    const both = edited(
      TWO,
      placed('tablet-link', 'http://kiln.local:8080'),
      placed('browser-link', 'http://Kiln.local'),
      placed('box-link', 'kiln.local'),
    )
    expect(found(both).map(f => [f.code, f.severity, f.path, f.surfaceId])).toEqual([
      ['address-shared', 'warn', '/links/3/address', 'tablet'],
    ])
    expect(found(both)[0]?.title).toBe('Board and Porch are both at kiln.local')
    expect(codes(repaired(both))).toEqual([])
    expect(addresses(repaired(both))).toEqual([
      ['browser-link', 'http://Kiln.local'],
      ['box-link', 'kiln.local'],
      ['tablet-link', 'http://192.168.4.1:8080'],
    ])
    // Of links of the second all move.
    const turned = edited(
      TWO,
      { type: 'addPeer', name: 'Post', over: 'udp', controllerId: 'porch' },
      placed('tablet-link', 'http://192.168.4.1'),
      placed('post-link', '192.168.4.1'),
    )
    expect(addresses(repaired(turned)).slice(2)).toEqual([
      ['tablet-link', 'http://192.168.4.2'],
      ['post-link', '192.168.4.2'],
    ])
  })

  it('is of nobody else in a network of its own, and the one that such a board has', () => {
    const own = edited(TWO, placed('tablet-link', 'http://192.168.4.1', 'own'))
    expect(codes(own)).toEqual([])
    const elsewhere = edited(TWO, placed('tablet-link', 'http://10.0.0.7:8080', 'own'))
    expect(codes(elsewhere)).toEqual(['address-own'])
    expect(addresses(repaired(elsewhere)).at(-1)).toEqual([
      'tablet-link',
      'http://192.168.4.1:8080',
    ])
    // A computer has what its system gives it.
    const computer = edited(elsewhere, {
      type: 'setBoard',
      board: 'board-linux-header',
      controllerId: 'porch',
    })
    expect(codes(computer)).toEqual([])
  })

  it('that no page finds is told', () => {
    const nobody = edited(TWO, placed('tablet-link', 'http://192.168.4.256'))
    expect(found(nobody).map(f => [f.code, f.surfaceId])).toEqual([['address-nowhere', 'tablet']])
    expect(found(nobody)[0]?.reason).toContain('"192.168.4.256" of Tablet link is neither')
    const unknown = edited(TWO, placed('tablet-link', 'http://porch', 'own'))
    expect(codes(unknown)).toEqual(['address-nowhere'])
    expect(codes(edited(TWO, placed('tablet-link', 'http://porch.local', 'own')))).toEqual([])
    expect(codes(edited(TWO, placed('tablet-link', 'http://porch')))).toEqual([])
  })
})
