/**
 * Board profiles, format 2: which pins a class of boards has, what each can do, and what is
 * dangerous about it. Open JSON, one file a board; a maker can bring an own one, which then lives
 * in the design.
 */
import { z } from 'zod'

export const ABILITIES = [
  'in',
  'out',
  'pull-up',
  'analog',
  'pwm',
  'interrupt',
  'serial-in',
  'serial-out',
] as const
export type Ability = (typeof ABILITIES)[number]

const words = z
  .string()
  .min(3)
  .max(160)
  .refine(
    text => ![...text].some(c => c < ' ' || c === '<' || c === '>'),
    'plain words without < or >',
  )
const level = z.enum(['low', 'high'])

export const hazardSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('boot-strap'),
    words,
    needs: level.describe('Level that the pin must have while the board starts'),
    harmless: z.boolean().optional().describe('With the other level the board starts all the same'),
  }),
  z
    .strictObject({ kind: z.literal('boot-log'), words })
    .describe('Puts out something while the board starts'),
  z.strictObject({
    kind: z.literal('reset-level'),
    words,
    level: level.describe('Level until the program drives the pin'),
  }),
  z.strictObject({
    kind: z.literal('led'),
    words,
    lit: level.describe('Level at which the lamp on the board is lit'),
  }),
  z.strictObject({ kind: z.literal('upload'), words }),
  z.strictObject({ kind: z.literal('input-only'), words }),
  z.strictObject({ kind: z.literal('no-pull-up'), words }),
  z
    .strictObject({ kind: z.literal('radio'), words })
    .describe('Not readable as analog while the radio is on'),
  z.strictObject({ kind: z.literal('reserved'), words }).describe('Not for use at all'),
])
export type Hazard = z.infer<typeof hazardSchema>
export type HazardKind = Hazard['kind']

/** What a profile states; hazards by their kind. */
export const FACTS = [
  'volts',
  'currents',
  'pull-ups',
  'analog',
  'labels',
  'abilities',
  'uploading',
  'boot-strap',
  'boot-log',
  'reset-level',
  'led',
  'upload',
  'input-only',
  'no-pull-up',
  'radio',
  'reserved',
] as const
export type Fact = (typeof FACTS)[number]
const source = z.strictObject({
  facts: z.array(z.enum(FACTS)).min(1).describe('Which facts of the profile come from it'),
  from: z
    .enum(['data sheet', 'schematic', 'documentation', 'measured', 'maker'])
    .describe('Class of source'),
  words: z.string().min(3).max(300),
})

/** Pins of expanders are counted from here on, after those of any board. */
export const FIRST_EXPANDED = 100
const pin = z.strictObject({
  chip: z
    .number()
    .int()
    .min(0)
    .max(FIRST_EXPANDED - 1)
    .describe('Number by which the program names the pin'),
  label: z.string().min(1).max(12).describe('What is printed beside it'),
  can: z.array(z.enum(ABILITIES)),
  hazards: z.array(hazardSchema),
})

export const BOARD_VERSION = 2

export const boardSchema = z
  .strictObject({
    format: z.literal('nolvi-board'),
    version: z.literal(BOARD_VERSION),
    id: z
      .string()
      .regex(
        /^[a-z][a-z0-9-]{0,39}$/,
        'an id is 1 to 40 small letters, digits and hyphens, starting with a letter',
      ),
    name: words,
    toolchain: z
      .enum([
        'avr-8bit',
        'wifi-single-radio',
        'dual-radio',
        'single-core',
        'linux',
        'router',
        'other',
      ])
      .describe('Which kind of program it takes'),
    logicVolts: z.number().min(1).max(6),
    inputMaxVolts: z.number().min(1).max(40),
    pinMaxAmps: z.number().min(0.0005).max(1),
    totalMaxAmps: z.number().min(0.001).max(5),
    pullUpOhms: z.number().min(1000).max(1e6),
    analogBits: z.number().int().min(0).max(24),
    flashing: z.array(z.string().min(3).max(300)).describe('The ritual of uploading, step by step'),
    sources: z
      .array(source)
      .min(1)
      .max(20)
      .describe('Where each fact comes from; none may be without'),
    pins: z.array(pin).min(1).max(60),
  })
  .superRefine((board, context) => {
    const seen = new Map<number, number>()
    board.pins.forEach((p, i) => {
      const first = seen.get(p.chip)
      if (first !== undefined)
        context.addIssue({
          code: 'custom',
          path: ['pins', i, 'chip'],
          message: `pin ${p.chip} is there already, at /pins/${first}`,
        })
      seen.set(p.chip, i)
    })
    const told = new Set(board.sources.flatMap(s => s.facts))
    for (const fact of factsIn(board))
      if (!told.has(fact))
        context.addIssue({
          code: 'custom',
          path: ['sources'],
          message: `no source is told for ${fact}`,
        })
  })
  .meta({ title: 'Nolvi board profile' })

/** The facts that a profile states: figures always, hazards where it has such. */
function factsIn(board: { pins: readonly { hazards: readonly { kind: Fact }[] }[] }): Set<Fact> {
  return new Set<Fact>([
    'volts',
    'currents',
    'pull-ups',
    'analog',
    'labels',
    'abilities',
    'uploading',
    ...board.pins.flatMap(p => p.hazards.map(h => h.kind)),
  ])
}

/** "data sheet: ...": where a fact of this board comes from. */
export function sourceOf(board: BoardProfile, fact: Fact): string {
  const found = board.sources.filter(s => s.facts.includes(fact))
  return found.map(s => `${s.from}: ${s.words}`).join('; ')
}

/**
 * A profile of an older format brought to this one; anything else is returned as it is, for the
 * schema to name. Format 1 told its sources for the whole board.
 */
export function migrateBoard(value: unknown): unknown {
  const board = value as { format?: unknown; version?: unknown; sources?: unknown }
  if (
    typeof value !== 'object'
    || value === null
    || board.format !== 'nolvi-board'
    || board.version !== 1
    || !Array.isArray(board.sources)
  )
    return value
  return {
    ...board,
    version: BOARD_VERSION,
    sources: board.sources.map((words: unknown) => ({
      facts: [...FACTS],
      from: 'documentation',
      words,
    })),
  }
}

export type BoardProfile = z.infer<typeof boardSchema>
export type BoardPin = BoardProfile['pins'][number]
