/** Shapes that many parts of the document are made of, and its upper bounds. */
import { z } from 'zod'

/** Upper bounds of the document. They keep every check, search and page within a stated size. */
export const LIMITS = {
  loads: 100,
  pages: 6,
  /** Characters of the page of a board. */
  template: 8000,
  parts: 60,
  pictureLength: 60_000,
  picturesLength: 400_000,
  controllers: 4,
  networks: 4,
  scenes: 12,
  rules: 20,
  surfaces: 12,
  links: 8,
  controls: 40,
  sensors: 20,
  lamps: 8,
  expanders: 4,
  regulators: 6,
  boards: 4,
  codeLength: 64,
  routeLength: 80,
  values: 21,
  /** Positions of a knob that is imitated. */
  positions: 1000,
  nameLength: 40,
  documentBytes: 1_000_000,
} as const

export const id = z
  .string()
  .regex(
    /^[a-z][a-z0-9-]{0,39}$/,
    'an id is 1 to 40 small letters, digits and hyphens, starting with a letter',
  )
  .describe('Stable id: a short readable slug')

/**
 * Text a maker types. Angle brackets and control characters never belong into a name and are
 * refused with their place.
 */
export const plainText = (max: number, min = 0) =>
  z
    .string()
    .max(max, `at most ${max} characters`)
    .refine(text => text.trim().length >= min, 'a name needs at least one character')
    .refine(
      text => ![...text].some(c => c < ' ' || c === '\u007f' || c === '<' || c === '>'),
      'a name holds no < or > and no control characters; write it in words',
    )
export const name = plainText(LIMITS.nameLength, 1)

export const pin = z
  .number()
  .int()
  .min(0)
  .max(299)
  .describe('Chip pin number of the controller; from 100 on a pin of an expander')
export const ms = (max: number) => z.number().int().min(0).max(max)

export const activeLevel = z.enum(['low', 'high']).describe('Level that switches the load on')
export const remembers = {
  powerUp: z.enum(['off', 'on', 'last']).describe('What the output does after power returns'),
  saveDelayMs: ms(600_000).describe(
    'Value is saved after it was unchanged this long, ms (power-up last)',
  ),
}
export const colour = z.string().regex(/^#[0-9a-f]{6}$/, 'a colour is # and six hexadecimal digits')
export const picture = z
  .string()
  .max(LIMITS.pictureLength, 'the picture is too large; take one that is downscaled')
  .regex(
    /^data:image\/(jpeg|png|webp);base64,[A-Za-z0-9+/]+=*$/,
    'a picture is a JPEG, PNG or WebP as data:image/...;base64,...',
  )
  .nullable()
export const amps = z.number().min(0.0001).max(100)
export const volts = z.number().min(0.5).max(1000)
export const ohms = z.number().min(1e-3).max(1e6)

export const asks = z
  .string()
  .max(8)
  .describe('A value of the load; "toggle" between rest and that; "up" or "down" to the next one')

/** Id of a value of a load. */
export const valueId = z.string().regex(/^[a-z0-9]{1,8}$/)

/** Whether a list of numbers starts at 0 and goes up. */
export function risesFromRest(list: readonly number[]): boolean {
  return list[0] === 0 && list.every((v, i) => i === 0 || v > (list[i - 1] as number))
}
