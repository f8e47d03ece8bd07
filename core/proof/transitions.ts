/**
 * The one table of what follows a situation. Each row is an event: when it can happen, whose move
 * it is, what becomes of the messages under way, and which notes are taken. `expand.ts` walks it,
 * `generate.ts` prints it as code for one system; nothing else says what follows.
 */
import type { Frame, Row, When } from './frame'
import { ASTRAY, CLASHED, DEAD } from './tables/table'
import { CONNECTED, HOLDS, PANEL, POLLS, WAITING, type SurfaceTable } from './tables/surface'
import { OWES, QUEUED, SAVING } from './tables/controller'
import {
  ALL_TAGS,
  LEVERS,
  MOST_EACH_WAY,
  POWER,
  START,
  STARTED,
  STEP_DOWN,
  STEP_UP,
  UP,
  WATCHING,
} from './packing'

const REST = { mask: START, value: 0 }

/** A system, and what all of its rows share. */
interface Table {
  system: Frame
  at: Frame['layout']
  /** The press of one surface is watched. */
  twice: boolean
  /** Nobody else does anything. */
  alone: When
  /** The same; and after a start nobody presses anything. */
  idle: When
  /** What is watched is gone with the link. */
  fallen: Partial<Row>
  event: (kind: string) => number
}

/**
 * All rows of a system, in the order in which they are tried: of stories alike in all else the
 * first is told.
 */
export function rowsOf(system: Frame): Row[] {
  const { layout: at, panel, question } = system
  const twice = question === 'twice'
  const alone: When = at.unhurried ? { notBoard: at.leaving } : {}
  const table: Table = {
    system,
    at,
    twice,
    alone,
    idle: question === 'restart' ? { notes: REST, ...alone } : alone,
    fallen: twice ? { marks: { mask: ALL_TAGS, value: 0 } } : {},
    event: kind => {
      const n = at.first[kind]
      if (n === undefined) throw new Error(`no event "${kind}"`)
      return n
    },
  }
  const rows: Row[] = []
  if (panel)
    rows.push(
      ...messageRows(table, panel),
      ...linkRows(table, panel),
      ...keyRows(table, panel),
      ...dropRows(table),
    )
  rows.push(...boardRows(table), ...elsewhereRows(table))
  // First what comes by itself.
  return rows.toSorted((a, b) => Number(b.quiet) - Number(a.quiet))
}

/** Messages arrive, come once more, are lost. */
function messageRows({ system, at, twice, event }: Table, panel: SurfaceTable): Row[] {
  const { question } = system
  const rows: Row[] = []
  // A press that is watched tells its messages from others with the same words.
  const alike = at.datagrams && !twice && !system.pace.active
  const heard: Partial<Row> = question === 'truth' ? {} : { note: 'heard' }
  const deliver = (dir: 'up' | 'down', nth: number, keeps: boolean, e: number): Row => {
    const common = { event: e, quiet: !keeps, when: {}, message: { dir, nth, keeps, alike } }
    return dir === 'up'
      ? { ...common, who: 'board', act: at.message, looks: CLASHED, ...heard }
      : { ...common, who: 'surface', act: panel.message(0) }
  }
  for (const dir of ['up', 'down'] as const) {
    const Dir = dir === 'up' ? 'Up' : 'Down'
    for (let nth = 0; nth < (at.datagrams || system.echoes ? MOST_EACH_WAY : 1); nth++) {
      rows.push(deliver(dir, nth, false, event(`deliver${Dir}`) + nth))
      if (at.datagrams && (dir === 'down' || at.copiesAct))
        rows.push(deliver(dir, nth, true, event(`double${Dir}`) + nth))
      if (at.loses && (at.datagrams || nth === 0))
        rows.push({
          event: event(`lose${Dir}`) + nth,
          quiet: false,
          when: {},
          message: { dir, nth, keeps: false, alike, lost: true },
          who: 'nobody',
          act: 0,
          ...(twice && dir === 'up' ? { note: 'lost' as const } : {}),
        })
    }
  }
  return rows
}

/** What the link brings about by itself, and what the surface does without a finger. */
function linkRows({ system, at, twice, event }: Table, panel: SurfaceTable): Row[] {
  const rows: Row[] = []
  rows.push({
    event: event('notice'),
    quiet: true,
    when: { off: UP, surface: CONNECTED },
    who: 'surface',
    act: PANEL.linkDown,
  })
  rows.push({
    event: event('return'),
    quiet: true,
    when: { on: POWER, off: UP },
    who: 'both',
    act: at.up,
  })
  rows.push({
    event: event('timeout'),
    quiet: true,
    when: {
      surface: WAITING,
      ...(at.patient
        ? { still: 'all', ...(at.answered ? { notBoard: QUEUED } : { notBoard: OWES }) }
        : {}),
    },
    who: 'surface',
    act: panel.timeout(),
    numbered: true,
    ...(twice ? { note: 'timed out' } : {}),
  })
  // Asking is left out while an earlier question is under way: it would bring nothing that the
  // first does not.
  if (at.first.poll !== undefined)
    rows.push({
      event: event('poll'),
      quiet: true,
      when: { surface: POLLS, still: 'all' },
      who: 'surface',
      act: PANEL.poll,
    })
  if (at.first.tell !== undefined)
    rows.push({
      event: event('tell'),
      quiet: true,
      when: { on: POWER | UP, still: 'all' },
      who: 'board',
      act: at.tell,
    })
  if (at.first.sent !== undefined)
    rows.push({
      event: event('sent'),
      quiet: true,
      when: { on: POWER, board: at.leaving },
      who: 'board',
      act: at.sent,
    })
  for (
    let load = 0;
    at.first.least !== undefined && load < system.controller.program.loads.length;
    load++
  ) {
    rows.push({
      event: event('least') + load,
      quiet: true,
      when: {
        on: POWER,
        ...(at.sparse ? { still: 'all' } : {}),
        also: c => system.isHeldBack(c, load),
      },
      who: 'board',
      act: at.least + load,
    })
  }
  if (at.first.repeat !== undefined)
    rows.push({
      event: event('repeat'),
      quiet: true,
      when: { surface: HOLDS, still: 'up' },
      who: 'surface',
      act: panel.repeat(),
      numbered: true,
    })
  return rows
}

