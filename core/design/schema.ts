/**
 * The design document, version 6: one Zod schema from which types, validation and the published
 * JSON Schema come. Unknown keys are refused; references between parts are checked in
 * `validate.ts`.
 */
import { z } from 'zod'
import { boardSchema } from '../boards/schema'

export const DESIGN_FORMAT = 'nolvi-design'
export const DESIGN_VERSION = 6

/** Upper bounds of the document. They keep every check, search and page within a stated size. */
export const LIMITS = {
  loads: 100,
  pages: 6,
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
  boards: 4,
  codeLength: 64,
  routeLength: 80,
  values: 21,
  nameLength: 40,
  documentBytes: 1_000_000,
} as const

const id = z
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
const plainText = (max: number, min = 0) =>
  z
    .string()
    .max(max, `at most ${max} characters`)
    .refine(text => text.trim().length >= min, 'a name needs at least one character')
    .refine(
      text => ![...text].some(c => c < ' ' || c === '\u007f' || c === '<' || c === '>'),
      'a name holds no < or > and no control characters; write it in words',
    )
const name = plainText(LIMITS.nameLength, 1)

const pin = z.number().int().min(0).max(99).describe('Chip pin number of the controller')
const ms = (max: number) => z.number().int().min(0).max(max)

const controller = z.strictObject({
  id,
  name,
  board: id.describe("A shipped board profile, or one of the design's own"),
  bootMs: ms(60_000).describe('From power to the first line of the program, ms'),
  kept: z
    .array(z.string().max(90))
    .max(100)
    .describe(
      'Needs whose pins stay where the maker put them: "load:fan", "control:fan-button", "status:phone-link"',
    ),
})

const activeLevel = z.enum(['low', 'high']).describe('Level that switches the load on')
const remembers = {
  powerUp: z.enum(['off', 'on', 'last']).describe('What the output does after power returns'),
  saveDelayMs: ms(600_000).describe(
    'Value is saved after it was unchanged this long, ms (power-up last)',
  ),
}
const output = z.discriminatedUnion('kind', [
  z.strictObject({
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
  }),
  z.strictObject({
    kind: z.literal('pulsed'),
    pin,
    activeLevel,
    lengthMs: ms(600_000).min(10).describe('Energised this long after a trigger, ms'),
    again: z
      .enum(['restart', 'ignore'])
      .describe('A trigger during the pulse restarts it or is ignored'),
  }),
  z.strictObject({
    kind: z.literal('held'),
    pin,
    activeLevel,
    timeoutMs: ms(60_000)
      .min(100)
      .describe('On only while a keep-alive comes at least this often, ms'),
  }),
  z.strictObject({
    kind: z.literal('opposed'),
    pin,
    reversePin: pin,
    enablePin: pin.nullable().describe('Enable line of a stepper driver; null = not wired'),
    activeLevel,
    drive: z
      .enum(['relays', 'bridge', 'stepper'])
      .describe(
        'Two relays, a bridge (lines: forward, reverse), or a stepper driver (lines: step, direction)',
      ),
    stepHz: z.number().int().min(1).max(10_000).describe('Steps per second of a stepper'),
    deadTimeMs: ms(60_000).describe('Both lines rest this long between opposite directions, ms'),
    runLimitMs: ms(600_000).describe('A run ends after this long, ms; 0 = no limit'),
    forwardEnd: id.nullable().describe('Contact that is closed where forward ends; null = none'),
    reverseEnd: id.nullable(),
  }),
  z.strictObject({
    kind: z.literal('level'),
    pin,
    activeLevel,
    drive: z.enum(['pwm', 'dimmer']),
    ...remembers,
    stops: z
      .array(z.number().int().min(0).max(100))
      .min(2)
      .max(LIMITS.values)
      .refine(
        list => list[0] === 0 && list.every((v, i) => i === 0 || v > (list[i - 1] as number)),
        'levels start at 0 and go up',
      )
      .describe('Levels that have a code, %'),
    rampMs: ms(1000).describe('Time for one per cent of change, ms; 0 = at once'),
    minimum: z.number().int().min(0).max(100).describe('Least level at which the load works, %'),
    below: z.enum(['off', 'minimum']).describe('What a level below the minimum counts as'),
  }),
  z.strictObject({
    kind: z.literal('follower'),
    pin,
    reversePin: pin,
    activeLevel,
    positions: z
      .number()
      .int()
      .min(2)
      .max(LIMITS.values)
      .describe('Positions of the knob that is imitated'),
    pulseMs: ms(1000).min(1),
    gapMs: ms(1000).min(1),
    round: z.boolean().describe('The knob turns round without ends, so the shorter way is taken'),
  }),
])

