/** Pins of a row, from the needs that they serve. */
import { pinLabel, type Need } from '../../design/pins'
import type { Design } from '../../design/schema'
import { showQuantity } from '../../units/quantity'
import { WIRE_OF, type Pin } from './model'

/** A resistance in words; "" where none is known. */
export function ohms(value: number | null): string {
  return value === null ? '' : showQuantity(value, 'Ω')
}

/** Pins of needs, one below another. */
export function pinsOf(
  { design }: { design: Design },
  found: readonly Need[],
  does: (need: Need) => Pin['does'],
  spacing = 40,
): Pin[] {
  return found.map((need, i) => {
    const label = pinLabel(design, need.chip)
    return {
      needId: need.id,
      label,
      what: need.what,
      net: `${label} ${need.what}`,
      y: i * spacing,
      does: does(need),
      wire: WIRE_OF[need.use.as],
    }
  })
}