/** Keys of the surface. */
function keyRows({ system, twice, alone, idle, event }: Table, panel: SurfaceTable): Row[] {
  const { question } = system
  const rows: Row[] = []
  panel.keys.forEach((key, i) => {
    const e = event(panel.keys[0] && 'scene' in panel.keys[0] ? 'scene' : 'key') + i
    rows.push({
      event: e,
      quiet: false,
      when: idle,
      who: 'surface',
      act: panel.key(i),
      speaks: 'anything',
      numbered: true,
      ...(twice
        ? { note: system.isAbout(key) ? ('pressed' as const) : ('pressed beside' as const) }
        : {}),
    })
    if (twice && !('scene' in key))
      rows.push({
        event: event('watchedKey') + i,
        quiet: false,
        when: { ...alone, notes: { mask: WATCHING, value: 0 } },
        who: 'surface',
        act: panel.key(i),
        speaks: 'of the load',
        numbered: true,
        note: 'watched',
      })
    // When all that comes by itself after a start has come: one step up or down.
    if (
      question !== 'restart'
      || 'scene' in key
      || key.load !== 0
      || (key.want !== 'up' && key.want !== 'down')
    )
      return
    rows.push({
      event: e,
      quiet: false,
      when: {
        on: UP,
        surface: CONNECTED,
        still: 'all',
        notes: { mask: START, value: STARTED },
        settled: true,
      },
      who: 'surface',
      act: panel.key(i),
      numbered: true,
      marks: { mask: START, value: key.want === 'up' ? STEP_UP : STEP_DOWN },
    })
  })
  return rows
}

/** The link falls, or the surface begins anew. */
function dropRows({ system, at, fallen, event }: Table): Row[] {
  const rows: Row[] = []
  rows.push({
    event: event('drop'),
    quiet: false,
    when: { on: UP },
    who: 'board',
    act: at.down,
    clear: UP,
    falls: true,
    ...fallen,
  })
  if (system.question === 'restart')
    rows.push({
      event: event('restart'),
      quiet: false,
      when: { on: POWER | UP, notes: REST },
      who: 'board',
      act: at.down,
      clear: UP,
      falls: true,
      restarts: true,
      marks: { mask: START, value: STARTED },
    })
  return rows
}

/** What the board does by itself, and what a finger does that leaves. */
function boardRows({ system, at, event }: Table): Row[] {
  const rows: Row[] = []
  if (at.timers.length)
    rows.push({
      event: event('timer'),
      quiet: true,
      when: { on: POWER },
      each: 'armed',
      who: 'board',
      act: at.timer,
    })
  rows.push({
    event: event('save'),
    quiet: true,
    when: { on: POWER, board: SAVING },
    who: 'board',
    act: at.save,
  })
  // An end contact follows the movement: nobody has to do anything for it.
  for (const e of at.ends)
    rows.push({
      event: e.event,
      quiet: true,
      when: { on: POWER, also: c => system.canEnd(c, e) },
      who: 'board',
      act: e.act,
    })
  rows.push({
    event: event('powerOn'),
    quiet: true,
    when: { off: POWER },
    who: 'board',
    act: at.boot,
    levers: 'all',
    set: POWER,
    looks: ASTRAY,
  })
  for (const hand of at.hands) {
    if (hand.holds)
      rows.push({
        event: hand.letGo,
        quiet: true,
        when: { on: POWER, also: c => system.isDown(c, hand.input) },
        who: 'board',
        act: (hand.lever as readonly [number, number])[1],
      })
  }
  return rows
}

/** What anybody does elsewhere: levers, buttons, other surfaces; and power cuts. */
function elsewhereRows({ at, twice, idle, fallen, event }: Table): Row[] {
  const rows: Row[] = []
  const elsewhere: Partial<Row> = {
    quiet: false,
    ...(twice ? { note: 'done elsewhere' as const } : {}),
  }
  for (const { bit, event: e, lever } of at.hands) {
    if (bit < 0 || !lever) continue
    const flip = 1 << (LEVERS + bit)
    // A lever can be moved without power too; nothing comes of it then.
    rows.push({
      event: e,
      quiet: false,
      when: { off: POWER, ...idle },
      who: 'nobody',
      act: 0,
      flip,
      ...elsewhere,
    })
    rows.push({
      event: e,
      quiet: false,
      when: { on: POWER, ...idle },
      who: 'board',
      act: 0,
      flip,
      levers: { bit, closed: lever[0], open: lever[1] },
      looks: DEAD | CLASHED,
      ...elsewhere,
    })
  }
  rows.push({
    event: 0,
    quiet: false,
    when: { on: POWER, ...idle },
    each: 'changes',
    who: 'board',
    act: 0,
    looks: DEAD | CLASHED,
    ...elsewhere,
  })
  rows.push({
    event: event('cut'),
    quiet: false,
    when: { on: POWER },
    who: 'board',
    act: at.off,
    clear: POWER | UP,
    falls: true,
    looks: ASTRAY,
    ...fallen,
  })
  return rows
}
