/**
 * A compiled controller as the table of bytes that the engine reads (engine/table.h, rows.h,
 * loads.h): the only way from a design to a program. What the engine does not do yet, or a table
 * does not hold, is told by `engineLacks`.
 */
import type { Program, ProgramInput, ProgramLink, ProgramTarget } from '../../controller/program'
import { lampsOf } from '../../design/find'
import { inOrder } from '../../design/links/parameters'
import {
  hasRoomBehind,
  isDatagram,
  isSigned,
  speaksBytes,
  speaksRoutes,
  structureOn,
  takesOnce,
} from '../../design/links/traits'
import type { Control, Gesture, HttpLink, Link, Load, Output, Rule } from '../../design/schema'
import { isReceiver } from '../../design/sensors/traits'
import { holdsLoad } from '../../design/targets'
import { fullOf, numbersOf, valuesOf } from '../../design/values'
import { PLACE } from '../../design/dialects/place'
import { bodyOf, endOf } from '../../design/wire'
import { activeLevelOf, isDriven, isHeld } from '../../design/outputs/traits'
import { answerOf, doneAnswer } from '../../messages/answers'
import { speechOf } from '../../messages/dialects/rows'
import { readingBody, readingWire } from '../../messages/readings'
import { numberCode } from '../../messages/setpoints'
import { toldCounter } from '../../messages/sealing'
import { helloText } from '../../messages/table'
import { exact } from '../../controller/readings'
import { mostPresses } from '../../controller/gestures'
import { STICK_WAYS } from '../../controller/sticks'
import { askParts, valueNumber } from './asks'
import { engineOutput, mirrorOf } from './outputs'
import { FRONT_WIRE } from '../front-wire'
import { askedFor, askingOf, askingRow, sceneText, type Asking } from './asking'
import { isInFront, isTold, lampLine, lampsOnWire } from './front'
import { agreedIn, frameRow, framesOn } from './structures'
import { engineReading, engineSensor, type EngineSensor } from './sensors'
import { TableWriter } from './writer'
import { nth } from '../../units/lists'

type Part = readonly [1 | 2 | 4, number]

const SECTIONS = 11
const SECTION_SIZE = 3
const MAGIC = [0x4e, 0x56, 6, 1] as const

/** What of a design the engine does not do, in words; empty where it does all. */
export function engineLacks({ loads }: Pick<Program, 'loads'>): string[] {
  return loads.flatMap(({ name, output }) => (engineOutput(output) ? [] : [`what ${name} does`]))
}

/** The table of a controller. Throws `TooLarge` where it has no room. */
export function engineTable(program: Program): Uint8Array {
  return new Tables(program, false).written()
}

/** A secret that does not stand in the table: room for its length and so many characters. */
export const SECRET_ROOM = 65

export interface SharedTable {
  bytes: Uint8Array
  /** What stands where, in words. */
  notes: ReadonlyMap<number, string>
  /** Links with a secret, whose room follows the table: `SECRET_ROOM` bytes each, in this order. */
  secret: Link[]
}

/** The table with room for the secrets behind it, to be filled in where it runs. */
export function withSecretRoom({ bytes, secret }: SharedTable): Uint8Array {
  const all = new Uint8Array(bytes.length + secret.length * SECRET_ROOM)
  all.set(bytes)
  return all
}

/** What a board has of its own in the table; returns where it stands. */
export type BoardTable = (to: TableWriter) => number

/** The same to be shown and given away: secrets stand behind it. Throws as above. */
export function sharedTable(program: Program, board: BoardTable | null = null): SharedTable {
  const tables = new Tables(program, true)
  const bytes = tables.written(board)
  return { bytes, notes: tables.to.notes, secret: tables.secret.map(s => s.link) }
}

class Tables {
  readonly to = new TableWriter()
  /** Of a board in front. */
  private readonly inFront: boolean
  /** Between a board in front and the one behind it. */
  private readonly hasWire: boolean
  /** Of a box. */
  private readonly asking: Asking | null
  /** Links whose secrets stand behind the table, and where their places are to be filled in. */
  readonly secret: { link: Link; at: number }[] = []

