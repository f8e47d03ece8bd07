/**
 * What can be done on the bench, as data: recorded, replayed, sent to the server, and written by
 * the proof.
 */
import { z } from 'zod'

const id = z.string().max(60)
export const actionSchema = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('press'),
    controlId: id,
    gesture: z.enum(['single', 'double', 'triple', 'hold']).optional(),
  }),
  z.strictObject({ do: z.literal('hold'), controlId: id }),
  z.strictObject({ do: z.literal('letGo'), controlId: id }),
  z.strictObject({
    do: z.literal('key'),
    surfaceId: id,
    loadId: id,
    want: z
      .string()
      .max(16)
      .describe(
        'A value, "flip", "up" or "down", "for:5000"; on a held load "on" is a finger that stays, "off" the finger that leaves',
      ),
  }),
  z
    .strictObject({ do: z.literal('slide'), surfaceId: id, loadId: id, want: z.string().max(8) })
    .describe('A fader is drawn to a value'),
  z.strictObject({ do: z.literal('scene'), surfaceId: id, sceneId: id }),
  z
    .strictObject({
      do: z.literal('sense'),
      sensorId: id,
      raw: z.array(z.number().int().min(-1_000_000).max(16_777_215)).min(1).max(2),
    })
    .describe('What a sensor gives from now on: core/controller/readings.ts says in which unit'),
  z.strictObject({ do: z.literal('linkDown'), linkId: id }),
  z.strictObject({ do: z.literal('linkUp'), linkId: id }),
  z.strictObject({ do: z.literal('loseNext'), linkId: id }),
  z
    .strictObject({ do: z.literal('doubleNext'), linkId: id })
    .describe('The next datagram of the link is delivered twice'),
  z
    .strictObject({
      do: z.literal('replay'),
      linkId: id,
      back: z.number().int().min(1).max(99).optional().describe('So many commands before the last'),
    })
    .describe('A stranger sends the last command of the link again, or an earlier one'),
  z.strictObject({ do: z.literal('routerDown') }),
  z.strictObject({ do: z.literal('routerUp') }),
  z.strictObject({ do: z.literal('powerOff') }),
  z.strictObject({ do: z.literal('powerOn') }),
  z.strictObject({ do: z.literal('restart') }),
  z
    .strictObject({
      do: z.literal('turn'),
      sensorId: id,
      detents: z.number().int().min(-100).max(100),
    })
    .describe('A knob is turned, up or down'),
  z
    .strictObject({
      do: z.literal('remote'),
      sensorId: id,
      key: z.number().int().min(0).max(59),
      repeats: z.number().int().min(0).max(100).default(0),
    })
    .describe('A key of the remote, by its place in the list, and how many repeat frames follow'),
  z
    .strictObject({ do: z.literal('restartBox'), surfaceId: id })
    .describe('A panel or box starts anew and knows nothing'),
  z
    .strictObject({ do: z.literal('strangerOn'), linkId: id })
    .describe('Somebody else takes a link that serves one at a time'),
  z.strictObject({ do: z.literal('strangerOff'), linkId: id }),
  z.strictObject({ do: z.literal('frontDown') }).describe('The board in front stops'),
  z.strictObject({ do: z.literal('frontUp') }),
  z
    .strictObject({ do: z.literal('contacts'), bounce: z.boolean() })
    .describe('From now on contacts bounce as real ones do, or not'),
])
export type Action = z.infer<typeof actionSchema>

const at = z
  .number()
  .int()
  .min(0)
  .max(24 * 3_600_000)
/**
 * What is expected of a run: judged at `atMs` + `withinMs`, or over a stretch. "truth": what is so
 * at that moment.
 */
export const expectationSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('shows'),
    atMs: at,
    withinMs: at,
    surfaces: z.array(id).max(12).describe('None named: all that have to do with the load'),
    loadId: id,
    value: z.string().min(1).max(16).describe('A value, or "truth"'),
  }),
  z.strictObject({
    kind: z.literal('is'),
    atMs: at,
    withinMs: at,
    loadId: id,
    value: z.string().min(1).max(16),
  }),
  z.strictObject({ kind: z.literal('stays'), fromMs: at, toMs: at, loadId: id }),
])
export type Expectation = z.infer<typeof expectationSchema>

/**
 * Where to look for an expectation: its beginning where something has to stay, else the moment at
 * which it is judged.
 */
export function looksAt(e: Expectation): number {
  return e.kind === 'stays' ? e.fromMs : judgedAt(e)
}

/** When it is known whether it held. */
export function judgedAt(e: Expectation): number {
  return e.kind === 'stays' ? e.toMs : e.atMs + e.withinMs
}

export const MAX_SCRIPT = 20_000
export const scriptSchema = z.strictObject({
  seed: z.number().int().min(0).max(0xffffffff).default(1),
  untilMs: z
    .number()
    .int()
    .min(0)
    .max(24 * 3_600_000)
    .optional(),
  steps: z
    .array(
      z.strictObject({
        atMs: z
          .number()
          .int()
          .min(0)
          .max(24 * 3_600_000),
        action: actionSchema,
      }),
    )
    .max(MAX_SCRIPT),
  /** What is expected; a run without is a run all the same. */
  expects: z.array(expectationSchema).max(200).optional(),
  /**
   * Fixed fates of single messages, by "link up|down n" (n counts from 0): arrival time in ms,
   * several for a datagram that comes more than once, or lost.
   */
  fates: z
    .record(
      z.string(),
      z.union([
        z.number().int().min(0),
        z.array(z.number().int().min(0)).min(2).max(8),
        z.literal('lost'),
      ]),
    )
    .optional(),
})
export type BenchScript = z.infer<typeof scriptSchema>
