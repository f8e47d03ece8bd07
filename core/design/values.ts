/**
 * The values that a load can have, by the kind of its output. Their ids stand in codes, reports,
 * beliefs and documents: off and on, stop, forward and reverse, or a number. The first value is the
 * one at rest.
 */
import type { PinUse } from '../boards/hazards'
import type { Load, Output, PanelKey } from './schema'

export const KIND_WORDS: Record<Output['kind'], string> = {
  switched: 'switched on and off',
  pulsed: 'a pulse',
  held: 'on while held',
  opposed: 'forward and reverse',
  level: 'a level',
  follower: 'a knob that is imitated',
}

/**
 * What starts a timer of a switched load: on after a time, on for a time, on and off by turns. A
 * time may follow: "for:5000", in ms.
 */
export const TIMED = ['after', 'for', 'blink'] as const
export type Timed = (typeof TIMED)[number]
/** Whether it starts a timer: after, for, blink. */
export function isTimed(asks: string): asks is Timed {
  return (TIMED as readonly string[]).includes(asks)
}

const ON_OFF = ['off', 'on'] as const
const DIRECTIONS = ['stop', 'forward', 'reverse'] as const

/** In rising order, rest first. */
export function valuesOf(output: Output): readonly string[] {
  switch (output.kind) {
    case 'opposed':
      return DIRECTIONS
    case 'level':
      return output.stops.map(String)
    case 'follower':
      return Array.from({ length: output.positions }, (_, i) => String(i))
    default:
      return ON_OFF
  }
}

/** In the order in which codes are listed: on before off, everything else as it rises. */
export function spokenValues(output: Output): readonly string[] {
  const values = valuesOf(output)
  return values === ON_OFF ? ['on', 'off'] : values
}

/** The value of an output at rest. */
export function restOf(output: Output): string {
  return valuesOf(output)[0] as string
}

/** What "on" means to a switch that has no value of its own: on, forward, the highest. */
export function fullOf(output: Output): string {
  const values = valuesOf(output)
  return (output.kind === 'opposed' ? values[1] : values.at(-1)) as string
}

/**
 * The value asked for by a hand control or key, from the value there is ("" = not known). "toggle"
 * and "flip" go between rest and full, "up" and "down" end at the last value, "next" begins again.
 */
export function asked(output: Output, current: string, asks: string): string {
  const values = valuesOf(output)
  const at = values.indexOf(current)
  switch (asks) {
    case 'toggle':
    case 'flip':
      return current === values[0] || at < 0 ? fullOf(output) : (values[0] as string)
    case 'next':
      return values[(at + 1) % values.length] as string
    case 'up':
      return values[Math.min(at + 1, values.length - 1)] as string
    case 'down':
      return values[Math.max(at - 1, 0)] as string
    default:
      return asks
  }
}

/** Value in an HTTP report: 1 and 0 for on and off, else its id. */
export function reportWord(output: Output, value: string): string {
  return valuesOf(output) === ON_OFF ? (value === 'on' ? '1' : '0') : value
}

/** A value in words: "on", "reverse", "50 %", "position 3". */
export function valueWords(output: Output, value: string): string {
  if (output.kind === 'level') return `${value} %`
  return output.kind === 'follower' ? `position ${value}` : value
}

/** How much of a ribbon is inked for a value: 0 at rest, 1 at full; a direction takes one half. */
export function shareOf(output: Output, value: string): number {
  const values = valuesOf(output)
  return output.kind === 'opposed'
    ? value === 'stop'
      ? 0
      : 1
    : Math.max(0, values.indexOf(value)) / (values.length - 1)
}

export interface PinLine {
  /** Where its pin stands in the output. */
  key: 'pin' | 'reversePin' | 'enablePin'
  /** "" for the only line of a load. */
  name: string
  use: PinUse
  pin: number
}

/** The pins that an output drives, in a fixed order: effects and sketches count by it. */
export function linesOf(output: Output): PinLine[] {
  const { activeLevel } = output
  const line = (
    key: PinLine['key'],
    name: string,
    pin: number,
    use: PinUse = { as: 'output', activeLevel },
  ): PinLine => ({ key, name, use, pin })
  switch (output.kind) {
    case 'opposed':
      return output.drive === 'stepper'
        ? [
            line('pin', 'step', output.pin, { as: 'output', activeLevel: 'high' }),
            line('reversePin', 'direction', output.reversePin, {
              as: 'output',
              activeLevel: 'high',
            }),
            ...(output.enablePin === null
              ? []
              : [
                  line('enablePin', 'enable', output.enablePin, {
                    as: 'output',
                    activeLevel: 'low',
                  }),
                ]),
          ]
        : [line('pin', 'forward', output.pin), line('reversePin', 'reverse', output.reversePin)]
    case 'follower':
      return [
        line('pin', 'clicks up', output.pin),
        line('reversePin', 'clicks down', output.reversePin),
      ]
    case 'level':
      return [line('pin', '', output.pin, { as: 'pwm', activeLevel })]
    default:
      return [line('pin', '', output.pin)]
  }
}