  constructor(
    private readonly program: Program,
    private readonly secretsBehind: boolean,
  ) {
    this.inFront = isInFront(program.design)
    this.hasWire = program.links.some(l => l.link.id === FRONT_WIRE)
    this.asking = askingOf(program.design)
  }

  /** The wire from a board in front to the one behind it. */
  private isBehind({ id }: Link): boolean {
    return this.inFront && id === FRONT_WIRE
  }

  written(board: BoardTable | null = null): Uint8Array {
    const { to, program } = this
    MAGIC.forEach(byte => to.list([[1, byte]]))
    const head = to.room(SECTIONS * SECTION_SIZE + 3)
    to.put(head + SECTIONS * SECTION_SIZE, 1, program.holders)
    const { design } = program
    const sections: (readonly Part[])[][] = [
      program.loads.map(load => this.load(load)),
      program.inputs.map(input => this.input(input)),
      program.links.map((_, i) => this.link(i)),
      program.readings.map((_, i) => this.reading(i)),
      design.sensors.flatMap((s, i) => (isReceiver(s) ? [this.receiver(i)] : [])),
      program.knobs.map(({ sensor, load, knob }): Part[] => [
        [1, sensor],
        [1, load],
        [1, knob.countsPerDetent],
        [1, Number(knob.accelerated)],
      ]),
      program.sticks.map((_, i) => this.stick(i)),
      program.rules.map(({ rule }, i) => this.rule(rule, i)),
      program.ends.map(({ sensor, load, direction }): Part[] => [
        [1, sensor],
        [1, load],
        [1, direction === 'forward' ? 1 : 2],
      ]),
      program.lamps.map((_, i) => this.lamp(i)),
      design.sensors.map(sensor => {
        const { kind, levels, reals } = this.inFront ? TOLD : engineSensor(sensor)
        const list = levels?.map((l): Part => [2, l]) ?? []
        const data = list.length ? to.list([[1, list.length], ...list]) : to.reals(reals ?? [])
        return [
          [1, kind],
          [2, data],
        ]
      }),
    ]
    const names = this.names()
    to.notes.set(0, 'what this is, and where each kind of row begins')
    sections.forEach((rows, i) => {
      const size = (rows[0] ?? []).reduce((sum, [bytes]) => sum + bytes, 0)
      const at = to.room(size * rows.length)
      rows.forEach((row, n) => {
        to.fill(at + n * size, row)
        to.notes.set(at + n * size, names[i]?.[n] ?? 'a row')
      })
      to.put(head + SECTION_SIZE * i, 1, rows.length)
      to.put(head + SECTION_SIZE * i + 1, 2, at)
    })
    if (board) to.put(head + SECTIONS * SECTION_SIZE + 1, 2, board(to))
    this.secret.forEach(({ at }, i) => to.put(at, 2, to.at + i * SECRET_ROOM))
    return to.done()
  }

  /** What each row is, section by section. */
  private names(): string[][] {
    const { design, loads, inputs, links, readings, knobs, sticks, rules, ends } = this.program
    const named = (what: string, list: readonly { name: string }[]) =>
      list.map(({ name }) => `${what} ${name}`)
    const sensorOf = ({ sensor }: { sensor: number }) => design.sensors[sensor]?.name ?? ''
    return [
      named('load', loads),
      inputs.map(({ control }) => `hand control ${control.id}`),
      links.map(({ link }) => `link ${link.name}`),
      readings.map(r => `reading of ${sensorOf(r)} on ${links[r.link]?.link.name ?? ''}`),
      design.sensors.filter(isReceiver).map(s => `receiver ${s.name}`),
      knobs.map(k => `knob ${sensorOf(k)}`),
      sticks.map(s => `stick ${sensorOf(s)}`),
      rules.map(({ rule }) => `rule ${rule.name}`),
      ends.map(e => `end contact ${sensorOf(e)}`),
      named('lamp', lampsOf(design)),
      named('sensor', design.sensors),
    ]
  }

