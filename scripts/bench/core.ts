/** Measurements of the core, each beside something it is compared with in the same run. */
import { gzipSync } from 'fflate'
import { assignPins, type PinNeed } from '../../core/boards/assign'
import { SHIPPED } from '../../core/boards/boards'
import { Bench } from '../../core/bench/bench'
import { busySteps } from '../../core/bench/busy'
import { newProfile, ProfileRun } from '../../core/bench/profile'
import { EventQueue } from '../../core/bench/queue'
import { buildFiles, buildZip } from '../../core/sides/files'
import { check } from '../../core/checks/check'
import { VerdictCache } from '../../core/checks/verdicts'
import { blankDesign } from '../../core/design/blank'
import { applyEdit, type Edit } from '../../core/design/edits/edits'
import { compileController } from '../../core/controller/program'
import type { Design, ByteLink, Dialect } from '../../core/design/schema'
import { wireOf } from '../../core/design/wire'
import { assign, dialectEdit } from '../../core/messages/assign'
import { feedAll } from '../../core/messages/stream'
import { commands } from '../../core/messages/table'
import { tenLoads } from './designs'
import { proofMeasures } from './proof'
import { timed, type Measure } from './table'

/**
 * `n` loads with wall buttons where there are pins, a phone and a browser that know of all of them.
 */
function large(n: number): Design {
  let design = blankDesign('large', 'Large')
  const edits: Edit[] = [
    { type: 'addHandSurface', name: 'Wall' },
    { type: 'addPanel', name: 'Phone', over: 'bluetooth-serial' },
    { type: 'addPanel', name: 'Browser', over: 'http' },
  ]
  for (let i = 0; i < n; i++)
    edits.push({ type: 'addLoad', name: `Lamp ${String(i).padStart(3, '0')}` })
  for (const edit of edits) {
    const applied = applyEdit(design, edit)
    if (applied.ok) design = applied.design
  }
  design = structuredClone(design)
  while (design.loads.length < n)
    design.loads.push({
      ...structuredClone(design.loads[0]!),
      id: `more-${design.loads.length}`,
      name: `More ${design.loads.length}`,
    })
  for (const link of design.links) {
    link.messages = design.loads.map(l => ({
      loadId: l.id,
      ack: true,
      change: true,
      codes: { on: '', off: '' },
    }))
    const codes = assign(design, link, link.kind === 'http' ? 'routes' : 'letters')
    for (const m of link.messages) m.codes = codes[m.loadId]!
  }
  return design
}

export { tenLoads } from './designs'
export { tenProved } from './proof'

