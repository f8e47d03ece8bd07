import { Validator } from '@seriousme/openapi-schema-validator'
import { describe, expect, it } from 'vitest'
import { openApi } from '../../../../core/sides/openapi'
import type { HttpLink, PanelSurface, SerialLink } from '../../../../core/design/schema'
import { check } from '../../../../core/checks/check'
import { budgetOf, compareDialects, pollingLoad, receiving } from '../../../../core/links/budget'
import { reach } from '../../../../core/links/reach'
import { dialectEdit } from '../../../../core/messages/assign'
import {
  DIALECTS,
  edited,
  fanDesign,
  glazeRoom,
  linkOn,
  speaking,
  twoPanelDesign,
} from '../../../fixtures/designs'

const panel = (d: ReturnType<typeof glazeRoom>, id: string) =>
  d.surfaces.find((s): s is PanelSurface => s.kind === 'panel' && s.id === id)!

describe('where the time of a command goes', () => {
  it('short codes at 9600 baud, by hand', () => {
    const budget = budgetOf(fanDesign(), panel(fanDesign(), 'phone'), 'fan')!
    // "F": 1 x 10 / 9600 = 1.0417 ms; "+F": 2.0833 ms; latency 25 ms typical, 90 ms in 99 of 100,
    // so 135 at most, both ways.
    expect(budget.parts.map(p => [p.typicalMs.toFixed(4), p.worstMs.toFixed(4)])).toEqual([
      ['1.0417', '1.0417'],
      ['25.0000', '135.0000'],
      ['2.0833', '2.0833'],
      ['25.0000', '135.0000'],
    ])
    expect(budget.typicalMs).toBeCloseTo(53.125, 3)
    expect(budget.worstMs).toBeCloseTo(273.125, 3)
    expect(budget.staleMs).toBeCloseTo(137.083, 3)
  })
  it('a change made elsewhere is learnt by asking, or never', () => {
    const design = glazeRoom()
    // Office browser asks every 2 s; its latency is at most 1.5 times the 99th percentile, there
    // and back.
    const { timing } = linkOn(design, 'http')
    expect(budgetOf(design, panel(design, 'office-browser'), 'wheel-lights')?.staleMs).toBe(
      2000 + 3 * timing.p99Ms,
    )
    expect(budgetOf(design, panel(design, 'apron-phone'), 'booth-extractor')?.staleMs).toBeNull()
    expect(budgetOf(design, panel(design, 'office-browser'), 'rinse-pump')).toBeNull()
  })
  it('what asking costs', () => {
    // "booth-extractor=0", "wheel-lights=0", "cupboard-fan=0" and their line ends: 17 + 14 + 14 + 3
    // = 48 bytes, twice in four seconds.
    expect(pollingLoad(glazeRoom())).toMatchObject({ requestsPerSecond: 0.5, bytesPerSecond: 24 })
    expect(pollingLoad(fanDesign())).toBeNull()
  })
  it('a receive buffer that runs over while the board saves, and the slower link that mends it', () => {
    let design = edited(
      fanDesign(),
      { type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last' } },
      { type: 'setLink', linkId: 'phone-link', patch: { baud: 115200 } },
    )
    for (let i = 0; i < 9; i++)
      design = edited(
        design,
        { type: 'addLoad', name: `Lamp ${i}` },
        {
          type: 'addMessage',
          linkId: 'phone-link',
          loadId: `lamp-${i}`,
          codes: { on: String.fromCharCode(65 + 7 + i), off: String.fromCharCode(97 + 7 + i) },
        },
      )
    // Ten short codes are ten bytes: nothing runs over.
    expect(receiving(design, linkOn(design, 'bluetooth-serial') as SerialLink)).toMatchObject({
      arriving: 10,
    })
    const json = edited(design, dialectEdit(design, 'phone-link', DIALECTS.json!))
    const link = linkOn(json, 'bluetooth-serial') as SerialLink
    // 12 bytes x 3.4 ms = 40.8 ms, 471 bytes at 115,200 baud; a press of every key is 14 + 9 x 17 =
    // 167 bytes, JSON with its line feed.
    expect(receiving(json, link)).toMatchObject({ arriving: 167, holds: 63 })
    const found = check(json).findings.find(f => f.code === 'buffer-overflow')
    // 40.8 ms at 9600 baud: 39.2, so 40 bytes; at 19,200 it were 79.
    expect(found?.fixes[0]?.words).toBe('Take 9600 baud')
    expect(check(edited(json, found!.fixes[0]!.edit)).findings.map(f => f.code)).not.toContain(
      'buffer-overflow',
    )
    expect(
      receiving(glazeRoom(), linkOn(glazeRoom(), 'bluetooth-serial') as SerialLink)?.arriving,
    ).toBeLessThan(63)
  })
  it('the same table in every dialect', () => {
    const compared = compareDialects(
      fanDesign(),
      linkOn(fanDesign(), 'bluetooth-serial') as SerialLink,
    )
    // "F"; "fan off" and a line feed; "fan=off" and one; {"fan":"off"} and one; kind, load, value
    // and CRC in a frame of two more.
    expect(compared.map(c => [c.kind, c.bytes])).toEqual([
      ['codes', 1],
      ['lines', 8],
      ['pairs', 8],
      ['json', 14],
      ['packed', 6],
    ])
    expect(compared[3]?.commandMs).toBeCloseTo(14.583, 3)
    const own = speaking(fanDesign(), DIALECTS.lines!)
    expect(
      compareDialects(own, linkOn(own, 'bluetooth-serial') as SerialLink).find(
        c => c.kind === 'lines',
      )?.bytes,
    ).toBe('fan -> toggle '.length + 3)
  })
})

describe('what works from where', () => {
  it('of a phone over serial Bluetooth and a browser', () => {
    const rows = reach(twoPanelDesign()).map(r => `${r.panel}: ${r.from} ${r.works}`)
    expect(rows).toEqual([
      'Phone: desktop browser, page as a file sometimes',
      'Phone: phone browser no',
      'Phone: a second phone meanwhile no',
      'Browser: page kept as a file yes',
      'Browser: page from the board or a stand-in yes',
      'Browser: page from a secure site no',
      'Browser: guest network of the house no',
    ])
    for (const r of reach(twoPanelDesign()))
      if (r.works !== 'yes') expect(r.instead.length).toBeGreaterThan(10)
  })
  it('of boxes and computers over every medium, each with a way out where it does not work', () => {
    for (const kind of ['bluetooth-serial', 'wire', 'udp', 'peer', 'http'] as const) {
      const both = edited(
        fanDesign(),
        { type: 'addPanel', name: 'Panel', over: kind },
        { type: 'addPeer', name: 'Box', over: kind },
      )
      const rows = reach(both).filter(r => r.panel !== 'Phone')
      expect(new Set(rows.map(r => r.panel)), kind).toEqual(new Set(['Panel', 'Box']))
      for (const r of rows)
        if (r.works !== 'yes') expect(r.instead.length, `${kind} ${r.from}`).toBeGreaterThan(10)
    }
  })
  it('two radios on one chip are told only where both are used', () => {
    const dual = edited(
      twoPanelDesign(),
      { type: 'setFront', front: null },
      { type: 'setBoard', board: 'board-dual-radio' },
      { type: 'setLink', linkId: 'phone-link', patch: { radio: 'chip', statusPin: null } },
    )
    expect(reach(dual).some(r => r.why.includes('one antenna'))).toBe(true)
    expect(reach(twoPanelDesign()).some(r => r.why.includes('one antenna'))).toBe(false)
  })
})

describe('OpenAPI', () => {
  it.each([
    ['glaze room', glazeRoom],
    ['two panels', twoPanelDesign],
    [
      'by POST, with JSON, scenes and who is there',
      () =>
        edited(
          twoPanelDesign(),
          { type: 'addScene', name: 'All off', sets: [{ loadId: 'fan', value: 'off' }] },
          {
            type: 'setSceneCode',
            linkId: 'browser-link',
            sceneId: 'all-off',
            code: '/scene/all-off',
          },
          { type: 'setLink', linkId: 'browser-link', patch: { method: 'post', answers: 'json' } },
        ),
    ],
    [
      'with toggles',
      () =>
        edited(twoPanelDesign(), {
          type: 'renameCode',
          linkId: 'browser-link',
          loadId: 'fan',
          which: 'toggle',
          code: '/fan/toggle',
        }),
    ],
  ] as const)('%s: a third-party validator takes it', async (_, make) => {
    const design = make()
    const text = openApi(design, linkOn(design, 'http') as HttpLink)
    const { valid, errors } = await new Validator().validate(JSON.parse(text))
    expect(errors).toBeUndefined()
    expect(valid).toBe(true)
    const { paths } = JSON.parse(text) as {
      paths: Record<string, Record<string, { operationId: string }>>
    }
    expect(Object.keys(paths)).toEqual(expect.arrayContaining(['/fan/on', '/state']))
    const ids = Object.values(paths).flatMap(p => Object.values(p).map(x => x.operationId))
    expect(new Set(ids).size).toBe(ids.length)
  })
})