  private load({ output }: Load): Part[] {
    const mirrored = this.asking ? askedFor(output) : this.inFront && mirrorOf(output)
    const row = mirrored || (engineOutput(output) ?? UNKNOWN)
    const numbers = numbersOf(output)
    const named = valuesOf(output)
    const { powerUp } = output as { powerUp?: string }
    const ms = [0, 1, 2, 3, 4, 5].map((i): Part => [4, row.ms[i] ?? 0])
    return [
      [1, row.kind],
      [
        1,
        row.flags
          | Number(isDriven(output) && activeLevelOf(output) === 'high')
          | (Number(numbers !== null) << 1),
      ],
      [1, mirrored ? STARTS_REST : ['off', 'on', 'last'].indexOf(powerUp ?? '') & 3],
      [1, named.length],
      [
        2,
        this.to.list(
          named.map((v): Part => [2, valueNumber(output, v)]),
          'values of a load',
        ),
      ],
      [2, valueNumber(output, fullOf(output))],
      [2, numbers?.high ?? 0],
      [2, numbers?.step ?? 0],
      [4, 'saveDelayMs' in output ? output.saveDelayMs : 0],
      [1, row.drive ?? 0],
      [1, row.minimum ?? 0],
      [2, row.wide ?? 0],
      ...ms,
    ]
  }

  private input({ control, load, targets }: ProgramInput): Part[] {
    const output = this.outputOf(load)
    const push = control.kind === 'push' ? control : null
    const kinds: Record<string, number> = { push: 0, position: 1, movement: 2 }
    const target = (gesture: Gesture): Part => [2, this.target(targets[gesture])]
    return [
      [1, kinds[control.kind === 'push' ? 'push' : control.acts] as number],
      [1, load],
      [1, inputFlags(control, output)],
      [1, push ? mostPresses(push) : 1],
      ...askParts(output, control.asks),
      [1, 0],
      [4, control.debounceMs],
      [4, push?.lockoutMs ?? 0],
      [4, push?.doubleMs ?? 0],
      [4, push?.holdMs ?? 0],
      target('single'),
      target('double'),
      target('triple'),
      target('hold'),
    ]
  }

  private target(target: ProgramTarget | undefined): number {
    if (!target) return 0
    if ('sets' in target) return this.scene(target.sceneId, target.sets)
    return this.to.list(
      [[1, 0], [1, 1], [1, target.load], ...askParts(this.outputOf(target.load), target.asks)],
      `asked for by hand: ${this.program.loads[target.load]?.name ?? ''} ${target.asks}`,
    )
  }

  /** A box may say it by a code of its own. */
  private scene(sceneId: string, sets: readonly { load: number; value: string }[]): number {
    const code = this.asking ? sceneText(this.asking, sceneId) : ''
    return this.to.list(
      [
        [1, code === '' ? 1 : 2],
        [1, sets.length],
        ...(code === '' ? [] : [[2, this.to.text(code)] as const]),
        ...this.sets(sets),
      ],
      'a scene that is asked for by hand',
    )
  }

  private sets(sets: readonly { load: number; value: string }[]): Part[] {
    return sets.flatMap(({ load, value }): Part[] => [
      [1, load],
      ...askParts(this.outputOf(load), value),
    ])
  }

  private setList(sets: readonly { load: number; value: string }[]): number {
    return this.to.list([[1, sets.length], ...this.sets(sets)])
  }

  private outputOf(load: number): Output {
    return nth(this.program.loads, load).output
  }