/** Forms of panel keys that fit a kind of output, the first by default. */
export function formsOf(output: Output): readonly PanelKey['form'][] {
  switch (output.kind) {
    case 'switched':
      return output.timers ? ['state', 'pair', 'timer'] : ['state', 'pair']
    case 'pulsed':
      return ['trigger']
    case 'held':
      return ['hold']
    case 'opposed':
      return ['each']
    default:
      return ['each', 'stepper', 'fader', 'number']
  }
}

/**
 * What the keys of a form ask for, in the order in which they stand. A fader and a typed number ask
 * for any value.
 */
export function wantsOf(output: Output, form: PanelKey['form']): readonly string[] {
  switch (form) {
    case 'pair':
      return ['on', 'off']
    case 'state':
      return ['flip']
    case 'trigger':
      return ['on']
    case 'hold':
      return ['on', 'off']
    case 'stepper':
      return ['down', 'up']
    case 'timer':
      return [...TIMED, 'off']
    default:
      return output.kind === 'opposed' ? ['forward', 'stop', 'reverse'] : valuesOf(output)
  }
}

/**
 * What the keys of a surface ask a load for, all of them; one that is not placed yet is judged as
 * if it had its first form.
 */
export function wantsOn(
  keys: readonly { loadId: string; form: PanelKey['form'] }[],
  load: Pick<Load, 'id' | 'output'>,
): string[] {
  const forms = keys.filter(k => k.loadId === load.id).map(k => k.form)
  return [
    ...new Set(
      (forms.length ? forms : formsOf(load.output).slice(0, 1)).flatMap(form =>
        wantsOf(load.output, form),
      ),
    ),
  ]
}

/** The value of a load that comes nearest to a number. */
export function nearestValue(output: Output, wanted: number): string {
  return valuesOf(output).reduce((best, v) =>
    Math.abs(Number(v) - wanted) < Math.abs(Number(best) - wanted) ? v : best,
  )
}

/** What a hand control may ask for; the first by default. */
/** What a code can ask for beside a value. A hold has no opposite to toggle to. */
export function relativeOf(output: Output): string[] {
  return output.kind === 'held' || output.kind === 'pulsed'
    ? []
    : asksOf(output, 'push').filter(a => !valuesOf(output).includes(a))
}

/** What a hand control can ask of an output. */
export function asksOf(output: Output, kind: 'push' | 'latching'): readonly string[] {
  switch (output.kind) {
    case 'switched':
      return ['toggle', 'on', 'off', ...(output.timers && kind === 'push' ? TIMED : [])]
    case 'pulsed':
    case 'held':
      return ['on']
    case 'opposed':
      return ['forward', 'reverse', 'stop']
    default:
      return kind === 'push'
        ? ['next', 'up', 'down', ...valuesOf(output)]
        : ['toggle', ...valuesOf(output)]
  }
}

/**
 * An output of another kind with what can be kept of the old one. `pins` are free ones for further
 * lines.
 */
export function outputOfKind(kind: Output['kind'], old: Output, pins: readonly number[]): Output {
  const { pin, activeLevel } = old
  const base = { pin, activeLevel }
  const remembers = {
    powerUp: 'powerUp' in old ? old.powerUp : ('off' as const),
    saveDelayMs: 'saveDelayMs' in old ? old.saveDelayMs : 2000,
  }
  const reversePin = 'reversePin' in old ? old.reversePin : (pins[0] ?? pin)
  switch (kind) {
    case 'switched':
      return { kind, ...base, ...remembers, timers: null, limits: null }
    case 'pulsed':
      return { kind, ...base, lengthMs: 3000, again: 'restart' }
    case 'held':
      return { kind, ...base, timeoutMs: 900 }
    case 'opposed':
      return {
        kind,
        ...base,
        reversePin,
        enablePin: null,
        drive: 'relays',
        stepHz: 400,
        deadTimeMs: 500,
        runLimitMs: 20_000,
        forwardEnd: null,
        reverseEnd: null,
      }
    case 'level':
      return {
        kind,
        ...base,
        activeLevel: 'high',
        ...remembers,
        drive: 'pwm',
        stops: [0, 25, 50, 75, 100],
        rampMs: 10,
        minimum: 0,
        below: 'off',
      }
    case 'follower':
      return {
        kind,
        ...base,
        activeLevel: 'high',
        reversePin,
        positions: 11,
        pulseMs: 40,
        gapMs: 60,
        round: false,
      }
  }
}