const colour = z.string().regex(/^#[0-9a-f]{6}$/, 'a colour is # and six hexadecimal digits')
const amps = z.number().min(0.0001).max(100)
const volts = z.number().min(0.5).max(1000)
const ohms = z.number().min(1e-3).max(1e6)
export const driverSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('relay-module'),
    amps: amps.describe('Taken from the supply while its relay is on'),
  }),
  z
    .strictObject({
      kind: z.literal('coil'),
      volts,
      ohms: z.number().min(1).max(100_000),
      henries: z.number().min(1e-6).max(100),
      gainMin: z.number().min(5).max(5000),
      transistorMaxAmps: amps,
    })
    .describe('Relay coil behind an NPN transistor'),
  z
    .strictObject({
      kind: z.literal('bridge'),
      windingOhms: ohms.describe('Winding of the motor'),
      onOhms: ohms.describe('Both switches of the bridge in series'),
      maxAmps: amps,
      peakAmps: amps,
    })
    .describe('Motor on a bridge of its own supply'),
  z.strictObject({
    kind: z.literal('stepper'),
    phaseOhms: ohms,
    phaseHenries: z.number().min(1e-5).max(10),
    phaseAmps: amps,
    maxAmps: amps.describe('Limit of the driver'),
    stepsPerTurn: z.number().int().min(1).max(100_000),
  }),
  z
    .strictObject({
      kind: z.literal('dimmer'),
      maxAmps: amps,
      minAmps: z.number().min(0).max(10).describe('Least load that it dims without flicker'),
    })
    .describe('Mains dimmer, a closed box with a low-voltage input'),
  z
    .strictObject({
      kind: z.literal('opto'),
      lampVolts: volts,
      lampAmps: amps,
      transferMin: z.number().min(0.01).max(20).describe('Least current transfer, 0.5 = 50 %'),
      lineVolts: volts,
      lineOhms: z.number().min(100).max(1e7).describe('Pull-up of the line that is pulled down'),
    })
    .describe('Lines of another device behind optocouplers'),
  z
    .strictObject({
      kind: z.literal('mosfet'),
      onOhms: z.number().min(1e-4).max(100),
      onAtGateVolts: z.number().min(1).max(15),
      maxAmps: amps,
    })
    .describe('Load switched to ground by a MOSFET'),
])
const wiring = z.strictObject({
  driver: driverSchema,
  load: z
    .strictObject({
      type: z.enum(['resistive', 'motor', 'led-driver', 'tungsten', 'solenoid']),
      volts,
      amps,
      mains: z.boolean(),
    })
    .nullable()
    .describe('What is switched; null = not said'),
  contact: z
    .strictObject({ ratedAmps: amps, inrushAmps: z.number().min(0.1).max(2000) })
    .nullable()
    .describe('Rating of the relay contact; null = not said'),
  run: z
    .strictObject({
      lengthMeters: z.number().min(0.01).max(1000),
      sectionMm2: z.number().min(0.01).max(100),
    })
    .nullable()
    .describe('Low-voltage lead to the load, one way; null = not said'),
  duty: z
    .strictObject({
      ratedShare: z.number().min(0.01).max(1).describe('Rated duty, 0.15 = 15 %'),
      maxOnSeconds: z.number().min(0.01).max(1e6),
      periodSeconds: z.number().min(0.1).max(1e6).describe('It is asked for about this often'),
    })
    .nullable()
    .describe('Duty of a solenoid; null = not said'),
  dangers: z
    .array(z.enum(['heat', 'gas', 'motion', 'lock', 'water']))
    .max(5)
    .describe('What can hurt somebody'),
})

