import { z } from 'zod'
import { LIMITS, picture, plainText, remembers, valueId } from '../shapes'

/** What keys and codes ask for beside values, and what a surface shows that knows none. */
const TAKEN = [
  ...['toggle', 'flip', 'next', 'up', 'down', 'number', 'set'],
  ...['after', 'for', 'blink', 'unknown', 'waiting'],
]

export const choiceSchema = z.strictObject({
  kind: z.literal('choice'),
  choices: z
    .array(
      z.strictObject({
        id: valueId.refine(
          id => !TAKEN.includes(id),
          'this word means something to keys or codes already; take another',
        ),
        words: plainText(40, 1).describe('What pages show for it'),
        picture: picture.describe('Shown with its words; null = none'),
      }),
    )
    .min(2)
    .max(LIMITS.values)
    .refine(list => new Set(list.map(c => c.id)).size === list.length, 'each value once')
    .describe('Its values, rest first'),
  ...remembers,
})