  private link(index: number): Part[] {
    const { to, program } = this
    const compiled = nth(program.links, index)
    const { link, reader, numbers } = compiled
    const http = speaksRoutes(link) ? link : null
    const [hello, afterHello] = this.hello(link)
    const { head, between, tail } = answerParts(link)
    const commands = [...this.commands(compiled), ...this.lampCommands(link)]
    const end = [...reader.end].map(c => c.charCodeAt(0))
    return [
      [2, linkFlags(compiled) | (this.isBehind(link) ? BEHIND : 0)],
      [4, link.leastMs],
      [4, link.everyMs],
      [1, link.queue],
      [4, link.numbered?.windowMs ?? 0],
      [1, end[0] ?? 0],
      [1, end[1] ?? 0],
      [2, reader.longest],
      [1, styleOf(link)],
      [2, to.text(compiled.error)],
      [2, this.asking ? askingRow(to, this.asking) : to.text(hello)],
      [2, to.text(afterHello)],
      [
        2,
        to.list(
          commands.flat(),
          `what is said on ${link.name}: text, kind, load, what is asked for`,
        ),
      ],
      [2, commands.length],
      [2, to.list(numbers.flatMap(place => this.place(link, place)))],
      [1, numbers.length],
      [
        2,
        to.list(
          program.loads.map((_, load): Part => [2, this.message(compiled, load)]),
          `messages of loads on ${link.name}`,
        ),
      ],
      [2, to.list(reader.starts.map((start): Part => [2, to.text(start)]))],
      [1, reader.starts.length],
      [2, to.text(head)],
      [2, to.text(between)],
      [2, to.text(tail)],
      [2, to.text(http ? doneAnswer(http.answers) : '')],
      [2, this.auth(compiled)],
      ...this.told(link),
      [2, this.frame(compiled)],
    ]
  }

  /** Structures that are more than looked up whole: rows.h, `FrameAt`. 0 = none. */
  private frame({ link, reader, numbers }: ProgramLink): number {
    const structure = structureOn(link)
    const isFramed = this.asking?.framed ?? framesOn(link, numbers.length)
    if (!structure || !isFramed) return 0
    const { to } = this
    const { kind, number, type, little, check } = frameRow(structure)
    const sized = reader.sized.flatMap(({ head, length }): Part[] => [
      [2, to.text(head)],
      [2, length],
    ])
    const [bits, reflected, polynomial, init, xor] = check
    return to.list(
      [
        [1, kind],
        [1, number],
        [1, type],
        [1, little],
        [1, bits],
        [1, reflected],
        [4, polynomial],
        [4, init],
        [4, xor],
        [2, to.list(sized)],
        [1, reader.sized.length],
      ],
      `structures on ${link.name}`,
    )
  }

  private auth({ link, secret }: ProgramLink): number {
    const { auth } = link
    const behind = this.secretsBehind && auth.kind !== 'none'
    const signed = isSigned(auth) ? auth : null
    const of = auth as Partial<Record<'toleranceS' | 'validS' | 'window', number>>
    const text = () => (auth.kind === 'none' ? 0 : this.to.text(secret))
    const at = this.to.list(
      [
        [1, AUTHS[auth.kind]],
        [1, signed?.tagBytes ?? 0],
        [1, of.window ?? Number(takesOnce(auth))],
        [4, of.toleranceS ?? of.validS ?? 0],
        // One that is filled in later is told apart from those of other links.
        [2, behind ? 1 + this.secret.length : text()],
      ],
      `what proves a command on ${link.name}`,
    )
    if (behind) this.secret.push({ link, at: at + AUTH_SECRET })
    return at
  }

  /** What stands before and behind a count that a refusal tells; nothing where it has no words. */
  private told(link: Link): Part[] {
    const [before = '', after = ''] = toldCounter(link, MARK).split(String(MARK))
    return [
      [2, this.to.text(before)],
      [2, before === '' ? 0 : this.to.text(after + endOf(link))],
    ]
  }

  /** What stands before and behind the number of starts. */
  private hello(link: Link): [string, string] {
    const [before = '', after = ''] = helloText(link, this.program.fingerprint, MARK).split(
      String(MARK),
    )
    return [before, after]
  }

