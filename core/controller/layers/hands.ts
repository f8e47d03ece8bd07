/**
 * Contacts, knobs and remotes: from an edge to what it asks for.
 */
import { asked, restOf } from '../../design/values'
import { clock32, reached } from '../../units/clock'
import { pressDown, pressUp, settled, type PushControl } from '../gestures'
import type { Gesture, Output } from '../../design/schema'
import { turned } from '../knobs'
import type { Program, ProgramTarget } from '../program'
import type { Raw } from '../readings'
import type { ControllerEvent, InputState, Level, StickState, WorkingState } from '../state'
import { wayOf } from '../sticks'
import { actsAgain, isHeld, isOpposed } from '../../design/outputs/traits'
import { isReceiver } from '../../design/sensors/traits'

import { Loads } from './loads'
import { holdsLoad } from '../../design/targets'

export class Hands extends Loads {
  protected pin(index: number, level: Level): void {
    const input = this.state.inputs[index] as InputState
    const { debounceMs } = (this.program.inputs[index] as Program['inputs'][number]).control
    if (level === input.level) {
      if (input.pending) this.patchInput(index, { pending: null })
      this.settle(index)
    } else if (debounceMs === 0) this.accept(index, level, this.state.now)
    else if (input.pending?.level !== level)
      this.patchInput(index, {
        pending: { level, since: this.state.now, due: clock32(this.state.now + debounceMs) },
      })
  }

  protected accept(index: number, level: Level, since: number): void {
    const { control, load, targets } = this.program.inputs[index] as Program['inputs'][number]
    const { lockedUntil } = this.state.inputs[index] as InputState
    this.patchInput(index, { level, pending: null })
    const holder = this.program.links.length + index
    // A lever that asks for a scene asks when it is closed, or at any movement.
    if (control.kind === 'latching' && control.sceneId !== null) {
      if (level === 0 || control.acts === 'movement') this.does(targets.single, holder, true)
      return
    }
    const output = this.outputOf(load)
    if (control.kind === 'latching') {
      if (control.acts === 'movement' && !isHeld(output))
        return this.does({ load, asks: control.asks }, holder, true)
      const rest = restOf(output)
      return this.set(load, level === 0 ? asked(output, rest, control.asks) : rest, holder, true)
    }
    if (control.gestures.length) return this.gesture(index, control, level, since)
    if (holdsLoad(control, output) && level === 1) this.set(load, 'off', holder, true)
    if (level === 1 || (lockedUntil !== null && !reached(since, lockedUntil))) return
    this.patchInput(index, {
      lockedUntil: control.lockoutMs ? clock32(since + control.lockoutMs) : null,
    })
    this.does(targets.single, holder, true)
  }

  /**
   * What somebody asked for with a hand or a remote: of one load, or a scene as one thing. No
   * finger stays on what a scene holds, so that it ends by itself.
   */
  protected does(target: ProgramTarget | undefined, holder: number, byHand: boolean): void {
    if (!target) return
    if ('sets' in target)
      return this.together(() => {
        for (const { load, value } of target.sets) this.set(load, value, holder, false)
      })
    const { load, asks } = target
    this.set(
      load,
      pressed(this.outputOf(load), this.state.value[load] as string, asks),
      holder,
      byHand,
    )
  }

  /**
   * A debounced edge of a button that knows several gestures. Presses within a run are not locked
   * out.
   */
  protected gesture(index: number, control: PushControl, level: Level, since: number): void {
    const { run, lockedUntil } = this.state.inputs[index] as InputState
    if (level === 0 && !run && lockedUntil !== null && !reached(since, lockedUntil)) return
    const next = level === 0 ? pressDown(control, run, since) : pressUp(run)
    this.patchInput(index, { run: next.run })
    if (next.done) this.complete(index, next.done)
    else this.settle(index)
  }

  /** Acts on what time alone completes. */
  protected settle(index: number): void {
    const { run, pending } = this.state.inputs[index] as InputState
    if (!run) return
    const done = settled(run, pending?.level ?? null, this.state.now)
    if (done) this.complete(index, done)
  }