export function measures(measure: Measure): void {
  proofMeasures(measure)

  const ten = large(10)
  const four = tenLoads()
  const HOUR = 3_600_000
  const steps = busySteps(four, 1, HOUR)
  const busy = (tracing: boolean) => {
    const bench = new Bench(four, 1, undefined, tracing)
    bench.plan(steps)
    while (!bench.advance(HOUR)) {
      /* on */
    }
    return bench.figures.events
  }
  const days = (n: number) => {
    const run = new ProfileRun(four, { ...newProfile(four), days: n })
    while (!run.run(100_000)) {
      /* on */
    }
    return run.bench.figures.events
  }
  /** The same queue with as many entries as the bench keeps in it, and nothing to do for each. */
  const bare = (events: number, waiting: number) => {
    const queue = new EventQueue<{ t: number; rank: number; seq: number; run: () => void }>()
    let handled = 0
    const run = () => {
      handled++
    }
    for (let seq = 0; seq < waiting; seq++)
      queue.push({ t: (seq * 7) % 500, rank: seq % 8, seq, run })
    for (let seq = waiting; seq < events; seq++) {
      const next = queue.pop()
      next?.run()
      queue.push({ t: (next?.t ?? 0) + ((seq * 31) % 500), rank: seq % 8, seq, run })
    }
    return handled
  }
  const events = busy(false)
  measure(
    'Bench: events a second, ten loads, four surfaces, busy, figures only, against the bare queue',
    {
      unit: 'events/s',
      ours: () => busy(false),
      other: () => bare(events, 25),
      otherName: 'bare queue of 25',
      counts: true,
    },
  )
  measure('the same against a bare queue that also holds the planned steps', {
    unit: 'events/s',
    ours: () => busy(false),
    other: () => bare(events, steps.length),
    otherName: `bare queue of ${steps.length}`,
    counts: true,
  })
  measure('the same with a trace', { unit: 'events/s', ours: () => busy(true), counts: true })
  const perDay = days(4) / 4
  measure(
    'Bench: events a second, days of use (20 presses a surface, two surfaces ask every 2 s), against the bare queue',
    {
      unit: 'events/s',
      ours: () => days(4),
      other: () => bare(perDay * 4, 25),
      otherName: 'bare queue of 25',
      counts: true,
    },
  )
  measure('Bench: a month of use, simulated time against real time', {
    unit: 'x',
    value: () => (30 * 86_400_000) / timed(() => days(30)),
  })

  for (const n of [10, 30, 100]) {
    const design = large(n)
    const cache = new VerdictCache()
    check(design, cache)
    let turn = false
    measure(`Checks: all findings after one edit, ${n} loads`, {
      unit: 'ms',
      value: () => {
        turn = !turn
        const next = applied(design, {
          type: 'setReport',
          linkId: 'phone-link',
          loadId: design.loads[0]!.id,
          change: turn,
        })
        // A fresh memory but for what the edit does not touch, as in the worker.
        return timed(() => check(next, cache))
      },
    })
  }
  const many = table520()
  for (const [words, design] of [
    ['short codes', many],
    ['load=value', spokenIn(many, { kind: 'pairs', terminator: 'lf' })],
  ] as const) {
    const cache = new VerdictCache()
    check(design, cache)
    let n = 0
    measure(`Checks: one code changed in a table of 520 messages, ${words}`, {
      unit: 'ms',
      value: () => {
        const next = applied(design, {
          type: 'renameCode',
          linkId: 'phone-link',
          loadId: design.loads[n % 40]!.id,
          which: '0',
          code: `Q${n++}`,
        })
        return timed(() => check(next, cache))
      },
    })
  }
  for (const dialect of DIALECTS) {
    const design = spokenIn(large(10), dialect)
    const link = design.links.find(l => l.id === 'phone-link') as ByteLink
    const wire = commands(design, link)
      .map(c => wireOf(link, c.code, 'command'))
      .join('')
    const megabyte = wire.repeat(Math.ceil(1_000_000 / wire.length))
    const { reader } = compileController(design).links[0]!
    measure(`Decoding ten loads, ${dialect.kind}`, {
      unit: 'MB/s',
      value: () => megabyte.length / 1e6 / (timed(() => feedAll(reader, '', megabyte)) / 1000),
    })
  }
  // Thirty pins: the header of the Linux class and the full Wi-Fi board side by side.
  const wide = {
    ...SHIPPED[6]!,
    pins: [
      ...SHIPPED[6]!.pins.filter(p => p.can.length),
      ...SHIPPED[3]!.pins.slice(0, 4).map((p, i) => ({ ...p, chip: 90 + i })),
    ],
  }
  const wants = Array.from({ length: 24 }, (_, i): PinNeed => ({
    id: `n${i}`,
    what: `n${i}`,
    use: i % 3 ? { as: 'output', activeLevel: 'low' } : { as: 'contact', rests: 'open' },
  }))
  measure(`Pin assignment, ${wants.length} needs on ${wide.pins.length} pins`, {
    unit: 'ms',
    value: () => timed(() => assignPins(wide, wants)),
  })
  measure('Build: all sides and the ZIP, ten loads', {
    unit: 'ms',
    value: () => timed(() => buildZip(ten)),
  })
  const page = buildFiles(ten).find(f => f.surfaceId === 'phone')?.text ?? ''
  measure('Panel page, ten loads, raw', { unit: 'kB', value: () => page.length / 1000 })
  measure('Panel page, ten loads, gzipped', {
    unit: 'kB',
    value: () => gzipSync(new TextEncoder().encode(page)).length / 1000,
  })
}

/** Forty levels of thirteen stops on one link. */
function table520(): Design {
  const design = structuredClone(large(40))
  const stops = Array.from({ length: 13 }, (_, i) => Math.round((i * 100) / 12))
  for (const load of design.loads)
    load.output = {
      kind: 'level',
      pin: 'pin' in load.output ? load.output.pin : 0,
      activeLevel: 'high',
      drive: 'pwm',
      powerUp: 'off',
      saveDelayMs: 0,
      stops,
      step: null,
      rampMs: 0,
      minimum: 0,
      below: 'off',
    }
  design.surfaces = design.surfaces.filter(s => s.id === 'phone')
  design.links = design.links.filter(l => l.id === 'phone-link')
  for (const link of design.links) {
    link.messages = design.loads.map(l => ({
      loadId: l.id,
      ack: true,
      change: true,
      codes: Object.fromEntries(stops.map(s => [String(s), ''])),
    }))
    const codes = assign(design, link, 'digits')
    for (const m of link.messages) m.codes = codes[m.loadId]!
  }
  return design
}

const DIALECTS: Dialect[] = [
  { kind: 'codes' },
  { kind: 'lines', template: '{load} {value}', terminator: 'lf' },
  { kind: 'pairs', terminator: 'lf' },
  { kind: 'json', terminator: 'lf' },
  {
    kind: 'packed',
    framing: 'cobs',
    crc: 'CRC-16/ARC',
    endian: 'little',
    packed: true,
    fields: [
      { name: 'kind', type: 'u8', is: 'kind' },
      { name: 'load', type: 'u8', is: 'load' },
      { name: 'value', type: 'u8', is: 'value' },
    ],
  },
]

function spokenIn(design: Design, dialect: Dialect): Design {
  return applied(design, dialectEdit(design, 'phone-link', dialect))
}

function applied(design: Design, edit: Edit): Design {
  const result = applyEdit(design, edit)
  if (!result.ok) throw new Error(JSON.stringify(result.problems))
  return result.design
}
