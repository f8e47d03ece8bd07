import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Design, Link } from '../../../../core/design/schema'
import { feedAll, readerOf } from '../../../../core/messages/stream'
import {
  readingBody,
  readingClashes,
  readingIn,
  readingWire,
} from '../../../../core/messages/readings'
import { reportBody, rows } from '../../../../core/messages/table'
import { endOf } from '../../../../core/design/wire'
import { spokenValues } from '../../../../core/design/values'
import { compileSurface, surfaceStep, startSurface } from '../../../../core/surfaces/surface'
import { validateDesign } from '../../../../core/design/validate'
import {
  DIALECTS,
  edited,
  fanDesign,
  linkOn,
  speaking,
  twoPanelDesign,
} from '../../../fixtures/designs'

const texts = ['21.5', '-3', '0', 'broken', 'open', '40,-30']
function withReadings(design: Design, kind: Link['kind']): Design {
  const link = linkOn(design, kind)
  const more = [
    ['Room', 'thermometer'],
    ['Stick', 'two-axis'],
  ] as const
  return more.reduce(
    (d, [name, sensor]) =>
      edited(
        d,
        { type: 'addSensor', kind: sensor, name },
        { type: 'setReading', linkId: link.id, sensorId: name.toLowerCase(), patch: {} },
      ),
    design,
  )
}
const spoken = ['codes', 'lines', 'crlf', 'pairs', 'json'].map(
  name =>
    [
      name,
      withReadings(speaking(fanDesign(), DIALECTS[name]!), 'bluetooth-serial'),
      'bluetooth-serial' as const,
    ] as const,
)
const all: readonly (readonly [string, Design, Link['kind']])[] = [
  ...spoken,
  ['http', withReadings(twoPanelDesign(), 'http'), 'http'],
]

