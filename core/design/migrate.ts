/**
 * Documents of older versions brought to the newest, one version at a time. A step works on
 * anything that claims to be of its version: what is not as expected is left as it is, for the
 * schema to name.
 */
import { migrateBoard } from '../boards/schema'
import { DEFAULT_WIRES, DEFAULT_WIRING, DESIGN_VERSION, NEW_PANEL, NO_GESTURES } from './schema'
import { PLAIN_LINK } from './links/facet'

type Document = Record<string, unknown>

/**
 * The document in the newest version; the value itself is left alone. The schema makes it objects
 * of its own.
 */
export function migrate(value: object, version: number): object {
  let document = value as Document
  for (let from = version; from < DESIGN_VERSION; from++)
    document = STEPS[from]?.(document) ?? document
  return document
}

const STEPS: Record<number, (document: Document) => Document> = {
  /**
   * 1 to 2: boards of the maker's own, supply, what drives each load, leads of hand controls, pins
   * that are kept.
   */
  1: document => ({
    ...document,
    version: 2,
    boards: [],
    supply: { volts: 5, amps: 1 },
    wires: DEFAULT_WIRES,
    controllers: each(document.controllers, c => ({ ...c, kept: [] })),
    loads: each(document.loads, l => ({
      ...l,
      wiring: { driver: DEFAULT_WIRING.driver, load: null, contact: null, run: null },
    })),
    surfaces: each(document.surfaces, s =>
      s.kind === 'hand'
        ? { ...s, controls: each(s.controls, c => ({ ...c, leadMeters: 1, pullOhms: null })) }
        : s,
    ),
  }),
  /**
   * 2 to 3: outputs of other kinds than switched, so a code for each value, and what each hand
   * control asks for; sensors, a second board, dangers.
   */
  2: document => ({
    ...document,
    version: 3,
    front: null,
    sensors: [],
    boards: Array.isArray(document.boards) ? document.boards.map(migrateBoard) : document.boards,
    loads: each(document.loads, l => ({
      ...l,
      wiring:
        typeof l.wiring === 'object' && l.wiring
          ? { ...l.wiring, duty: null, dangers: [] }
          : l.wiring,
    })),
    surfaces: each(document.surfaces, s =>
      s.kind === 'hand'
        ? {
            ...s,
            controls: each(s.controls, c => ({
              ...c,
              asks: 'toggle',
              ...(c.kind === 'push' ? NO_GESTURES : {}),
            })),
          }
        : s,
    ),
    links: each(document.links, l => ({
      ...l,
      ...(l.kind === 'bluetooth-serial' ? { dialect: { kind: 'codes' }, echoes: false } : {}),
      ...(l.kind === 'http' ? { matching: 'exact' } : {}),
      messages: each(l.messages, ({ on, off, ...m }) => ({ ...m, codes: { on, off } })),
    })),
  }),
  /**
   * 3 to 4: links of more kinds, who is there and error answers, boxes as surfaces, scenes, several
   * controllers.
   */
  3: document => {
    const controllerId = Array.isArray(document.controllers)
      ? (document.controllers[0] as Document | undefined)?.id
      : undefined
    return {
      ...document,
      version: 4,
      networks: [],
      scenes: [],
      loads: each(document.loads, l => ({
        ...l,
        output:
          typeof l.output === 'object' && l.output && (l.output as Document).kind === 'switched'
            ? { ...l.output, timers: null }
            : l.output,
      })),
      front:
        typeof document.front === 'object' && document.front
          ? { controllerId, ...document.front }
          : document.front,
      sensors: each(document.sensors, s => ({ ...s, controllerId })),
      links: each(document.links, l => ({
        ...l,
        auth: { kind: 'none' },
        scenes: {},
        ...(l.kind === 'bluetooth-serial' ? { radio: 'module', helloCode: '', errorText: '' } : {}),
        ...(l.kind === 'http' ? { method: 'get', answers: 'text', helloRoute: '' } : {}),
      })),
    }
  },
  /**
   * 4 to 5: rooms; panels of any size with pages and a theme, keys with ids and guards, parts that
   * are no keys; readings on links.
   */
  4: document => ({
    ...document,
    version: 5,
    loads: each(document.loads, l => ({ ...l, room: '' })),
    links: each(document.links, l => ({ ...l, readings: [] })),
    surfaces: each(document.surfaces, s =>
      s.kind === 'panel'
        ? {
            ...s,
            ...NEW_PANEL,
            device: s.device,
            keys: each(s.keys, k => ({ ...k, id: k.loadId, page: 0, guard: 'none' })),
          }
        : s,
    ),
  }),
  /**
   * 5 to 6: limits of switched loads, end contacts, rules; least and regular reports, queues,
   * numbered commands, restart marks.
   */
  5: document => ({
    ...document,
    version: 6,
    rules: [],
    loads: each(document.loads, l => ({
      ...l,
      output: withNew(l.output, NEW_IN_SIX),
    })),
    sensors: each(document.sensors, s =>
      s.kind === 'knob' ? { ...s, countsPerDetent: 4, accelerated: false } : s,
    ),
    surfaces: each(document.surfaces, s =>
      s.kind === 'hand'
        ? {
            ...s,
            controls: each(s.controls, c =>
              c.kind === 'latching' ? { ...c, atStart: 'stay' } : c,
            ),
          }
        : s,
    ),
    links: each(document.links, l => ({
      ...l,
      ...PLAIN_LINK,
      ...(l.kind === 'http' ? {} : { restartMark: '' }),
    })),
  }),
  /** 6 to 7: hand controls, gestures, keys of a remote, rules and boxes ask for scenes. */
  6: document => ({
    ...document,
    version: 7,
    rules: each(document.rules, r => ({ ...r, sceneId: null })),
    surfaces: each(document.surfaces, s => {
      if (s.kind === 'peer') return { ...s, scenes: [] }
      return s.kind === 'hand'
        ? { ...s, controls: each(s.controls, c => ({ ...c, sceneId: null })) }
        : s
    }),
  }),
  /**
   * 7 to 8: numbers beside the named values of levels and imitated knobs; icons on keys; base
   * resistors that are there already.
   */
  7: document => ({
    ...document,
    version: 8,
    surfaces: each(document.surfaces, s =>
      s.kind === 'panel' ? { ...s, keys: each(s.keys, k => ({ ...k, icon: 'none' })) } : s,
    ),
    loads: each(document.loads, l => ({
      ...l,
      output: withNew(l.output, NEW_IN_EIGHT),
      wiring: withBaseOhms(l.wiring),
    })),
  }),
  /**
   * 8 to 9: boxes that are boards of the design; sticks that ask for something; bodies of requests,
   * routes of readings, pages of boards.
   */
  8: document => ({
    ...document,
    version: 9,
    surfaces: each(document.surfaces, s =>
      s.kind === 'peer'
        ? {
            ...s,
            boardId: null,
            controls: [],
            leastMs: 0,
            keys: each(s.keys, k => ({ ...k, asks: null })),
          }
        : s,
    ),
    links: each(document.links, l =>
      l.kind === 'http'
        ? {
            ...l,
            bodies: 'none',
            page: null,
            readings: each(l.readings, r => ({ ...r, route: '' })),
          }
        : l,
    ),
    sensors: each(document.sensors, s =>
      s.kind === 'two-axis' ? { ...s, deadZone: 40, repeatMs: 300, ways: [] } : s,
    ),
  }),
  /**
   * 9 to 10: lamps that show what is so, expanders of pins, regulators, isolators and MOSFETs
   * before coils, steppers with four coils.
   */
  9: document => ({
    ...document,
    version: 10,
    regulators: [],
    controllers: each(document.controllers, c => ({
      ...c,
      fedBy: null,
      lamps: [],
      expanders: [],
    })),
    loads: each(document.loads, l => ({
      ...l,
      output: withNew(l.output, NEW_IN_TEN),
      wiring: withIsolator(l.wiring),
    })),
  }),
  /** 10 to 11: consoles over a shell, and numbers that the board hands out to be signed. */
  10: document => ({ ...document, version: 11 }),
}

