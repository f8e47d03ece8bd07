/**
 * What goes wrong when something is put on a pin. Each hazard of a profile is held against what the
 * pin is used for; a use that a hazard does not touch raises nothing.
 */
import { FIRST_EXPANDED, type Ability, type BoardPin, type Hazard } from './schema'

/**
 * An output rests at the level that is not its active one; a contact closes to ground and wants a
 * pull-up.
 */
export type PinUse =
  | { as: 'output'; activeLevel: 'low' | 'high' }
  /** An output that dims. */
  | { as: 'pwm'; activeLevel: 'low' | 'high' }
  | { as: 'contact'; rests: 'open' | 'either' }
  /** A line driven by a module; low while nothing happens, where it does not say otherwise. */
  | { as: 'sense'; rests?: 'high' }
  | { as: 'serial-in' | 'serial-out' }
  | { as: 'analog' }
  /** A serial line between two boards, slow enough for any pin. */
  | { as: 'wire-in' | 'wire-out' }
  /** A line of an expander, on a pin of the board itself. */
  | { as: 'bus' }

export type Trouble = {
  severity: 'stop' | 'warn' | 'note'
  hazard: Hazard['kind'] | 'ability'
  words: string
  wayOut: string
}

const NEEDS: Record<PinUse['as'], Ability[]> = {
  output: ['out'],
  pwm: ['out', 'pwm'],
  contact: ['in'],
  sense: ['in'],
  'serial-in': ['serial-in'],
  'serial-out': ['serial-out'],
  analog: ['analog'],
  'wire-in': ['in'],
  'wire-out': ['out'],
  bus: ['out'],
}
const ABILITY_WORDS: Record<Ability, string> = {
  in: 'be read',
  out: 'be an output',
  'pull-up': 'pull itself up',
  analog: 'be read as analog',
  pwm: 'dim',
  interrupt: 'interrupt',
  'serial-in': 'receive serial bytes',
  'serial-out': 'send serial bytes',
}
const OTHER_PIN = 'take another pin'

/** All that is wrong with this use of the pin, worst first. Empty where nothing is. */
export function troubles(pin: BoardPin, use: PinUse): Trouble[] {
  const missing = NEEDS[use.as].filter(a => !pin.can.includes(a))
  const found: Trouble[] = [
    ...missing.map((a): Trouble => ({
      severity: 'stop',
      hazard: 'ability',
      words: `${pin.label} cannot ${ABILITY_WORDS[a]}`,
      wayOut: OTHER_PIN,
    })),
    ...(use.as === 'bus' && pin.chip >= FIRST_EXPANDED
      ? [
          {
            severity: 'stop',
            hazard: 'ability',
            words: `${pin.label} stands behind an expander itself`,
            wayOut: 'take a pin of the board',
          } as const,
        ]
      : []),
    ...pin.hazards.flatMap(h => trouble(h, use, pin)),
  ]
  const rank = { stop: 0, warn: 1, note: 2 }
  return found.sort((a, b) => rank[a.severity] - rank[b.severity])
}

/** Drives something: a pin that is read is none. */
export function drives(use: PinUse): use is Extract<PinUse, { activeLevel: unknown }> {
  return use.as === 'output' || use.as === 'pwm'
}

type Say = (severity: Trouble['severity'], why: string, wayOut?: string) => Trouble[]

function trouble(hazard: Hazard, use: PinUse, pin: BoardPin): Trouble[] {
  const say: Say = (severity, why, wayOut = OTHER_PIN) => [
    { severity, hazard: hazard.kind, words: `${pin.label} ${hazard.words}; ${why}`, wayOut },
  ]
  switch (hazard.kind) {
    case 'reserved':
      return say('stop', 'nothing may be on it')
    case 'input-only':
      return drives(use) || use.as === 'wire-out' ? say('stop', 'it cannot switch') : []
    case 'no-pull-up':
      return use.as === 'contact'
        ? say(
            'warn',
            'the contact needs a resistor of its own',
            'add a pull-up resistor of 4.7 to 10 kΩ, or take another pin',
          )
        : []
    case 'boot-strap':
      return strap(hazard, use, say)
    case 'boot-log':
      return chattering(use, say)
    case 'reset-level':
      return drives(use) && use.activeLevel === hazard.level
        ? say(
            'stop',
            'the load switches on at every start',
            `switch it on when ${hazard.level === 'high' ? 'low' : 'high'}, or take another pin`,
          )
        : []
    case 'led':
      if (drives(use)) return say('note', 'the lamp follows the load')
      if (use.as === 'contact' && hazard.lit === 'high')
        return say('warn', 'the lamp pulls against the pull-up')
      return []
    case 'upload':
      return use.as === 'serial-in' || use.as === 'serial-out'
        ? say(
            'note',
            'the module must be unplugged for uploads',
            'unplug the module while uploading',
          )
        : say('warn', 'an upload moves it, and it can spoil an upload')
    case 'radio':
      return use.as === 'analog' ? say('stop', 'it would read nonsense') : []
  }
}

/** What a boot log does to what is on its pin. */
function chattering(use: PinUse, say: Say): Trouble[] {
  if (drives(use)) return say('warn', 'the load chatters at every start')
  if (use.as === 'contact')
    return say('warn', 'a closed contact shorts it', 'add 1 kΩ in series, or take another pin')
  return use.as === 'serial-out' || use.as === 'wire-out'
    ? say('note', 'the other side hears it', 'let the other side ignore what it does not know')
    : []
}

function strap(
  { needs, harmless }: Extract<Hazard, { kind: 'boot-strap' }>,
  use: PinUse,
  say: Say,
): Trouble[] {
  const rests = restingLevel(use)
  if (harmless)
    return rests === needs && use.as !== 'contact'
      ? []
      : say('note', 'the board starts all the same', 'nothing, where that does not matter')
  if (use.as === 'contact' && needs === 'high') {
    return use.rests === 'either'
      ? say('stop', 'a lever left closed keeps the board from starting')
      : say('warn', 'held pressed at the start, the board does not start')
  }
  if (rests === needs) return []
  const held = use.as === 'sense' ? 'the module holds it low' : 'it rests high'
  const why = drives(use) ? `the driver of this load rests ${rests}` : held
  return say('stop', `${why}, so the board does not start`)
}

function restingLevel(use: PinUse): 'high' | 'low' {
  if (drives(use)) return use.activeLevel === 'low' ? 'high' : 'low'
  return use.as === 'sense' ? (use.rests ?? 'low') : 'high'
}
