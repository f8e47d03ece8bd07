/**
 * The design document, version 11: one Zod schema from which types, validation and the published
 * JSON Schema come. Unknown keys are refused; references between parts are checked in
 * `validate.ts`.
 */
import { z } from 'zod'
import { boardSchema, FIRST_EXPANDED } from '../boards/schema'
import { linkSchema, type Link, type LinkKind, type LinkOf } from './links/schema'
import { outputSchema, type Output, type OutputKind, type OutputOf } from './outputs/schema'
import { sensorSchema, type Sensor, type SensorKind, type SensorOf } from './sensors/schema'
import type { Dialect, DialectKind, DialectOf } from './dialects/schema'
import {
  activeLevel,
  amps,
  asks,
  colour,
  id,
  LIMITS,
  ms,
  name,
  ohms,
  picture,
  pin,
  plainText,
  valueId,
  volts,
} from './shapes'
import { baud } from './links/shapes'
import { ICON_CHOICES } from './icon-names'

export { LIMITS }
export type {
  Dialect,
  DialectKind,
  DialectOf,
  Link,
  LinkKind,
  LinkOf,
  Output,
  OutputKind,
  OutputOf,
  Sensor,
  SensorKind,
  SensorOf,
}

export const DESIGN_FORMAT = 'nolvi-design'
export const DESIGN_VERSION = 11

const lampBase = { id, name, pin, activeLevel }
const lamp = z.discriminatedUnion('shows', [
  z
    .strictObject({ ...lampBase, shows: z.literal('link'), linkId: id })
    .describe(
      'On while the link is connected; where it has no connection, shortly at each message',
    ),
  z
    .strictObject({ ...lampBase, shows: z.literal('network') })
    .describe('On while the board is in its network'),
  z
    .strictObject({ ...lampBase, shows: z.literal('waiting') })
    .describe('On while a load is not yet where it was asked to be'),
])
const expanderBase = {
  id,
  name,
  firstPin: pin.min(FIRST_EXPANDED).describe('Number of its first pin; the others follow'),
}
const expander = z.discriminatedUnion('kind', [
  z
    .strictObject({
      kind: z.literal('shift'),
      ...expanderBase,
      pins: z.union([z.literal(8), z.literal(16), z.literal(24)]),
      dataPin: pin,
      clockPin: pin,
      latchPin: pin,
      enablePin: pin
        .nullable()
        .describe('Output enable with a pull-up; null = not wired, so that it starts at anything'),
    })
    .describe('Shift registers in a row, outputs only'),
  z
    .strictObject({
      kind: z.literal('two-wire'),
      ...expanderBase,
      pins: z.union([z.literal(8), z.literal(16)]),
      dataPin: pin,
      clockPin: pin,
      address: z.number().int().min(8).max(119),
    })
    .describe('Pins behind a two-wire bus, in and out'),
])
const regulator = z.strictObject({
  id,
  name,
  kind: z.enum(['linear', 'switching']),
  fedBy: id.nullable().describe('The regulator before it; null = the supply'),
  volts: z.number().min(0.8).max(48),
  maxAmps: amps,
  dropoutVolts: z
    .number()
    .min(0)
    .max(10)
    .describe('Its input lies at least this far above its output, V'),
  efficiency: z
    .number()
    .min(0.3)
    .max(1)
    .describe('Of a switching one, 0.9 = 90 %; a linear one loses the difference as heat'),
})
const fedBy = id.nullable().describe('The regulator that feeds it; null = the supply')

const controller = z.strictObject({
  id,
  name,
  board: id.describe("A shipped board profile, or one of the design's own"),
  bootMs: ms(60_000).describe('From power to the first line of the program, ms'),
  fedBy,
  lamps: z.array(lamp).max(LIMITS.lamps).describe('Lamps that nobody switches'),
  expanders: z.array(expander).max(LIMITS.expanders),
  kept: z
    .array(z.string().max(90))
    .max(100)
    .describe(
      'Needs whose pins stay where the maker put them: "load:fan", "control:fan-button", "status:phone-link"',
    ),
})

const mosfet = {
  onOhms: z.number().min(1e-4).max(100),
  onAtGateVolts: z.number().min(1).max(15),
  maxAmps: amps,
}
export const driverSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('none') }).describe('Nothing is wired'),
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
      baseOhms: z
        .number()
        .min(0)
        .max(1e6)
        .describe('A base resistor that is there already; 0 = the one that the sum says'),
      gate: z
        .strictObject(mosfet)
        .nullable()
        .describe('A MOSFET that switches the coil; null = an NPN transistor does'),
    })
    .describe('Relay coil behind a transistor'),
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
      kind: z.literal('four-coils'),
      coilVolts: volts,
      coilOhms: z.number().min(0.1).max(10_000),
      maxAmps: amps.describe('Limit of each switch of the array'),
      lossVolts: z.number().min(0).max(5).describe('Voltage lost in a switch'),
      stepsPerTurn: z.number().int().min(1).max(100_000).describe('Full steps, gearing included'),
    })
    .describe('Four coils with a common end, behind an array of switches with diodes'),
  z
    .strictObject({ kind: z.literal('mosfet'), ...mosfet })
    .describe('Load switched to ground by a MOSFET'),
])
const wiring = z.strictObject({
  driver: driverSchema,
  isolator: z
    .strictObject({
      lampVolts: volts,
      lampAmps: amps,
      transferMin: z.number().min(0.01).max(20).describe('Least current transfer, 0.5 = 50 %'),
    })
    .nullable()
    .describe('A light isolator between pin and driver; null = none'),
  fedBy,
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
  output: outputSchema,
  wiring,
})