const NEW_IN_TEN: Record<string, Document> = {
  opposed: { thirdPin: null, fourthPin: null, sequence: 'half', atRest: 'off' },
}

/** An output with what is new of its kind. */
function withNew(output: unknown, news: Record<string, Document>): unknown {
  return typeof output === 'object' && output
    ? { ...output, ...news[(output as Document).kind as string] }
    : output
}

function withIsolator(wiring: unknown): unknown {
  const { driver } = (wiring ?? {}) as { driver?: Document | null }
  return {
    ...(wiring as Document),
    isolator: null,
    fedBy: null,
    ...(driver?.kind === 'coil' ? { driver: { ...driver, gate: null } } : {}),
  }
}

function withBaseOhms(wiring: unknown): unknown {
  const { driver } = (wiring ?? {}) as { driver?: Document | null }
  return driver?.kind === 'coil'
    ? { ...(wiring as Document), driver: { ...driver, baseOhms: 0 } }
    : wiring
}

const NEW_IN_EIGHT: Record<string, Document> = {
  level: { step: null },
  follower: { stops: null },
}

const NEW_IN_SIX: Record<string, Document> = {
  switched: { limits: null },
  opposed: { forwardEnd: null, reverseEnd: null },
  follower: { round: false },
}

function each(list: unknown, change: (item: Document) => Document): unknown {
  return Array.isArray(list)
    ? list.map((item: unknown) =>
        typeof item === 'object' && item !== null && !Array.isArray(item)
          ? change(item as Document)
          : item,
      )
    : list
}
