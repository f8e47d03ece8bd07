/**
 * What is kept over a power cut: saved when it stood still, one write after another.
 */
import { isValue, restOf } from '../../design/values'
import { clock32 } from '../../units/clock'
import { lasting } from '../outputs/switched'
import type { Output } from '../../design/schema'

import { Reports } from './reports'

export class Memory extends Reports {
  /** Plans when the value is saved, where it is. */
  protected keep(load: number): void {
    const output = this.outputOf(load)
    if (!('powerUp' in output) || output.powerUp !== 'last') return
    this.dueStands = false
    this.state.saveDue[load] = clock32(this.state.now + output.saveDelayMs)
    if (output.saveDelayMs === 0) this.save(load)
  }

  /** Begins to write a value, or leaves it for later while another write is under way. */
  protected save(load: number): void {
    const { state } = this
    const value = lasting(this.outcomeOf(load))
    state.saveDue[load] = null
    if (state.writing && !this.writes) {
      state.saveOwed[load] = true
      return
    }
    if ((state.writing ?? state.memory)[load] === value) return
    this.writes = true
    state.writing = (state.writing ?? state.memory).with(load, value)
    this.effects.push({ kind: 'save', load, value })
  }

  protected memoryDone(): void {
    const { state } = this
    if (state.writing) state.memory = state.writing.slice()
    state.writing = null
    state.saveOwed.forEach((owed, load) => {
      if (!owed) return
      state.saveOwed[load] = false
      this.save(load)
    })
  }
}

/** Memory that an older program wrote may hold what is no value any more. */
export function savedValue(output: Output, saved: string): string {
  return isValue(output, saved) ? saved : restOf(output)
}
