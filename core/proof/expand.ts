/** Walks the table of transitions: what follows a situation, where no code is made for it. */
import type { Frame, Row, Sink, When } from './frame'
import { ABOUT, NEXT, SENDS } from './tables/table'
import { PANEL } from './tables/surface'
import { ALL_LEVERS, behind, lengthOf, LEVERS, messageAt, UP, without } from './packing'

/**
 * All situations that follow one, each by one event. `quiet`: only what needs nobody and no
 * misfortune. Where a message finds no room the event does not happen, and is counted.
 */
export function expand(
  system: Frame,
  w0: number,
  w1: number,
  up: number,
  down: number,
  sink: Sink,
  quiet: boolean,
): void {
  const { rows } = system
  // Walked by number: this is where the time goes.
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as Row
    if (quiet && !row.quiet) continue
    if (happens(system, row.when, w0, w1, up, down)) follow(system, row, w0, w1, up, down, sink)
  }
}

function happens(
  system: Frame,
  when: When,
  w0: number,
  w1: number,
  up: number,
  down: number,
): boolean {
  if (when.on !== undefined && (w0 & when.on) !== when.on) return false
  if (when.off !== undefined && (w0 & when.off) !== 0) return false
  if (
    when.surface !== undefined
    && ((system.panel?.facts[w1 & NEXT.panel] as number) & when.surface) === 0
  )
    return false
  if (
    when.board !== undefined
    && ((system.controller.facts[w0 & NEXT.controller] as number) & when.board) === 0
  )
    return false
  if (
    when.notBoard !== undefined
    && ((system.controller.facts[w0 & NEXT.controller] as number) & when.notBoard) !== 0
  )
    return false
  if (when.still !== undefined && (up !== 0 || (when.still === 'all' && down !== 0))) return false
  if (when.notes !== undefined && (w1 & when.notes.mask) !== when.notes.value) return false
  if (when.settled && system.wouldBeTold(w0, w1)) return false
  return when.also === undefined || when.also(w0 & NEXT.controller)
}

function follow(
  system: Frame,
  row: Row,
  w0: number,
  w1: number,
  up: number,
  down: number,
  sink: Sink,
): void {
  const { controller } = system
  const c = w0 & NEXT.controller
  if (row.each === 'armed') {
    const armed = controller.armed[c] as readonly number[]
    for (let n = 0; n < armed.length; n++) {
      const i = armed[n] as number
      if (!system.heldBack(i, w0, w1, up | down))
        move(system, row, row.act + i, row.event + i, w0, w1, up, down, sink)
    }
    return
  }
  if (row.each === 'changes') {
    const list = system.changesAt(c)
    for (let n = 0; n < list.length; n += 2)
      move(system, row, list[n] as number, list[n + 1] as number, w0, w1, up, down, sink)
    return
  }
  let { act } = row
  if (row.message) {
    const { dir, nth, alike } = row.message
    const [queue, back] = dir === 'up' ? [up, down] : [down, up]
    const message = messageAt(queue, nth)
    // Of datagrams that are alike it is no matter which one comes.
    if (message === 0 || (alike && nth > 0 && message === messageAt(queue, nth - 1))) return
    if (system.echoes && !system.messages.mayCome(queue, back, nth, row.message, system.ordered))
      return
    act += message
  }
  if (row.levers === 'all') act += (w0 >>> LEVERS) & ALL_LEVERS
  else if (row.levers)
    act = w0 & (1 << (LEVERS + row.levers.bit)) ? row.levers.open : row.levers.closed
  move(system, row, act, row.event, w0, w1, up, down, sink)
}

/** What becomes of a situation by one act of a row. */
export function move(
  system: Frame,
  row: Row,
  act: number,
  event: number,
  w0: number,
  w1: number,
  up: number,
  down: number,
  sink: Sink,
): void {
  const { panel, controller, pace } = system
  if (!pace.allows(event, w0)) return
  if (row.who === 'both') return system.comeBack(w0, w1, sink)
  const { message } = row
  let [nextUp, nextDown] = row.falls ? [0, 0] : [up, down]
  if (message && !message.keeps) {
    if (message.dir === 'up') nextUp = without(up, message.nth)
    else nextDown = without(down, message.nth)
  }
  let next0 = ((w0 & ~(row.clear ?? 0)) | (row.set ?? 0)) ^ (row.flip ?? 0)
  let next1 = row.marks ? (w1 & ~row.marks.mask) | row.marks.value : w1
  let [made, said] = [0, 0]
  if (row.who === 'board') {
    const c = w0 & NEXT.controller
    made = controller.move(c, act)
    const count = (made >>> SENDS.controller) & 7
    if (count !== 0 && (next0 & UP) !== 0) {
      if (!system.hasRoom(next1, nextUp, nextDown, lengthOf(nextDown), count, row)) return
      said = controller.sentBy(c, act)
      nextDown = behind(nextDown, said)
    }
    next0 = (next0 & ~NEXT.controller) | (made & NEXT.controller)
    if (row.restarts && panel)
      next1 = (next1 & ~NEXT.panel) | (panel.move(w1 & NEXT.panel, PANEL.restart) & NEXT.panel)
  } else if (row.who === 'surface' && panel) {
    const p = w1 & NEXT.panel
    if (row.numbered) act += system.freshNumber(p, up)
    made = panel.move(p, act)
    const count = (made >>> SENDS.panel) & 7
    if (
      row.speaks !== undefined
      && (count === 0 || (row.speaks === 'of the load' && ((made >>> ABOUT) & 1) === 0))
    )
      return
    if (count !== 0 && (next0 & UP) !== 0) {
      if (!system.hasRoom(next1, nextUp, nextDown, lengthOf(nextUp), count, row)) return
      said = panel.sentBy(p, act)
      nextUp = behind(nextUp, said)
    }
    next1 = (next1 & ~NEXT.panel) | (made & NEXT.panel)
  }
  let noticed = row.looks === undefined ? 0 : made & row.looks
  if (row.note !== undefined) {
    next1 = system.watch.noted(row, w0, w1, next1, made, up)
    noticed |= system.watch.noticed
  }
  if (row.who === 'surface') next1 = system.watch.seen(next0, next1)
  if (noticed !== 0) sink.notice(noticed, event)
  if (pace.active) next0 = pace.tagged(row, event, next0, down, nextDown)
  if (system.echoes && said !== 0) {
    if (row.who === 'board') nextUp = behind(nextUp, system.echoOf(said, 'down'))
    else nextDown = behind(nextDown, system.echoOf(said, 'up'))
  }
  system.tidy.add(next0, next1, nextUp, nextDown, event, sink)
}