const load = z.strictObject({
  id,
  name,
  controllerId: id,
  note: plainText(80),
  room: plainText(LIMITS.nameLength).describe(
    'Where it is; loads of one room stand together on panels',
  ),
  output,
  wiring,
})

const controlBase = {
  id,
  loadId: id,
  pin,
  debounceMs: ms(1_000).describe('Level must be stable this long, ms'),
  leadMeters: z.number().min(0).max(500),
  pullOhms: z
    .number()
    .min(100)
    .max(1e6)
    .nullable()
    .describe("Pull-up outside the board; null = the board's own"),
}
const asks = z
  .string()
  .max(8)
  .describe('A value of the load; "toggle" between rest and that; "up" or "down" to the next one')
const control = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('push'),
    ...controlBase,
    asks,
    lockoutMs: ms(10_000).describe('Presses ignored after an accepted one, ms'),
    gestures: z
      .array(z.strictObject({ on: z.enum(['double', 'triple', 'hold']), loadId: id, asks }))
      .max(3)
      .describe('What else the button does, pressed twice or three times or held down'),
    doubleMs: ms(2000)
      .min(150)
      .describe('A press that begins within this time after the one before belongs to it, ms'),
    holdMs: ms(10_000).min(300).describe('Pressed this long it is held down, ms'),
  }),
  z.strictObject({
    kind: z.literal('latching'),
    ...controlBase,
    asks,
    acts: z.enum(['position', 'movement']).describe('Position decides, or any movement toggles'),
    atStart: z
      .enum(['stay', 'follow'])
      .describe(
        'Where position decides: at a start the load stays as its power-up policy says, or follows the lever',
      ),
  }),
])

const handSurface = z.strictObject({
  kind: z.literal('hand'),
  id,
  name,
  inSight: z.boolean().describe('The loads can be seen from where the controls are'),
  controls: z.array(control).max(LIMITS.controls),
})

export const FORMS = [
  'pair',
  'state',
  'trigger',
  'hold',
  'each',
  'stepper',
  'fader',
  'number',
  'timer',
] as const
export const GUARDS = ['none', 'slide', 'hold', 'pin', 'unlock'] as const
const mm = z.number().min(0).max(1_000).describe('Millimetres')
const guard = z
  .enum(GUARDS)
  .describe(
    "What a person does first: slide the lock, hold to confirm, give the PIN of the page, or the phone's own unlock",
  )
const onPage = {
  id,
  page: z
    .number()
    .int()
    .min(0)
    .max(LIMITS.pages - 1),
  xMm: mm,
  yMm: mm,
  widthMm: mm.min(1),
  heightMm: mm.min(1),
}
const panelKey = z.strictObject({
  ...onPage,
  loadId: id,
  form: z
    .enum(FORMS)
    .describe(
      'Pair of keys; one key with state; trigger; key to hold; a key for each value; a key for the next value either way; fader; typed number; timer with a time',
    ),
  guard,
})
const scale = {
  low: z.number().min(-1e6).max(1e6).describe('Left or lower end of its scale'),
  high: z.number().min(-1e6).max(1e6),
}
const limitValue = z.number().min(-1e6).max(1e6).nullable()
const panelPart = z.discriminatedUnion('form', [
  z
    .strictObject({ form: z.literal('readout'), ...onPage, sensorId: id })
    .describe('A value in large figures'),
  z
    .strictObject({
      form: z.literal('gauge'),
      ...onPage,
      sensorId: id,
      ...scale,
      warnBelow: limitValue,
      warnAbove: limitValue,
    })
    .describe('A value on a scale, with limits'),
  z
    .strictObject({
      form: z.literal('history'),
      ...onPage,
      sensorId: id,
      ...scale,
      minutes: z.number().int().min(1).max(1440).describe('How far back it reaches'),
    })
    .describe('A value over time'),
  z
    .strictObject({ form: z.literal('column'), ...onPage, sensorId: id, ...scale })
    .describe('A level as a column'),
  z
    .strictObject({ form: z.literal('tilt'), ...onPage, sensorId: id })
    .describe('Where a two-axis input points'),
  z
    .strictObject({ form: z.literal('scene'), ...onPage, sceneId: id, guard })
    .describe('A key for several loads at once'),
  z.strictObject({ form: z.literal('text'), ...onPage, text: plainText(160, 1) }),
  z.strictObject({ form: z.literal('connection'), ...onPage }).describe('Connected, or why not'),
  z.strictObject({ form: z.literal('answers'), ...onPage }).describe('What was answered last'),
])
export const DEVICE_IDS = ['phone-small', 'phone-large', 'tablet', 'browser', 'own'] as const
const picture = z
  .string()
  .max(LIMITS.pictureLength, 'the picture is too large; take one that is downscaled')
  .regex(
    /^data:image\/(jpeg|png|webp);base64,[A-Za-z0-9+/]+=*$/,
    'a picture is a JPEG, PNG or WebP as data:image/...;base64,...',
  )
  .nullable()
