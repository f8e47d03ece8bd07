import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import { check } from '../../../../core/checks/check'
import { applyEdit, type Edit } from '../../../../core/design/edits/edits'
import type { Design } from '../../../../core/design/schema'
import { carriageOf } from '../../../../core/links/kinds/rows'
import { reach } from '../../../../core/links/reach'
import { chainOf } from '../../../../core/links/chain'
import { infraredFrame } from '../../../../core/links/infrared'
import { exactWireMs, wireReason } from '../../../../core/links/timing'
import { datagramAirtimeMs } from '../../../../core/links/kinds/udp'
import { peerAirtimeMs } from '../../../../core/links/kinds/peer'
import {
  DIALECTS,
  edited,
  fanDesign,
  glazeRoom,
  linkOn,
  over,
  speaking,
} from '../../../fixtures/designs'

describe('time in the air, worked by hand', () => {
  it('a message of 10 bytes from board to board', () => {
    // 192 µs preamble, 53 bytes of 8 µs = 424 µs, then 10 + 192 + 112 µs for its acknowledgement.
    expect(peerAirtimeMs(10)).toBeCloseTo(0.93, 9)
    // To everybody there is none.
    expect(peerAirtimeMs(10, true)).toBeCloseTo(0.616, 9)
  })
  it('a datagram of 10 bytes at 6 Mbit/s', () => {
    // 16 + 74 x 8 + 6 = 614 bits in 26 symbols: 124 µs; 16 µs; 14 bytes: 134 bits in 6 symbols: 44
    // µs.
    expect(datagramAirtimeMs(10)).toBeCloseTo(0.184, 9)
  })
  it('the longest peer message takes less than three milliseconds', () =>
    expect(peerAirtimeMs(250)).toBeCloseTo(2.85, 9))
  it('each medium has its own sum, and says which', () => {
    const design = speaking(fanDesign(), DIALECTS.lines!)
    const told = (['udp', 'peer', 'wire'] as const).map(kind => {
      const moved = over(design, kind)
      return [
        exactWireMs(moved, moved.links[0]!, 'fan on\n').toFixed(3),
        wireReason(moved, moved.links[0]!, 'fan on\n'),
      ]
    })
    expect(told).toEqual([
      ['0.180', 'frame of 7 + 64 bytes at 6 Mbit/s and its acknowledgement'],
      ['0.906', 'preamble 0.192 ms + (43 + 7) bytes at 1 Mbit/s + its acknowledgement, 0.314 ms'],
      ['7.292', '7 characters x 10 bits / 9600 baud'],
    ])
    const chip = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { radio: 'chip', statusPin: null },
    })
    expect([exactWireMs(chip, chip.links[0]!, 'F'), wireReason(chip, chip.links[0]!, 'F')]).toEqual(
      [0, 'within the latency'],
    )
  })
})

describe('a console over a shell', () => {
  const design = over(speaking(fanDesign(), DIALECTS.lines!), 'shell')
  const codes = (d: Design) =>
    check(d).findings.flatMap(f => (f.code === 'no-shell' ? [f.severity] : []))
  const on = (board: string) => edited(design, { type: 'setBoard', board })

  it('needs a board that somebody can log in to', () => {
    expect(codes(design)).toEqual(['stop'])
    expect(codes(on('board-linux-header'))).toEqual([])
    expect(codes(on('board-wifi-full'))).toEqual(['stop'])
  })
  it('is told: no page opens it, who logs in where, how many at once', () => {
    const found = check(design).findings.find(f => f.code === 'page-unopenable')
    expect(found?.title).toContain('console')
    expect(reach(design).map(r => r.works)).toEqual(['no', 'yes', 'yes'])
    expect(carriageOf(design.links[0]!).setUp(design.links[0]!, design)).toBe(
      'Console over a shell, through the house router: ssh console@192.168.4.1 starts "nolvi-console", up to 4 sessions at once',
    )
  })
  it('takes an account and a command of plain words only', () => {
    const set = (patch: object) =>
      applyEdit(design, { type: 'setLink', linkId: 'phone-link', patch } as Edit).ok
    expect(set({ account: 'kiln', command: 'kiln-console --quiet' })).toBe(true)
    for (const patch of [
      { account: 'Root' },
      { account: '' },
      { command: 'a; b' },
      { command: '' },
    ])
      expect(set(patch)).toBe(false)
  })
  it('works on the bench over the router, for several at once, and falls with it', () => {
    const bench = new Bench(design, 1)
    bench.advance(3000)
    bench.act({ do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'on' })
    bench.advance(4000)
    expect([bench.value('fan'), bench.shown('phone', 'fan')]).toEqual(['on', 'on'])
    bench.act({ do: 'routerDown' })
    bench.advance(30_000)
    bench.act({ do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'off' })
    bench.advance(31_000)
    expect(bench.value('fan')).toBe('on')
  })
})

describe('an infrared key in the air', () => {
  it('one byte and its complement: sixteen ones and sixteen zeros, whatever the key', () => {
    // 13.5 + 16 x 2.25 + 16 x 1.125 + 0.5625 ms
    for (const [address, command] of [
      [0, 0],
      [0x04, 0x45],
      [0xff, 0xff],
    ] as const)
      expect(infraredFrame(address, command).ms).toBeCloseTo(68.0625, 9)
    expect(infraredFrame(0x04, 0x45).bytes).toEqual([0x04, 0xfb, 0x45, 0xba])
  })
  it('a longer address takes both bytes', () => {
    expect(infraredFrame(0x1234, 1).bytes).toEqual([0x34, 0x12, 0x01, 0xfe])
    // 5 + 8 ones: 13.5 + 13 x 2.25 + 19 x 1.125 + 0.5625
    expect(infraredFrame(0x1234, 1).ms).toBeCloseTo(64.6875, 9)
  })
  it('refuses what is no number of a key', () =>
    expect(() => infraredFrame(65_536, 0)).toThrow('address 65536'))
})

describe('a command followed hop by hop', () => {
  it('over the network board and the wire to the relay board, and back', () => {
    const design = glazeRoom()
    const chain = chainOf(design, linkOn(design, 'http'), 'booth-extractor', 'on')!
    expect(chain.command.map(h => `${h.from} > ${h.to}: ${h.carries}`)).toEqual([
      'Office browser > Network board: GET /extractor/on',
      'Network board > Glaze room board: /extractor/on\\n',
    ])
    expect(chain.report.map(h => `${h.from} > ${h.to}: ${h.carries}`)).toEqual([
      'Glaze room board > Network board: booth-extractor=1\\n',
      'Network board > Office browser: booth-extractor=1',
    ])
    // "/extractor/on" and a line feed, ten bits each at 9600 baud.
    expect(chain.command[1]?.wireMs).toBeCloseTo(140_000 / 9600, 6)
  })
  it('one hop where nothing stands between; none back where nothing is answered', () => {
    const mute = edited(fanDesign(), {
      type: 'setReport',
      linkId: 'phone-link',
      loadId: 'fan',
      ack: false,
      change: false,
    })
    const chain = chainOf(mute, mute.links[0]!, 'fan', 'on')!
    expect([chain.command.length, chain.report.length]).toEqual([1, 0])
    expect(chainOf(mute, mute.links[0]!, 'fan', 'toggle')).toBeNull()
  })
})