  protected complete(index: number, done: Gesture): void {
    const { control, targets } = this.program.inputs[index] as Program['inputs'][number]
    const { run } = this.state.inputs[index] as InputState
    const until =
      control.kind === 'push' && control.lockoutMs && run
        ? clock32(run.last + control.lockoutMs)
        : null
    this.patchInput(index, {
      run: null,
      lockedUntil: until !== null && reached(this.state.now, until) ? null : until,
    })
    this.does(targets[done], this.program.links.length + index, true)
  }

  protected turn(index: number, a: Level, b: Level): void {
    const { knob, load } = this.program.knobs[index] as Program['knobs'][number]
    const { state, detents } = turned(
      this.state.knobs[index] as WorkingState['knobs'][number],
      a,
      b,
      knob.countsPerDetent,
      knob.accelerated,
      this.state.now,
    )
    this.state.knobs[index] = state
    if (detents !== 0) this.steps(load, detents)
  }

  /** Detents of a knob, up positive. */
  protected steps(load: number, detents: number): void {
    const asks = detents > 0 ? 'up' : 'down'
    this.together(() => {
      for (let n = Math.abs(detents); n > 0; n--)
        this.set(load, this.meant(load, asks), this.program.holders - 2, false)
    })
  }

  /**
   * A stick that points elsewhere: what it held is let go, what it points to is asked for. The
   * first reading only says where it stands.
   */
  protected point(index: number, raw: Raw): void {
    const { stick, targets } = this.program.sticks[index] as Program['sticks'][number]
    const { way: before } = this.state.sticks[index] as StickState
    const way = wayOf(stick, raw, before)
    if (way === before) return
    this.state.sticks[index] = { way, due: null }
    if (before === null) return
    this.letGo(targets[before])
    this.push(index, targets[way])
  }

  private letGo(target: ProgramTarget | undefined): void {
    if (target && 'load' in target && isHeld(this.outputOf(target.load)))
      this.set(target.load, 'off', this.program.holders - 2, true)
  }

  /** A side is no switch: what it asks for is asked for, though it may be so already. */
  protected push(index: number, target: ProgramTarget | undefined): void {
    if (!target) return
    const holder = this.program.holders - 2
    if ('sets' in target) return this.does(target, holder, true)
    const { load, asks } = target
    this.set(load, this.meant(load, asks), holder, true)
    this.askAgain(index, asks)
  }

  /** A step is asked for again and again while it points there. */
  protected askAgain(index: number, asks: string): void {
    const { stick } = this.program.sticks[index] as Program['sticks'][number]
    const state = this.state.sticks[index] as StickState
    if (!stick.repeatMs || state.way === 'rest' || !STEPS.has(asks)) return
    this.state.sticks[index] = { ...state, due: clock32(this.state.now + stick.repeatMs) }
  }

  /**
   * A repeat frame counts for what is held and for levels; anything else would be done again and
   * again.
   */
  protected infrared({
    sensor,
    address,
    command,
    repeat,
  }: Extract<ControllerEvent, { kind: 'infrared' }>): void {
    const receiver = this.program.design.sensors[sensor]
    const nth = isReceiver(receiver)
      ? receiver.keys.findIndex(k => k.address === address && k.command === command)
      : -1
    const target = this.program.remotes.get(sensor)?.[nth]
    // A scene is asked for once, however long the key is held.
    if (repeat && (!target || 'sets' in target || !actsAgain(this.outputOf(target.load)))) return
    this.does(target, this.program.holders - 2, false)
  }
}

/** What goes on from the value there is. */
const STEPS: ReadonlySet<string> = new Set(['up', 'down', 'next'])

/** A press for a direction that runs already stops it. */
function pressed(output: Output, current: string, asks: string): string {
  const want = asked(output, current, asks)
  return isOpposed(output) && want === current ? restOf(output) : want
}