describe.each(all)('readings as %s', (_, design, kind) => {
  const link = linkOn(design, kind)
  it('come back as they went', () => {
    for (const reading of link.readings)
      for (const text of texts)
        expect(readingIn(link, readingBody(link, reading, text))).toEqual({
          sensorId: reading.sensorId,
          text,
        })
  })
  it('are none of the reports, and no report is one of them', () => {
    const reports = rows(design, link).flatMap(({ load, message }) =>
      spokenValues(load.output).map(v => reportBody(link, load, message, v)),
    )
    for (const report of reports) expect(readingIn(link, report)).toBeNull()
    for (const reading of link.readings)
      expect(reports).not.toContain(readingBody(link, reading, '21.5'))
  })
  it('a panel hears them between reports, in any order, whatever rubbish came before', () => {
    const surfaceId = design.surfaces.find(s => s.kind === 'panel' && s.linkId === link.id)!.id
    const program = compileSurface(design, surfaceId)
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat({ max: 1 }), fc.constantFrom(...texts)), {
          minLength: 1,
          maxLength: 8,
        }),
        fc.constantFrom('', 'x', '#', 'q9'),
        (list, rubbish) => {
          let state = surfaceStep(program, startSurface(program), { kind: 'linkUp', now: 0 }).state
          if (kind !== 'http')
            state = surfaceStep(program, state, {
              kind: 'received',
              now: 1,
              via: 'stream',
              text: rubbish + endOf(link),
            }).state
          for (const [n, text] of list)
            state = surfaceStep(program, state, {
              kind: 'received',
              now: 2,
              via: 'stream',
              text: readingWire(link, link.readings[n]!, text),
            }).state
          link.readings.forEach((reading, n) => {
            const last = list.findLast(([m]) => m === n)?.[1] ?? ''
            expect(
              state.readings[design.sensors.findIndex(s => s.id === reading.sensorId)],
            ).toEqual({ text: last, stale: false })
          })
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('readings among codes without ends', () => {
  const design = withReadings(fanDesign(), 'bluetooth-serial')
  const link = linkOn(design, 'bluetooth-serial')
  it('a value is heard whole at its semicolon, a code at its last character', () => {
    const reader = readerOf(link, ['+F', '+f'])
    expect(feedAll(reader, '', '+F+T21.5;+f').heard).toEqual([
      { kind: 'code', code: '+F' },
      { kind: 'unknown', bytes: '+T21.5;' },
      { kind: 'code', code: '+f' },
    ])
  })
  it('a value that never ends is given up, and the next code is heard again', () => {
    const reader = readerOf(link, ['+F', '+f'])
    const { heard } = feedAll(reader, '', `+T${'1'.repeat(60)}+F`)
    expect(heard.at(-1)).toEqual({ kind: 'code', code: '+F' })
  })
  it('codes that start alike are named; the first free letters do not', () => {
    expect(readingClashes(link, ['+F', '+f'])).toEqual([])
    const clash = { ...link, readings: [{ ...link.readings[0]!, code: 'F' }] } as Link
    expect(readingClashes(clash, ['+F', '+f'])).toEqual([{ sensorId: 'room', with: '+F' }])
  })
})

/* eslint-disable @typescript-eslint/no-explicit-any -- documents that do not belong */
describe('what does not belong', () => {
  const base = withReadings(fanDesign(), 'bluetooth-serial')
  const spoiled = (change: (d: Record<string, any>) => void) => {
    const document = structuredClone(base) as unknown as Record<string, unknown>
    change(document)
    const checked = validateDesign(document)
    return checked.ok ? [] : checked.problems.map(p => `${p.path} ${p.message}`)
  }
  it.each([
    [
      'a sensor that is not there',
      (d: any) => {
        d.links[0].readings[0].sensorId = 'none'
      },
      /readings\/0\/sensorId there is no sensor "none"/,
    ],
    [
      'the same sensor twice',
      (d: any) => {
        d.links[0].readings[1].sensorId = 'room'
      },
      /is there already/,
    ],
    [
      'a code that ends with a digit',
      (d: any) => {
        d.links[0].readings[0].code = 'T1'
      },
      /ends with a letter or mark/,
    ],
    [
      'a part of a reading that is not told',
      (d: any) => {
        d.links[0].readings = []
        d.surfaces[1].parts = [
          {
            form: 'readout',
            id: 'r',
            page: 0,
            xMm: 3,
            yMm: 20,
            widthMm: 28,
            heightMm: 16,
            sensorId: 'room',
          },
        ]
      },
      /is not told on this link/,
    ],
    [
      'a form that does not fit',
      (d: any) => {
        d.surfaces[1].parts = [
          {
            form: 'tilt',
            id: 'r',
            page: 0,
            xMm: 3,
            yMm: 20,
            widthMm: 28,
            heightMm: 16,
            sensorId: 'room',
          },
        ]
      },
      /does not fit this sensor/,
    ],
    [
      'a page that is not there',
      (d: any) => {
        d.surfaces[1].keys[0].page = 2
      },
      /there is no page 3/,
    ],
    [
      'a scale upside down',
      (d: any) => {
        d.surfaces[1].parts = [
          {
            form: 'column',
            id: 'r',
            page: 0,
            xMm: 3,
            yMm: 20,
            widthMm: 28,
            heightMm: 36,
            sensorId: 'room',
            low: 10,
            high: 0,
          },
        ]
      },
      /upper end of the scale/,
    ],
    [
      'a picture from elsewhere',
      (d: any) => {
        d.surfaces[1].pages[0].picture = 'https://example.org/a.png'
      },
      /pages\/0\/picture/,
    ],
    [
      'two parts of one id',
      (d: any) => {
        d.surfaces[1].parts = [
          { form: 'connection', id: 'fan', page: 0, xMm: 3, yMm: 20, widthMm: 28, heightMm: 9 },
        ]
      },
      /key or part "fan" is there already/,
    ],
  ])('%s', (_, change, says) => expect(spoiled(change).join('\n')).toMatch(says))
  it('structures have no room: the link keeps its dialect', () => {
    expect(() => speaking(base, DIALECTS.slip!)).toThrow(/structures have no field for a reading/)
  })
})
