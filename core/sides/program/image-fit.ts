/**
 * Which program that is made beforehand (image-sizes.ts) has room for a design, and what of it none
 * has room for.
 */
import { fingerprintMark } from '../../boards/upload-record'
import type { Design } from '../../design/schema'
import { IMAGE_ROOMS } from './image-rooms'
import { IMAGES, type ImageSizes } from './image-sizes'
import { partTable } from './part-table'
import { engineSizes, type EngineSizes } from './sizes'
import { SECRET_ROOM, type SharedTable } from './tables'
import { boardUses, type BoardUses } from './wiring'

/** Of which design it is, and its end. */
const MARK_BYTES = fingerprintMark('------').length + 1

/** What of a design an image has no room for, in words. */
export interface ImageFit {
  name: string
  lacks: string[]
}

const ROOM_WORDS: Partial<Record<keyof EngineSizes['small'], readonly [string, string]>> = {
  loads: ['load', 'loads'],
  helds: ['load that is held', 'loads that are held'],
  inputs: ['hand control', 'hand controls'],
  knobs: ['knob', 'knobs'],
  sticks: ['stick', 'sticks'],
  links: ['serial link', 'serial links'],
  sensors: ['sensor', 'sensors'],
  readings: ['reading that is told', 'readings that are told'],
  rules: ['rule', 'rules'],
  lamps: ['lamp', 'lamps'],
  queue: ['place in a queue', 'places in a queue'],
  seen: ['remembered number of a command', 'remembered numbers of commands'],
  leasts: ['load with a least time between reports', 'loads with a least time between reports'],
  paced: ['message that waits', 'messages that wait'],
  asked: ['signed command that waits', 'signed commands that wait'],
}
const HAS_WORDS: Record<keyof EngineSizes['has'], string> = {
  remotes: 'a remote',
  measures: 'an analog input',
  reals: 'an analog input with a calibration, or a two-axis one',
  ends: 'end contacts',
  http: 'HTTP',
  sealed: 'proofs',
  tags: 'signed commands',
  numbers: 'numbers in commands',
  times: 'times in commands',
  numbered: 'numbered commands',
  gestures: 'gestures',
  together: 'scenes and rules',
  codes: 'codes without an end',
  frames: 'numbers or proofs in structures',
  lines: 'lines',
  box: 'loads of another board',
  routes: 'routes of another board',
  named: 'a board that is known by its name',
}
const USES_WORDS: Record<keyof BoardUses, string> = {
  ALONE: '',
  OWN_PORT: 'a link on the port of the board',
  SOFT_WIRE: 'a wire on ordinary pins',
  EXPANDERS: 'expanders',
  THERMOMETERS: 'a digital thermometer',
  RECEIVER: 'a receiver',
  PEER: 'radio from board to board',
  BLUETOOTH: 'Bluetooth of the chip',
  LOW_ENERGY: 'low-energy Bluetooth',
  DIMS: 'dimming',
  STEPS: 'steps of a motor',
}
const KIND_WORDS = [
  'switched loads',
  'pulses',
  'held loads',
  'loads that turn two ways',
  'dimmed loads',
  'loads that follow clicks',
  'choices',
]

/** The image that a design fits into, or the one that lacks least of it. */
export function imageFit(part: Design): ImageFit {
  const of = partTable(part)
  const sizes = engineSizes(of.program)
  const uses = boardUses(part, of.carried, true)
  const bytes = tableBytes(of.table)
  const fits = IMAGES.map(image => ({
    name: image.name,
    lacks: lacksOf(sizes, uses, bytes, image),
  }))
  return fits.reduce((best, fit) => (fit.lacks.length < best.lacks.length ? fit : best))
}

function lacksOf(
  { timed, small, wide, has }: EngineSizes,
  uses: BoardUses,
  table: number,
  image: ImageSizes,
): string[] {
  const { sizes } = image
  const lacks: string[] = []
  if (timed && !sizes.timed) lacks.push('timers and limits')
  for (const key of Object.keys(ROOM_WORDS) as (keyof typeof small)[]) {
    const words = ROOM_WORDS[key]
    const [needs, room] = [small[key], sizes.small[key]]
    if (words && needs > room)
      lacks.push(`${needs} ${words[needs === 1 ? 0 : 1]}${room ? `, where it takes ${room}` : ''}`)
  }
  if (small.helds && small.holders > sizes.small.holders)
    lacks.push(`${small.holders} that may hold a load, where it takes ${sizes.small.holders}`)
  lacks.push(...KIND_WORDS.filter((_, i) => ((small.kinds & ~sizes.small.kinds) >> i) & 1))
  if (wide.buffer > sizes.wide.buffer)
    lacks.push(`messages of ${wide.buffer - 3} characters, where it takes ${sizes.wide.buffer - 3}`)
  for (const key of Object.keys(has) as (keyof typeof has)[])
    if (has[key] && !sizes.has[key]) lacks.push(HAS_WORDS[key])
  for (const key of Object.keys(uses) as (keyof BoardUses)[])
    if (uses[key] > image.uses[key]) lacks.push(USES_WORDS[key])
  const { room = 0 } = IMAGE_ROOMS[image.name] ?? {}
  if (table > room) lacks.push(`a table of ${table} bytes, where it takes ${room}`)
  return lacks
}

/** Bytes of a table with what follows it: a secret for each link, and which design it is of. */
export function tableBytes({ bytes, secret }: SharedTable): number {
  return bytes.length + secret.length * SECRET_ROOM + MARK_BYTES
}
