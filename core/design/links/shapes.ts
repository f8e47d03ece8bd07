/** What several kinds of links have. */
import { z } from 'zod'
import { dialectSchema } from '../dialects/schema'
import { id, LIMITS, ms, name, valueId } from '../shapes'

export const timing = z
  .strictObject({
    minMs: ms(60_000),
    typicalMs: ms(60_000),
    p99Ms: ms(60_000),
    lossPerMille: z
      .number()
      .int()
      .min(0)
      .max(500)
      .describe('Messages lost on a link that is up, per thousand'),
    dropDetectMs: ms(120_000).describe('Until the panel notices that the link is gone, ms'),
    reconnectMs: ms(120_000).describe('From reachable to connected again, ms'),
  })
  .refine(
    t => t.minMs <= t.typicalMs && t.typicalMs <= t.p99Ms,
    'latencies go up: minimum, typical, 99th percentile',
  )

export const charCode = z.string().max(LIMITS.codeLength)
const ROUTE_WORDS =
  'a route starts with / and holds letters, digits, and . _ ~ - /; parameters stand behind it: /set?pin=5&value=1'
export const routeCode = z
  .string()
  .max(LIMITS.routeLength)
  .regex(
    /^(\/[A-Za-z0-9._~/-]*(\?[A-Za-z0-9._~-]+=[A-Za-z0-9._~-]*(&[A-Za-z0-9._~-]+=[A-Za-z0-9._~-]*)*)?)?$/,
    ROUTE_WORDS,
  )
/** One that may hold the place of a number. */
const commandRoute = z
  .string()
  .max(LIMITS.routeLength)
  .regex(
    /^(\/([A-Za-z0-9._~/-]|\{value\})*(\?[A-Za-z0-9._~-]+=([A-Za-z0-9._~-]|\{value\})*(&[A-Za-z0-9._~-]+=([A-Za-z0-9._~-]|\{value\})*)*)?)?$/,
    ROUTE_WORDS,
  )

export const reporting = {
  loadId: id,
  ack: z.boolean().describe('Each command is answered with the state after it'),
  change: z.boolean().describe('Every change is reported, whoever made it'),
}
export const charMessage = z.strictObject({
  ...reporting,
  codes: z.record(valueId, charCode).describe('A code for each value of the load'),
})
export const routeMessage = z.strictObject({
  ...reporting,
  codes: z.record(valueId, commandRoute).describe('A route for each value of the load'),
})

/** A reading that is told on a link, unasked: when it moved far enough, and again after a time. */
export const told = {
  sensorId: id,
  deadBand: z
    .number()
    .min(0)
    .max(1e6)
    .describe('Told when it moved at least this far, in its unit'),
  leastMs: ms(3_600_000).describe('Not more often than this, ms'),
  everyMs: ms(86_400_000).describe(
    'Also told this long after the last time, ms; 0 = only when it moved',
  ),
}
export const byteReading = z.strictObject({
  ...told,
  code: charCode.min(1).describe('Stands before the value'),
})
export const routeReading = z.strictObject({
  ...told,
  route: routeCode.describe('Answers with this reading alone; "" = none'),
})

/**
 * Who may command. The word, PIN or key itself is a secret: it is kept apart and is never in the
 * document.
 */
export const auth = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({ kind: z.literal('word') }).describe('A fixed word with every command'),
  z
    .strictObject({ kind: z.literal('pin'), digits: z.number().int().min(4).max(12) })
    .describe('A fixed number with every command'),
  z
    .strictObject({
      kind: z.literal('counter'),
      tagBytes: z.number().int().min(4).max(32).describe('Bytes of the keyed hash that are sent'),
      window: z
        .number()
        .int()
        .min(0)
        .max(31)
        .describe('Commands that may come late, behind the newest'),
    })
    .describe('A counter and a keyed hash (HMAC-SHA-256) with every command; each is taken once'),
  z
    .strictObject({
      kind: z.literal('time'),
      tagBytes: z.number().int().min(4).max(32),
      toleranceS: z
        .number()
        .int()
        .min(1)
        .max(3600)
        .describe('The clocks of both sides may differ by this, s; so long a command stays good'),
      once: z.boolean().describe('The board remembers what it took, so that a copy is refused'),
    })
    .describe('The time of day and a keyed hash with every command; both sides need a clock'),
  z
    .strictObject({
      kind: z.literal('challenge'),
      tagBytes: z.number().int().min(4).max(32),
      validS: z
        .number()
        .int()
        .min(1)
        .max(3600)
        .describe('A number that the board handed out is good for so long, s; and for one command'),
    })
    .describe(
      'A number that the board hands out and a keyed hash with every command; no clock, no counter',
    ),
])
export const linkBase = {
  id,
  name,
  controllerId: id,
  onConnect: z.boolean().describe('The whole state is sent once per connection'),
  auth,
  timing,
  leastMs: ms(60_000).describe(
    'Reports of a value not more often than this, ms; the last value is always sent; 0 = no limit',
  ),
  everyMs: ms(3_600_000).describe(
    'The whole state is sent this often from each connect, ms; 0 = never',
  ),
  queue: z
    .number()
    .int()
    .min(0)
    .max(64)
    .describe(
      'Reports that wait while one is on its way; 0 = none waits, all are handed over at once',
    ),
  numbered: z
    .strictObject({
      windowMs: ms(600_000)
        .min(100)
        .describe('A number that was seen within this time acts no more, ms'),
    })
    .nullable()
    .describe('Each command carries a number that its repeats carry too; null = none'),
}
/** What every link has that carries messages as bytes. */
export const byteLink = {
  ...linkBase,
  dialect: dialectSchema,
  reportMark: z
    .string()
    .regex(/^[!-~]?$/, 'the report mark is one visible character')
    .describe('Starts each report; may be empty where messages have ends'),
  echoes: z
    .boolean()
    .describe(
      'What is sent on it comes back to the sender, as over a bridge or module with local echo',
    ),
  askCode: charCode.min(1),
  restartMark: charCode.describe(
    'Says that the sender has just started: the first value of each load after it is adopted and moves nothing; "" = not known',
  ),
  helloCode: charCode.describe(
    'Asks who is there: answered with version, fingerprint and count of starts; "" = not known',
  ),
  errorText: z
    .string()
    .max(20)
    .regex(/^[!-~]*$/, 'an error answer is made of visible characters without spaces')
    .describe('Answer to a message that is not understood; "" = none'),
}
export const byteMessages = {
  scenes: z.record(id, charCode).describe('A code for each scene that can be asked for here'),
  messages: z.array(charMessage).max(LIMITS.loads),
  readings: z.array(byteReading).max(LIMITS.sensors),
}
export const baud = z.union([
  z.literal(9600),
  z.literal(19200),
  z.literal(38400),
  z.literal(57600),
  z.literal(115200),
])
export const network = z
  .enum(['own', 'router'])
  .describe('Own access point, or joined to the house network')
export const hardwareAddress = z
  .string()
  .regex(
    /^([0-9A-F]{2}:){5}[0-9A-F]{2}$/,
    'a hardware address looks like 02:00:5E:10:00:01, in capitals',
  )
export const uuid = z
  .string()
  .regex(
    /^[0-9a-f]{8}-([0-9a-f]{4}-){3}[0-9a-f]{12}$/,
    'a UUID has 32 hexadecimal digits, in small letters: 8-4-4-4-12',
  )
export const port = z.number().int().min(1).max(65_535)
