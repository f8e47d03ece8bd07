/**
 * What loads are told, what they come to, and what stands on their lines.
 */
import { lineLevels, wanted } from '../outputs/rows'
import { lasting } from '../outputs/switched'
import type { Outcome } from '../outputs/motion'
import type { Output } from '../../design/schema'
import type { ProgramLink } from '../program'
import { activeLevelOf, isLevel, isStepper } from '../../design/outputs/traits'

import { Memory } from './memory'
import { askedBySteps } from '../../design/steps'

/** The links that were told something by a change, a bit each. */
export type Told = number

export class Loads extends Memory {
  /** The value that a code means: its own, or from the value there is. */
  protected meant(load: number, asks: string): string {
    return askedBySteps(this.outputOf(load), this.state.value[load] as string, asks)
  }

  /** `holder` matters to held outputs only. */
  protected set(load: number, value: string, holder: number, byHand: boolean): void {
    this.become(
      load,
      wanted(this.outputOf(load), this.outcomeOf(load), value, {
        now: this.state.now,
        holder,
        byHand,
      }),
    )
  }

  /**
   * Sets several loads, or one several times, as one thing: each line is written once, each value
   * reported once.
   */
  protected together(act: () => void): void {
    this.before = []
    act()
    const { before } = this
    this.before = null
    const changed = before.flatMap((was, load) => (was ? [load] : []))
    for (const load of changed) this.drive(load, before[load] as Outcome, this.outcomeOf(load))
    const others = changed.filter(load => before[load]?.value !== this.state.value[load])
    for (const load of changed)
      if (lasting(before[load] as Outcome) !== lasting(this.outcomeOf(load))) this.keep(load)
    // Nothing trips here: only time does that.
    for (const load of others) this.reportChange(load, false)
  }

  /**
   * Takes over what an output came to: lines, then memory, then reports. Returns the links that
   * were told.
   */
  protected become(load: number, next: Outcome): Told {
    const { state } = this
    const before = this.outcomeOf(load)
    if (next.motion !== before.motion) {
      state.motion[load] = next.motion
      this.dueStands = false
    }
    if (next.value !== before.value) {
      state.value[load] = next.value
      this.changed.push(load)
      this.states.length = 0
    }
    if (this.before) {
      this.before[load] ??= before
      return 0
    }
    if (next.value !== before.value || next.motion !== before.motion) this.drive(load, before, next)
    if (lasting(next) !== lasting(before)) this.keep(load)
    if (next.value === before.value) return 0
    return this.reportChange(load, next.tripped === true)
  }

  /**
   * What switched itself off is told on every link that carries it, also where changes are not
   * reported.
   */
  protected reportChange(load: number, always: boolean): Told {
    const { links } = this.program
    let told: Told = 0
    for (let index = 0; index < links.length; index++) {
      const message = (links[index] as ProgramLink).messages[load]
      if (!message || !(message.change || always) || !this.unasked(index)) continue
      if (this.tellLoad(index, load)) told |= 1 << index
    }
    return told
  }

  /** Writes the lines that differ; all of them where nothing was driven before. */
  protected drive(load: number, before: Outcome | null, next: Outcome): void {
    const output = this.outputOf(load)
    const were = before && lineLevels(output, before)
    const are = lineLevels(output, next)
    // Lines that fall are written before lines that rise, so that opposed ones are never on
    // together.
    for (let rising = 0; rising < 2; rising++) {
      for (let line = 0; line < are.length; line++) {
        const energised = are[line] as number
        if (were?.[line] !== energised && Number(energised > (were?.[line] ?? 0)) === rising)
          this.effects.push({ kind: 'pin', load, line, level: electrical(output, line, energised) })
      }
    }
  }
}

/**
 * From energised to what stands on the pin. Stepper lines have fixed senses: step and direction
 * high, enable low.
 */
function electrical(output: Output, line: number, energised: number): number {
  if (isStepper(output)) return line === 2 ? Number(!energised) : energised
  if (activeLevelOf(output) === 'high') return energised
  return isLevel(output) ? 255 - energised : Number(!energised)
}