  private commands({ meanings }: ProgramLink): Part[][] {
    const kinds = { set: 0, fresh: 1, scene: 2, ask: 3, hello: 4, started: 5, reading: 6 }
    const nothing: Part[] = [
      [1, 0],
      [2, 0],
      [4, 0],
    ]
    return [...meanings].map(([body, meaning]): Part[] => {
      const text: Part = [2, this.to.text(body)]
      switch (meaning.kind) {
        case 'set':
          return [
            text,
            [1, meaning.fresh ? kinds.fresh : kinds.set],
            [1, meaning.load],
            ...askParts(this.outputOf(meaning.load), meaning.value),
          ]
        case 'scene':
          return [text, [1, kinds.scene], [1, 0], [2, this.setList(meaning.sets)], [1, 0], [4, 0]]
        case 'reading': {
          const sensor = this.program.design.sensors.findIndex(s => s.id === meaning.sensorId)
          return [text, [1, kinds.reading], [1, sensor], ...nothing]
        }
        default:
          return [text, [1, kinds[meaning.kind]], [1, 0], ...nothing]
      }
    })
  }

  /** On the wire between a board in front and the one behind it: lamps, one line each way. */
  private lampCommands({ id }: Link): Part[][] {
    if (id !== FRONT_WIRE) return []
    return lampsOnWire(this.program.design).flatMap(({ lamp, nth: of }) =>
      [false, true].map((on): Part[] => [
        [2, this.to.text(lampLine(lamp, on))],
        [1, LIGHTS],
        [1, of],
        [1, 0],
        [2, Number(on)],
        [4, 0],
      ]),
    )
  }

  private place(link: Link, { load, code, step, fresh }: ProgramLink['numbers'][number]): Part[] {
    const structure = structureOn(link)
    // A box hears what is told.
    const way = this.asking ? 'report' : 'command'
    const body = speaksRoutes(link) ? routeAsked(link, code) : bodyOf(link, code, way)
    const [before = '', after = ''] = structure
      ? [agreedIn(structure, code, way)]
      : body.split(PLACE)
    return [
      [1, load],
      [1, step ? STEP[step] : 0],
      [1, Number(fresh === true)],
      [2, this.to.text(before)],
      [2, this.to.text(after)],
    ]
  }

  private message(compiled: ProgramLink, load: number): number {
    const { to } = this
    const { link, messages } = compiled
    const message = messages[load]
    if (!message) return 0
    const { output, id } = nth(this.program.loads, load)
    const named = valuesOf(output)
    const items = named.map(v => itemOf(link, message.lines.get(v) ?? '', message.reports.get(v)))
    const numbers = numbersOf(output) !== null
    const wire = speaksRoutes(link)
      ? around(link, `${id}=${MARK}`)
      : bytesAround(link, numberCode(message.message))
    const tells = numbers && wire !== null
    // A board in front hears them from the one behind, and tells it none.
    const told = !this.isBehind(link)
    const texts = (list: readonly string[]) =>
      to.list(
        list.map((text): Part => [2, to.text(text)]),
        'reports, value by value',
      )
    return to.list([
      [1, (told ? Number(message.ack) | (Number(message.change) << 1) : 0) | (Number(tells) << 2)],
      [2, texts(named.map(v => message.reports.get(v) ?? ''))],
      [2, texts(items)],
      ...(wire ?? ['', '', '', '']).map((text): Part => [2, to.text(text)]),
    ])
  }

  private reading(index: number): Part[] {
    const { to, program } = this
    const { link: at, sensor, reading } = nth(program.readings, index)
    const { link } = nth(program.links, at)
    const body = readingBody(link, reading, String(MARK))
    const [before = '', after = ''] = readingWire(link, reading, String(MARK)).split(String(MARK))
    const [item = '', afterItem = ''] = itemOf(link, body, before + MARK + after).split(
      String(MARK),
    )
    const json = speaksRoutes(link) ? link.answers === 'json' : speechOf(link).closing !== ''
    return [
      [1, at],
      [1, sensor],
      // A dead band of parts of hundredths is the next whole one.
      [4, Math.ceil(Math.round(reading.deadBand * 1e6) / 1e4)],
      [4, reading.leastMs],
      [4, reading.everyMs],
      [2, to.text(before)],
      [2, to.text(after)],
      [2, to.text(item)],
      [2, to.text(afterItem)],
      [1, json ? QUOTES[speaksRoutes(link) ? 'answer' : 'line'] : 0],
    ]
  }

