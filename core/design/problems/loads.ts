/** What is wrong with outputs of loads. */
import type { Problems } from './problems'

/** Finds what is wrong with each output. */
export function outputProblems(found: Problems): void {
  const { design } = found
  design.loads.forEach(({ output, controllerId }, i) => {
    if (
      output.kind === 'switched'
      && output.limits
      && output.limits.longestOnMs > 0
      && output.limits.longestOnMs <= output.limits.minOnMs
    )
      found.say(
        ['loads', i, 'output', 'limits', 'longestOnMs'],
        'the longest time on lies above the least time on',
      )
    if (output.kind !== 'opposed') return
    for (const key of ['forwardEnd', 'reverseEnd'] as const) {
      if (output[key] === null) continue
      const contact = design.sensors.find(s => s.id === output[key])
      if (contact?.kind !== 'contact')
        found.say(
          ['loads', i, 'output', key],
          `there is no contact "${output[key]}"; add it on the wiring view, or name another`,
        )
      else if (contact.controllerId !== controllerId)
        found.say(
          ['loads', i, 'output', key],
          `"${contact.id}" is wired to another controller; an end contact belongs to the board that drives`,
        )
    }
  })
}
