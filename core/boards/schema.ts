/**
 * Board profiles, format 1: which pins a class of boards has, what each can do, and what is dangerous about it. Open
 * JSON, one file a board; a maker can bring an own one, which then lives in the design.
 */
import { z } from 'zod'

export const ABILITIES = ['in', 'out', 'pull-up', 'analog', 'pwm', 'interrupt', 'serial-in', 'serial-out'] as const
export type Ability = typeof ABILITIES[number]

const words = z.string().min(3).max(160).refine(text => ![...text].some(c => c < ' ' || c === '<' || c === '>'), 'plain words without < or >')
const level = z.enum(['low', 'high'])

export const hazardSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('boot-strap'), words, needs: level.describe('Level that the pin must have while the board starts') }),
  z.strictObject({ kind: z.literal('boot-log'), words }).describe('Puts out something while the board starts'),
  z.strictObject({ kind: z.literal('reset-level'), words, level: level.describe('Level until the program drives the pin') }),
  z.strictObject({ kind: z.literal('led'), words, lit: level.describe('Level at which the lamp on the board is lit') }),
  z.strictObject({ kind: z.literal('upload'), words }),
  z.strictObject({ kind: z.literal('input-only'), words }),
  z.strictObject({ kind: z.literal('no-pull-up'), words }),
  z.strictObject({ kind: z.literal('radio'), words }).describe('Not readable as analog while the radio is on'),
  z.strictObject({ kind: z.literal('reserved'), words }).describe('Not for use at all'),
])
export type Hazard = z.infer<typeof hazardSchema>
export type HazardKind = Hazard['kind']

const pin = z.strictObject({
  chip: z.number().int().min(0).max(99).describe('Number by which the program names the pin'),
  label: z.string().min(1).max(12).describe('What is printed beside it'),
  can: z.array(z.enum(ABILITIES)),
  hazards: z.array(hazardSchema),
})

export const boardSchema = z.strictObject({
  format: z.literal('nolvi-board'), version: z.literal(1),
  id: z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'an id is 1 to 40 small letters, digits and hyphens, starting with a letter'),
  name: words,
  toolchain: z.enum(['avr-8bit', 'wifi-single-radio', 'dual-radio', 'single-core', 'linux', 'router', 'other']).describe('Which kind of program it takes'),
  logicVolts: z.number().min(1).max(6), inputMaxVolts: z.number().min(1).max(40),
  pinMaxAmps: z.number().min(0.0005).max(1), totalMaxAmps: z.number().min(0.001).max(5),
  pullUpOhms: z.number().min(1000).max(1e6), analogBits: z.number().int().min(0).max(24),
  flashing: z.array(z.string().min(3).max(300)).describe('The ritual of uploading, step by step'),
  sources: z.array(z.string().min(3).max(300)).min(1).describe('Class of document each fact comes from'),
  pins: z.array(pin).min(1).max(60),
}).superRefine((board, context) => {
  const seen = new Map<number, number>()
  board.pins.forEach((p, i) => {
    const first = seen.get(p.chip)
    if (first !== undefined) context.addIssue({ code: 'custom', path: ['pins', i, 'chip'], message: `pin ${p.chip} is there already, at /pins/${first}` })
    seen.set(p.chip, i)
  })
}).meta({ title: 'Nolvi board profile' })

export type BoardProfile = z.infer<typeof boardSchema>
export type BoardPin = BoardProfile['pins'][number]