  private receiver(sensor: number): Part[] {
    const given = this.program.design.sensors[sensor]
    const keys = isReceiver(given) ? given.keys : []
    const targets = this.program.remotes.get(sensor) ?? []
    return [
      [1, sensor],
      [1, keys.length],
      [
        2,
        this.to.list(
          keys.flatMap((key, i): Part[] => [
            [2, key.address],
            [2, key.command],
            [2, this.target(targets[i])],
          ]),
        ),
      ],
    ]
  }

  private stick(index: number): Part[] {
    const { sensor, stick, targets } = nth(this.program.sticks, index)
    return [
      [1, sensor],
      [1, stick.deadZone],
      [4, stick.repeatMs],
      ...STICK_WAYS.map((way): Part => [2, this.target(targets[way])]),
    ]
  }

  private rule(rule: Rule, index: number): Part[] {
    const { sensor, sets } = nth(this.program.rules, index)
    const when = ['above', 'below', 'is', 'moved'].indexOf(rule.when)
    const [enter, leave, form] = thresholds(rule)
    return [
      [1, sensor],
      [1, when],
      [1, Number(rule.atStart)],
      [4, enter],
      [4, leave],
      [1, form],
      [2, this.asking ? this.scene(rule.sceneId ?? '', sets) : this.setList(sets)],
    ]
  }

  private lamp(index: number): Part[] {
    const { links } = nth(this.program.lamps, index)
    const lamp = nth(lampsOf(this.program.design), index)
    return [
      [
        1,
        this.hasWire && isTold(this.program.design, lamp) ? SHOWS_TOLD : LAMPS.indexOf(lamp.shows),
      ],
      [1, Number(lamp.activeLevel === 'high')],
      [4, links.reduce((set, link) => set | (1 << link), 0)],
    ]
  }
}

/** What a lamp shows (engine/lamps.cpp): of these, or what is told over a wire. */
const LAMPS = ['link', 'network', 'waiting']
const SHOWS_TOLD = 3
/** A command that a lamp is told with (engine/rows.h). */
const LIGHTS = 7
/** Of a load that is not in the table: at rest. */
const STARTS_REST = 3
/** The flag of the wire from a board in front to the one behind it (engine/rows.h). */
const BEHIND = 2048
const STEP = { up: 1, down: -1 } as const
/** Where a value stands in quotes: rows.h, `Quotes`. */
const QUOTES = { line: 1, answer: 2 } as const

/** A route as it is looked up: parameters in one order, where whole routes are. */
function routeAsked({ matching }: HttpLink, route: string): string {
  return matching === 'exact' ? inOrder(route) : route
}

/** Where the place of a secret stands in a row of proofs (engine/rows.h). */
const AUTH_SECRET = 7
const AUTHS = { none: 0, word: 1, pin: 1, counter: 2, time: 3, challenge: 4 } as const

/** A kind that the engine does not know: no program is made with it (`engineLacks`). */
const UNKNOWN = { kind: 6, flags: 0, ms: [], drive: 0, minimum: 0, wide: 0 } as const

/** A sensor of the board behind. */
const TOLD: EngineSensor = { kind: 7 }

/** Stands where a number comes; no text of a design holds it. */
const MARK = 987654321

function inputFlags(control: Control, output: Output): number {
  const gestures = control.kind === 'push' ? control.gestures : []
  return [
    control.sceneId !== null,
    control.kind === 'latching' && control.atStart === 'follow' && control.sceneId === null,
    gestures.length > 0,
    holdsLoad(control, output) && isHeld(output),
    gestures.some(g => g.on === 'hold'),
  ].reduce((flags, on, i) => flags | (Number(on) << i), 0)
}

