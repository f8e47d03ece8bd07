/** What is wrong with outputs of loads. */
import type { Problems } from './problems'
import { isFollower, isOpposed, limitsOf } from '../outputs/traits'
import { isContact } from '../sensors/traits'
import { LIMITS } from '../shapes'
import type { OutputOf } from '../outputs/schema'

/** Finds what is wrong with each output. */
export function outputProblems(found: Problems): void {
  const { design } = found
  design.loads.forEach(({ output, controllerId }, i) => {
    const limits = limitsOf(output)
    if (limits && limits.longestOnMs > 0 && limits.longestOnMs <= limits.minOnMs)
      found.say(
        ['loads', i, 'output', 'limits', 'longestOnMs'],
        'the longest time on lies above the least time on',
      )
    if (isFollower(output)) followerProblems(found, output, i)
    if (!isOpposed(output)) return
    if (output.drive === 'coils')
      for (const key of ['thirdPin', 'fourthPin'] as const)
        if (output[key] === null)
          found.say(['loads', i, 'output', key], 'a stepper has four coils; give this one a pin')
    for (const key of ['forwardEnd', 'reverseEnd'] as const) {
      if (output[key] === null) continue
      const contact = design.sensors.find(s => s.id === output[key])
      if (!isContact(contact))
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

function followerProblems(
  found: Problems,
  { positions, stops }: OutputOf<'follower'>,
  i: number,
): void {
  const say = (words: string) => found.say(['loads', i, 'output', 'stops'], words)
  if (stops === null && positions > LIMITS.values)
    say(
      `at most ${LIMITS.values} positions have codes of their own; name some, 0 and the last among them`,
    )
  else if (stops !== null && stops.at(-1) !== positions - 1)
    say(`the last named position is the last of the knob, ${positions - 1}`)
}