const furtherGesture = z.enum(['double', 'triple', 'hold'])
const controlBase = {
  id,
  loadId: id,
  sceneId: id
    .nullable()
    .describe(
      'Asks for this scene instead; its load is one that the scene sets. null = for its load',
    ),
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
const control = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('push'),
    ...controlBase,
    asks,
    lockoutMs: ms(10_000).describe('Presses ignored after an accepted one, ms'),
    gestures: z
      .array(
        z.union([
          z.strictObject({ on: furtherGesture, loadId: id, asks }),
          z.strictObject({ on: furtherGesture, sceneId: id }).describe('Asks for a scene'),
        ]),
      )
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
  'shown',
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
      'Pair of keys; one key with state; trigger; key to hold; a key for each value; a key for the next value either way; fader; typed number; timer with a time; what it is in large letters',
    ),
  guard,
  icon: z
    .enum(ICON_CHOICES)
    .describe('Beside its name: that of its kind of load, one of its own, or none'),
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
  z
    .strictObject({
      form: z.literal('countdown'),
      ...onPage,
      minutes: z.number().int().min(1).max(600).describe('It starts with so many'),
    })
    .describe('A kitchen timer of the page itself: it tells no board anything'),
  z
    .strictObject({
      form: z.literal('device'),
      ...onPage,
      reads: z.enum(['battery', 'tilt', 'position']),
    })
    .describe('A reading of the device that shows the page, where its browser gives it'),
  z.strictObject({ form: z.literal('answers'), ...onPage }).describe('What was answered last'),
])
export const DEVICE_IDS = ['phone-small', 'phone-large', 'tablet', 'browser', 'own'] as const
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
    boardId: id
      .nullable()
      .describe('The controller of this design that it is; null = what is inside is not drawn'),
    controls: z
      .array(control)
      .max(LIMITS.controls)
      .describe('Hand controls wired to its board; they ask over its link'),
    leastMs: ms(10_000).describe(
      'Messages of its controls and sensors not more often than this, ms; where they end is always sent; 0 = no limit',
    ),
    keys: z
      .array(
        z.strictObject({
          loadId: id,
          form: z.enum(FORMS),
          asks: z
            .array(valueId)
            .min(1)
            .max(LIMITS.values)
            .nullable()
            .describe('What it asks for; null = all that the form offers'),
        }),
      )
      .max(LIMITS.loads)
      .describe(
        'What can be pressed or turned on it; of a board of the design what is wired to it',
      ),
    scenes: z.array(id).max(LIMITS.scenes).describe('Scenes that it asks for'),
  })
  .describe('A box or board of its own: button box, knob box, second controller')

const surface = z.discriminatedUnion('kind', [handSurface, panelSurface, peerSurface])

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

const sets = z.array(z.strictObject({ loadId: id, value: valueId })).max(LIMITS.loads)
const ruleBase = {
  id,
  name,
  sensorId: id,
  sets: sets.describe('What each load is told, in this order; none where it asks for a scene'),
  sceneId: id.nullable().describe('The scene that it asks for; null = what it sets itself'),
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
    regulators: z
      .array(regulator)
      .max(LIMITS.regulators)
      .describe('What makes other voltages of the supply, in the order of the chain'),
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
    links: z.array(linkSchema).max(LIMITS.links),
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
export type FarSurface = PanelSurface | PeerSurface
/** Surfaces with controls on pins of a board. */
export type WiredSurface = HandSurface | PeerSurface
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
/** Links whose messages are bytes, in a dialect. */
export type ByteLink = Exclude<Link, { kind: 'http' }>
/** Those of them that are serial lines, with a speed. */
export type SerialLink = Extract<Link, { baud: number }>
export type BluetoothLink = Extract<Link, { kind: 'bluetooth-serial' }>
export type PeerLink = Extract<Link, { kind: 'peer' }>
export type UdpLink = Extract<Link, { kind: 'udp' }>
export type Auth = Link['auth']
export type HttpLink = Extract<Link, { kind: 'http' }>
export type Message = Link['messages'][number]
export type Wiring = Load['wiring']
export type Danger = Wiring['dangers'][number]
export type Scene = Design['scenes'][number]
export type Rule = Design['rules'][number]
export type Front = NonNullable<Design['front']>
export type Driver = Wiring['driver']
export type Regulator = Design['regulators'][number]
export type Lamp = Controller['lamps'][number]
export type Expander = Controller['expanders'][number]
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
  isolator: null,
  fedBy: null,
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