const theme = z.strictObject({
  look: z.enum(['auto', 'day', 'night']).describe('By the device, or always one of them'),
  paper: colour,
  ink: colour,
  nightPaper: colour,
  nightInk: colour,
  roundMm: z.number().min(0).max(8).describe('Roundness of keys, mm'),
  textMm: z.number().min(2.2).max(6).describe('Size of names on keys, mm'),
})

const belief = z.strictObject({
  policy: z.enum(['assume', 'confirm', 'report']),
  timeoutMs: ms(60_000).min(50).describe('Confirm: wait this long for an answer, ms'),
  retries: z.number().int().min(0).max(5),
  onLoss: z
    .enum(['keep', 'stale', 'unknown'])
    .describe('What the keys show after the link is lost'),
})

const panelSurface = z.strictObject({
  kind: z.literal('panel'),
  id,
  name,
  linkId: id,
  device: z.enum(DEVICE_IDS).describe('Generic device size; own = ownMm'),
  landscape: z.boolean(),
  ownMm: z
    .strictObject({ widthMm: mm.min(30).max(600), heightMm: mm.min(30).max(600) })
    .describe('Glass of a device of another size, upright'),
  theme,
  pageAddress: z
    .string()
    .max(120)
    .regex(/^(https?:\/\/[^\s<>"]+)?$/, 'an address of a page starts with http:// or https://')
    .describe('Where the page is opened, for wall cards; "" = not said'),
  pages: z
    .array(z.strictObject({ name, picture: picture.describe('Behind the keys; null = none') }))
    .min(1)
    .max(LIMITS.pages),
  pollMs: ms(3_600_000).describe('Asks for the state this often, ms; 0 = never asks'),
  belief,
  keys: z.array(panelKey).max(LIMITS.loads).describe('What commands loads'),
  parts: z
    .array(panelPart)
    .max(LIMITS.parts)
    .describe('What else stands on it: readings, scenes, lines, text'),
})

const peerSurface = z
  .strictObject({
    kind: z.literal('peer'),
    id,
    name,
    linkId: id,
    shows: z.boolean().describe('It has a lamp or a pointer for what it switches'),
    pollMs: ms(3_600_000).describe('Asks for the state this often, ms; 0 = never asks'),
    belief,
    keys: z
      .array(z.strictObject({ loadId: id, form: z.enum(FORMS) }))
      .max(LIMITS.loads)
      .describe('What can be pressed or turned on it'),
  })
  .describe('A box or board of its own: button box, knob box, second controller')

const surface = z.discriminatedUnion('kind', [handSurface, panelSurface, peerSurface])

const timing = z
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

const charCode = z.string().max(LIMITS.codeLength)
const routeCode = z
  .string()
  .max(LIMITS.routeLength)
  .regex(
    /^(\/[A-Za-z0-9._~/-]*)?$/,
    'a route starts with / and holds letters, digits, and . _ ~ - /',
  )

const reporting = {
  loadId: id,
  ack: z.boolean().describe('Each command is answered with the state after it'),
  change: z.boolean().describe('Every change is reported, whoever made it'),
}
const valueId = z.string().regex(/^[a-z0-9]{1,8}$/)
const charMessage = z.strictObject({
  ...reporting,
  codes: z.record(valueId, charCode).describe('A code for each value of the load'),
})
const routeMessage = z.strictObject({
  ...reporting,
  codes: z.record(valueId, routeCode).describe('A route for each value of the load'),
})

/** A reading that is told on a link, unasked: when it moved far enough, and again after a time. */
const told = {
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
const byteReading = z.strictObject({
  ...told,
  code: charCode.min(1).describe('Stands before the value'),
})
const routeReading = z.strictObject(told)

/**
 * Who may command. The word, PIN or key itself is a secret: it is kept apart and is never in the
 * document.
 */
const auth = z.discriminatedUnion('kind', [
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
])
const linkBase = {
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
const terminator = z.enum(['lf', 'crlf', 'cr', 'semicolon'])
const dialect = z.discriminatedUnion('kind', [
  z
    .strictObject({ kind: z.literal('codes') })
    .describe('Short codes that follow one another without ends'),
  z
    .strictObject({
      kind: z.literal('lines'),
      template: z.string().max(60).describe('How lines are made: "{load} {value}"'),
      terminator,
    })
    .describe('Lines of text'),
  z.strictObject({ kind: z.literal('pairs'), terminator }).describe('load=value'),
  z
    .strictObject({ kind: z.literal('json'), terminator })
    .describe('A JSON object a line, with one load'),
  z
    .strictObject({
      kind: z.literal('packed'),
      crc: z.string().max(20).describe('Name of a CRC, or ""'),
      endian: z.enum(['little', 'big']),
      framing: z
        .enum(['slip', 'cobs', 'length', 'none'])
        .describe('How frames are told apart; none only where each message is a datagram'),
      packed: z.boolean().describe('Without padding, by attribute'),
      fields: z
        .array(
          z.strictObject({
            name: z.string().regex(/^[a-z][a-zA-Z0-9]{0,15}$/),
            type: z.enum(['u8', 'i8', 'u16', 'i16', 'u32', 'i32']),
            is: z.enum(['kind', 'load', 'value', 'spare']),
          }),
        )
        .min(2)
        .max(8),
    })
    .describe('A packed structure in frames'),
])
/** What every link has that carries messages as bytes. */
const byteLink = {
  ...linkBase,
  dialect,
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
const byteMessages = {
  scenes: z.record(id, charCode).describe('A code for each scene that can be asked for here'),
  messages: z.array(charMessage).max(LIMITS.loads),
  readings: z.array(byteReading).max(LIMITS.sensors),
}
const baud = z.union([
  z.literal(9600),
  z.literal(19200),
  z.literal(38400),
  z.literal(57600),
  z.literal(115200),
])
const network = z
  .enum(['own', 'router'])
  .describe('Own access point, or joined to the house network')
const hardwareAddress = z
  .string()
  .regex(
    /^([0-9A-F]{2}:){5}[0-9A-F]{2}$/,
    'a hardware address looks like 02:00:5E:10:00:01, in capitals',
  )
const port = z.number().int().min(1).max(65_535)
const bluetoothLink = z.strictObject({
  kind: z.literal('bluetooth-serial'),
  ...byteLink,
  baud,
  radio: z
    .enum(['module', 'chip'])
    .describe('A module on the serial port, or the radio of the chip itself'),
  statusPin: pin.nullable().describe("Pin wired to the module's connected line; null = not wired"),
  ...byteMessages,
})
const wireLink = z
  .strictObject({
    kind: z.literal('wire'),
    ...byteLink,
    baud,
    receivePin: pin,
    sendPin: pin,
    ...byteMessages,
  })
  .describe('Serial wires to another board or a computer')
const udpLink = z
  .strictObject({
    kind: z.literal('udp'),
    ...byteLink,
    network,
    address: z
      .string()
      .max(60)
      .regex(/^[A-Za-z0-9.-]+$/, 'an address looks like 192.168.4.1'),
    port,
    toAll: z.boolean().describe('Reports go to everybody in the network; else to who asked last'),
    ...byteMessages,
  })
  .describe('Datagrams: each may be lost, come twice or overtake another')
const peerLink = z
  .strictObject({
    kind: z.literal('peer'),
    ...byteLink,
    channel: z.number().int().min(1).max(13),
    boardAddress: hardwareAddress.describe('Of the controller'),
    otherAddress: hardwareAddress.describe('Of the other side; FF:FF:FF:FF:FF:FF = everybody'),
    payloadBytes: z.number().int().min(16).max(1470).describe('Longest message the radio takes'),
    ...byteMessages,
  })
  .describe('Radio from board to board, without a network')
const httpLink = z.strictObject({
  kind: z.literal('http'),
  ...linkBase,
  network,
  address: z
    .string()
    .max(80)
    .regex(/^http:\/\/[A-Za-z0-9.-]+(:\d{1,5})?$/, 'an address looks like http://192.168.4.1'),
  matching: z
    .enum(['exact', 'prefix', 'contains'])
    .describe('How the board finds the route of a request, in the order of the table'),
  method: z
    .enum(['get', 'post'])
    .describe('How commands are asked for; the state is always read by GET'),
  answers: z
    .enum(['text', 'json', 'page'])
    .describe('What answers hold: lines of load=value, a JSON object, or a page for people'),
  askRoute: routeCode.min(2),
  eventsRoute: routeCode.min(2),
  helloRoute: routeCode.describe('Asks who is there; "" = not known'),
  scenes: z.record(id, routeCode).describe('A route for each scene that can be asked for here'),
  messages: z.array(routeMessage).max(LIMITS.loads),
  readings: z.array(routeReading).max(LIMITS.sensors),
})
const link = z.discriminatedUnion('kind', [bluetoothLink, wireLink, udpLink, peerLink, httpLink])

const raw = z.number().int().min(0).max(16_777_215)
const reading = {
  unit: plainText(8).describe('Unit of the value'),
  calibration: z
    .strictObject({ raw1: raw, value1: z.number(), raw2: raw, value2: z.number() })
    .nullable()
    .describe('Two readings whose true values are known; null = not calibrated'),
}
const sensorBase = { id, name, controllerId: id }
const lead = { leadMeters: z.number().min(0).max(500) }
export const sensorSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('infrared'),
    ...sensorBase,
    pin,
    keys: z
      .array(
        z.strictObject({
          address: z.number().int().min(0).max(0xffff),
          command: z.number().int().min(0).max(0xffff),
          loadId: id,
          asks,
        }),
      )
      .max(60)
      .describe('Keys that were learnt'),
  }),
  z.strictObject({
    kind: z.literal('knob'),
    ...sensorBase,
    pin,
    pinB: pin,
    loadId: id,
    detentsPerTurn: z.number().int().min(1).max(1000),
    countsPerDetent: z
      .union([z.literal(1), z.literal(2), z.literal(4)])
      .describe('Changes of the two lines from one detent to the next'),
    accelerated: z.boolean().describe('Turned fast, each detent counts twice'),
    debounceMs: ms(1000),
    ...lead,
  }),
  z
    .strictObject({
      kind: z.literal('contact'),
      ...sensorBase,
      pin,
      debounceMs: ms(1000),
      pullOhms: z.number().min(100).max(1e6).nullable(),
      ...lead,
    })
    .describe('Door, tilt or limit contact to ground'),
  z.strictObject({
    kind: z.literal('floats'),
    ...sensorBase,
    floats: z
      .array(
        z.strictObject({
          pin,
          level: z.number().min(0).max(1e6).describe('Level at which it closes'),
        }),
      )
      .min(1)
      .max(8)
      .describe('From the lowest up'),
    unit: plainText(8),
    ...lead,
  }),
  z
    .strictObject({
      kind: z.literal('thermometer'),
      ...sensorBase,
      pin,
      pullOhms: z.number().min(100).max(1e6),
      ...lead,
    })
    .describe('Digital thermometer on one line'),
  z.strictObject({
    kind: z.literal('thermistor'),
    ...sensorBase,
    pin,
    ohmsAt25: z.number().min(10).max(1e7),
    beta: z.number().min(1000).max(10_000),
    seriesOhms: z.number().min(100).max(1e7),
    celsius: z.number().min(-55).max(300).describe('Temperature that matters most'),
  }),
  z.strictObject({
    kind: z.literal('analog'),
    ...sensorBase,
    pin,
    maxVolts: volts,
    divider: z
      .strictObject({
        upperOhms: z.number().min(10).max(1e8),
        lowerOhms: z.number().min(10).max(1e8),
      })
      .nullable(),
    ...reading,
  }),
  z
    .strictObject({
      kind: z.literal('battery'),
      ...sensorBase,
      pin,
      maxVolts: volts,
      emptyVolts: volts,
      upperOhms: z.number().min(10).max(1e8),
      lowerOhms: z.number().min(10).max(1e8),
    })
    .describe('Voltage of a battery through a divider'),
  z.strictObject({
    kind: z.literal('two-axis'),
    ...sensorBase,
    pin,
    pinB: pin,
    degrees: z.number().min(-180).max(180).describe('It is mounted at this angle'),
  }),
])

const front = z
  .strictObject({
    controllerId: id.describe('The controller it stands in front of'),
    board: id.describe('Board that talks to the network'),
    name,
    baud,
    receivePin: pin.describe('Pin of the controller that hears it'),
    sendPin: pin.describe('Pin of the controller that talks to it'),
    shift: z.enum(['divider', 'shifter', 'none']).describe('What stands between their voltages'),
  })
  .describe(
    'A second board in front: it takes the network links and passes codes on over a serial wire',
  )

const scene = z
  .strictObject({
    id,
    name,
    sets: z
      .array(z.strictObject({ loadId: id, value: valueId }))
      .min(1)
      .max(LIMITS.loads)
      .describe('What each load is told, in this order'),
  })
  .describe('Several loads told at once: all off, closing time')

const sets = z
  .array(z.strictObject({ loadId: id, value: valueId }))
  .min(1)
  .max(LIMITS.loads)
const ruleBase = {
  id,
  name,
  sensorId: id,
  sets: sets.describe('What each load is told, in this order'),
  atStart: z
    .boolean()
    .describe('The first reading after a start counts as a crossing when it lies beyond already'),
}
const limit = z.number().min(-1e6).max(1e6)
const rule = z
  .discriminatedUnion('when', [
    z.strictObject({
      when: z.literal('above'),
      ...ruleBase,
      limit,
      back: z
        .number()
        .min(0)
        .max(1e6)
        .describe('Hysteresis: acts again only after the reading was this far back'),
    }),
    z.strictObject({
      when: z.literal('below'),
      ...ruleBase,
      limit,
      back: z.number().min(0).max(1e6),
    }),
    z.strictObject({
      when: z.literal('moved'),
      ...ruleBase,
      limit: z
        .number()
        .min(0)
        .max(1e6)
        .describe('Way travelled since it acted last, in the unit of the reading'),
    }),
    z.strictObject({
      when: z.literal('is'),
      ...ruleBase,
      text: z.string().min(1).max(16).describe('The reading as text: "open", "broken"'),
    }),
  ])
  .describe('Something that the controller does by itself when a reading crosses a limit')

export const designSchema = z
  .strictObject({
    format: z.literal(DESIGN_FORMAT),
    version: z.literal(DESIGN_VERSION),
    id,
    name,
    place: plainText(LIMITS.nameLength),
    controllers: z
      .array(controller)
      .min(1)
      .max(LIMITS.controllers)
      .describe('Boards that switch loads'),
    boards: z.array(boardSchema).max(LIMITS.boards).describe("Board profiles of the maker's own"),
    supply: z
      .strictObject({ volts: z.number().min(1).max(60), amps: z.number().min(0.05).max(100) })
      .describe('What feeds the board and its relays'),
    wires: z
      .strictObject({ output: colour, contact: colour, sense: colour, serial: colour })
      .describe('Colours of wires in the drawing'),
    front: front.nullable().describe('null = the controller talks to the network itself'),
    networks: z
      .array(plainText(32, 1))
      .max(LIMITS.networks)
      .describe(
        'Names of networks, letter by letter, in the order in which a board tries them; the first is that of its own access point',
      ),
    loads: z.array(load).max(LIMITS.loads),
    scenes: z.array(scene).max(LIMITS.scenes),
    rules: z.array(rule).max(LIMITS.rules),
    sensors: z.array(sensorSchema).max(LIMITS.sensors),
    surfaces: z.array(surface).max(LIMITS.surfaces),
    links: z.array(link).max(LIMITS.links),
  })
  .meta({
    title: 'Nolvi design',
    description: 'Loads, surfaces, links and messages of relay controllers',
  })

export type Design = z.infer<typeof designSchema>
export type Controller = Design['controllers'][number]
export type Load = Design['loads'][number]
export type Surface = Design['surfaces'][number]
export type HandSurface = Extract<Surface, { kind: 'hand' }>
export type PanelSurface = Extract<Surface, { kind: 'panel' }>
export type PeerSurface = Extract<Surface, { kind: 'peer' }>
/** Surfaces at the other end of a link. */
export type RemoteSurface = PanelSurface | PeerSurface
export type Control = HandSurface['controls'][number]
export type Gesture = 'single' | Extract<Control, { kind: 'push' }>['gestures'][number]['on']
export type PanelKey = PanelSurface['keys'][number]
export type PanelPart = PanelSurface['parts'][number]
/** Whatever has a place on a panel. */
export type PanelItem = PanelKey | PanelPart
export type Guard = PanelKey['guard']
export type Theme = PanelSurface['theme']
export type DeviceId = PanelSurface['device']
export type LinkReading = Link['readings'][number]
export type BeliefPolicy = PanelSurface['belief']
export type Link = Design['links'][number]
/** Links whose messages are bytes, in a dialect. */
export type ByteLink = Exclude<Link, { kind: 'http' }>
/** Those of them that are serial lines, with a speed. */
export type SerialLink = Extract<Link, { baud: number }>
export type BluetoothLink = Extract<Link, { kind: 'bluetooth-serial' }>
export type PeerLink = Extract<Link, { kind: 'peer' }>
export type UdpLink = Extract<Link, { kind: 'udp' }>
export type LinkKind = Link['kind']
export type Auth = Link['auth']
export type HttpLink = Extract<Link, { kind: 'http' }>
export type Message = Link['messages'][number]
export type Wiring = Load['wiring']
export type Danger = Wiring['dangers'][number]
export type Sensor = Design['sensors'][number]
export type Scene = Design['scenes'][number]
export type Rule = Design['rules'][number]
export type Front = NonNullable<Design['front']>
export type Driver = Wiring['driver']
export type Output = Load['output']
export type Codes = Message['codes']

export const DEFAULT_THEME: Theme = {
  look: 'auto',
  paper: '#fcfaf5',
  ink: '#24211d',
  nightPaper: '#262320',
  nightInk: '#f0eadd',
  roundMm: 1.6,
  textMm: 3.1,
}

/** What a new panel is before anything stands on it. */
export const NEW_PANEL: Pick<
  PanelSurface,
  'device' | 'landscape' | 'ownMm' | 'theme' | 'pageAddress' | 'pages' | 'parts'
> = {
  device: 'phone-small',
  landscape: false,
  ownMm: { widthMm: 100, heightMm: 160 },
  theme: DEFAULT_THEME,
  pageAddress: '',
  pages: [{ name: 'Main', picture: null }],
  parts: [],
}

/** Ink, green, ochre and blue: apart in daylight, and each with a dash of its own. */
export const DEFAULT_WIRES: Design['wires'] = {
  output: '#24211d',
  contact: '#17705f',
  sense: '#8a6116',
  serial: '#2b4a6f',
}

/** What a load has before its maker says more. */
export const DEFAULT_WIRING: Wiring = {
  driver: { kind: 'relay-module', amps: 0.07 },
  load: null,
  contact: null,
  run: null,
  duty: null,
  dangers: [],
}

/** A push button that knows one gesture. */
export const NO_GESTURES: Pick<
  Extract<Control, { kind: 'push' }>,
  'gestures' | 'doubleMs' | 'holdMs'
> = { gestures: [], doubleMs: 350, holdMs: 700 }

/** JSON Schema (draft 2020-12) of the document. */
export function designJsonSchema(): object {
  return z.toJSONSchema(designSchema, { unrepresentable: 'any' })
}