function linkFlags({ link, streams, senses, answersAskers, reader, timed }: ProgramLink): number {
  const http = speaksRoutes(link) ? link : null
  return [
    speaksBytes(link),
    streams,
    senses,
    answersAskers,
    link.onConnect,
    isDatagram(link),
    reader.looseSpaces,
    timed,
    http?.matching === 'prefix',
    http?.matching === 'contains',
    reader.end === '',
  ].reduce((flags, on, i) => flags | (Number(on) << i), 0)
}

/** How a link writes what stands behind a command: rows.h, `Style`. */
function styleOf(link: Link): number {
  if (speaksRoutes(link)) return 3
  if (!hasRoomBehind(link)) return 0
  return speechOf(link).closing === '' ? 1 : 2
}

/** What stands around and between the items of an answer; nothing on links of bytes. */
function answerParts(link: Link): { head: string; between: string; tail: string } {
  if (!speaksRoutes(link)) return { head: '', between: '', tail: '' }
  const [one, two] = [itemOf(link, 'a=1', ''), itemOf(link, 'b=1', '')]
  const whole = answerOf(link.answers, ['a=1', 'b=1'])
  const head = whole.slice(0, whole.indexOf(one))
  const between = whole.slice(head.length + one.length, whole.indexOf(two))
  return {
    head,
    between,
    tail: whole.slice(head.length + one.length + between.length + two.length),
  }
}

/** A line as it stands within an answer. */
function itemOf(link: Link, line: string, report: string | undefined): string {
  if (!speaksRoutes(link)) return report ?? ''
  const empty = answerOf(link.answers, [])
  const whole = answerOf(link.answers, [line])
  if (link.answers === 'json') return whole.slice(1, -1)
  return whole.slice(empty.length)
}

/** What stands around a number over HTTP: unasked, and within an answer. */
function around(link: Link, line: string): string[] {
  const unasked = speaksRoutes(link)
    ? answerOf(link.answers === 'json' ? 'json' : 'text', [line])
    : ''
  return [unasked, itemOf(link, line, '')].flatMap(text => text.split(String(MARK)))
}

/** The same on a link of bytes; null where no code holds a place. */
function bytesAround(link: Link, code: string): string[] | null {
  if (code === '') return null
  const structure = structureOn(link)
  if (structure) {
    const agreed = agreedIn(structure, code, 'report')
    return [agreed, '', agreed, '']
  }
  const [before = '', after = ''] = bodyOf(link, code, 'report').split(PLACE)
  return [before, after + endOf(link), before, after + endOf(link)]
}

/**
 * Where a rule begins to be beyond its limit, and where it stays so, in hundredths: the last value
 * that is not beyond. Of `moved` the way; of `is` the reading, whose form stands third.
 */
function thresholds(rule: Rule): [enter: number, leave: number, form: number] {
  if (rule.when === 'is') {
    const [form, first, second] = engineReading(rule.text) ?? [NEVER, 0, 0]
    return [first, second, form]
  }
  if (rule.when === 'moved') return [Math.ceil(Math.round(rule.limit * 1e6) / 1e4), 0, 0]
  const over = (hundredths: number) =>
    exact(rule.when === 'above' ? hundredths / 100 - rule.limit : rule.limit - hundredths / 100)
  return [
    lastNot(rule, h => over(h) > 0, rule.limit),
    lastNot(
      rule,
      h => over(h) > -rule.back,
      rule.limit - (rule.when === 'above' ? 1 : -1) * rule.back,
    ),
    0,
  ]
}
/** A form that no reading has. */
const NEVER = 3

/** The value next to a limit, on the way to it, for which something is not so yet. */
function lastNot({ when }: Rule, beyond: (hundredths: number) => boolean, near: number): number {
  const way = when === 'above' ? 1 : -1
  let at = Math.round(near * 100) - 3 * way
  while (!beyond(at + way)) at += way
  return at
}
