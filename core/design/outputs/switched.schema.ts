import { z } from 'zod'
import { activeLevel, ms, pin, remembers } from '../shapes'

export const switchedSchema = z.strictObject({
  kind: z.literal('switched'),
  pin,
  activeLevel,
  ...remembers,
  timers: z
    .strictObject({
      onDelayMs: ms(86_400_000).min(10).describe('"after": on when this has passed, ms'),
      offDelayMs: ms(86_400_000)
        .min(10)
        .describe('"for": on at once, off when this has passed, ms'),
      blinkMs: ms(60_000).min(50).describe('"blink": this long on, this long off, ms'),
    })
    .nullable()
    .describe('Timers that can be asked for; null = none'),
  limits: z
    .strictObject({
      minOnMs: ms(86_400_000).describe('Once on it stays on this long, ms; 0 = no limit'),
      minOffMs: ms(86_400_000).describe('Once off it stays off this long, ms; 0 = no limit'),
      tooSoon: z
        .enum(['wait', 'refuse'])
        .describe('A command that comes too soon is kept and done when allowed, or refused'),
      longestOnMs: ms(86_400_000).describe('Switches itself off after this long, ms; 0 = never'),
    })
    .nullable()
    .describe('How often and how long it may be on; null = no limits'),
})
