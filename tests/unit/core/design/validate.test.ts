import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SHIPPED } from '../../../../core/boards/boards'
import { blankDesign } from '../../../../core/design/blank'
import { DESIGN_VERSION, designJsonSchema, type Design } from '../../../../core/design/schema'
import {
  parseDesignText,
  pointer,
  validateDesign,
  warmed,
  type Problem,
} from '../../../../core/design/validate'
import { panels } from '../../../../core/design/find'
import { fingerprint } from '../../../../core/design/fingerprint'
import glazeV1 from '../../../fixtures/v1/glaze-room.json' with { type: 'json' }
import glazeV2 from '../../../fixtures/v2/glaze-room.json' with { type: 'json' }
import starterV2 from '../../../fixtures/v2/starter.json' with { type: 'json' }
import glazeV3 from '../../../fixtures/v3/glaze-room.json' with { type: 'json' }
import starterV3 from '../../../fixtures/v3/starter.json' with { type: 'json' }
import { isFine } from '../../../../core/design/values'
import glazeV7 from '../../../fixtures/v7/glaze-room.json' with { type: 'json' }
import kilnV7 from '../../../fixtures/v7/kiln-corridor.json' with { type: 'json' }
import showroomV7 from '../../../fixtures/v7/showroom.json' with { type: 'json' }
import glazeV8 from '../../../fixtures/v8/glaze-room.json' with { type: 'json' }
import glazeV10 from '../../../fixtures/v10/glaze-room.json' with { type: 'json' }
import kilnV10 from '../../../fixtures/v10/kiln-corridor.json' with { type: 'json' }
import showroomV10 from '../../../fixtures/v10/showroom.json' with { type: 'json' }
import starterV10 from '../../../fixtures/v10/starter.json' with { type: 'json' }
import glazeV9 from '../../../fixtures/v9/glaze-room.json' with { type: 'json' }
import kilnV9 from '../../../fixtures/v9/kiln-corridor.json' with { type: 'json' }
import showroomV9 from '../../../fixtures/v9/showroom.json' with { type: 'json' }
import starterV9 from '../../../fixtures/v9/starter.json' with { type: 'json' }
import kilnV8 from '../../../fixtures/v8/kiln-corridor.json' with { type: 'json' }
import showroomV8 from '../../../fixtures/v8/showroom.json' with { type: 'json' }
import starterV8 from '../../../fixtures/v8/starter.json' with { type: 'json' }
import starterV7 from '../../../fixtures/v7/starter.json' with { type: 'json' }
import glazeV6 from '../../../fixtures/v6/glaze-room.json' with { type: 'json' }
import kilnV6 from '../../../fixtures/v6/kiln-corridor.json' with { type: 'json' }
import showroomV6 from '../../../fixtures/v6/showroom.json' with { type: 'json' }
import starterV6 from '../../../fixtures/v6/starter.json' with { type: 'json' }
import glazeV5 from '../../../fixtures/v5/glaze-room.json' with { type: 'json' }
import kilnV5 from '../../../fixtures/v5/kiln-corridor.json' with { type: 'json' }
import showroomV5 from '../../../fixtures/v5/showroom.json' with { type: 'json' }
import starterV5 from '../../../fixtures/v5/starter.json' with { type: 'json' }
import glazeV4 from '../../../fixtures/v4/glaze-room.json' with { type: 'json' }
import showroomV4 from '../../../fixtures/v4/showroom.json' with { type: 'json' }
import starterV4 from '../../../fixtures/v4/starter.json' with { type: 'json' }
import starterV1 from '../../../fixtures/v1/starter.json' with { type: 'json' }
import { edited, fanDesign, glazeRoom, starter } from '../../../fixtures/designs'

/** A glaze room changed by hand, as an unknown document. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
function spoiled(change: (d: Record<string, any>) => void): unknown {
  const document = structuredClone(glazeRoom()) as unknown as Record<string, unknown>
  change(document)
  return document
}
function problemsOf(document: unknown): Problem[] {
  const checked = validateDesign(document)
  return checked.ok ? [] : checked.problems
}

describe('documents that belong', () => {
  it('takes the demo designs and an empty one as they are', () => {
    for (const design of [glazeRoom(), starter(), blankDesign('d', 'D')])
      expect(validateDesign(design)).toEqual({ ok: true, design })
  })
})

describe('documents that do not belong', () => {
  const cases: [string, unknown, string, RegExp][] = [
    ['nothing', null, '', /JSON object/],
    ['a list', [], '', /JSON object/],
    ['something else', { format: 'recipe', version: 1 }, '/format', /not a Nolvi design/],
    [
      'a newer version',
      spoiled(d => {
        d.version = DESIGN_VERSION + 1
      }),
      '/version',
      new RegExp(`newer Nolvi; this one reads up to version ${DESIGN_VERSION}`),
    ],
    [
      'an older version that never was',
      spoiled(d => {
        d.version = 0
      }),
      '/version',
      /the first is 1/,
    ],
    [
      'a version in words',
      spoiled(d => {
        d.version = 'one'
      }),
      '/version',
      /whole number/,
    ],
    [
      'an unknown key',
      spoiled(d => {
        d.loads[1].output.colour = 'red'
      }),
      '/loads/1/output/colour',
      /not known here/,
    ],
    [
      'an unknown key with a slash',
      spoiled(d => {
        d['a/b~c'] = 1
      }),
      '/a~1b~0c',
      /not known here/,
    ],
    [
      'a missing key',
      spoiled(d => {
        delete d.loads[0].name
      }),
      '/loads/0/name',
      /string/,
    ],
    [
      'a duplicate load',
      spoiled(d => {
        d.loads[2].id = 'wheel-lights'
      }),
      '/loads/2/id',
      /there already, at \/loads\/1\/id/,
    ],
    [
      'a duplicate surface',
      spoiled(d => {
        d.surfaces[2].id = 'wall'
      }),
      '/surfaces/2/id',
      /there already/,
    ],
    [
      'a duplicate control',
      spoiled(d => {
        d.surfaces[0].controls[1].id = 'extractor-button'
      }),
      '/surfaces/0/controls/1/id',
      /there already/,
    ],
    [
      'a load that is not there',
      spoiled(d => {
        d.links[0].messages[0].loadId = 'oven'
      }),
      '/links/0/messages/0/loadId',
      /no load "oven"/,
    ],
    [
      'a link that is not there',
      spoiled(d => {
        d.surfaces[1].linkId = 'wire'
      }),
      '/surfaces/1/linkId',
      /no link "wire"/,
    ],
    [
      'two panels on a link',
      spoiled(d => {
        d.surfaces[2].linkId = 'apron-link'
      }),
      '/surfaces/2/linkId',
      /serves one at a time/,
    ],
    [
      'a key without a message',
      spoiled(d => {
        d.surfaces[2].keys[0].loadId = 'rinse-pump'
      }),
      '/surfaces/2/keys/0/loadId',
      /message on this link/,
    ],
    [
      'a script in a name',
      spoiled(d => {
        d.loads[0].name = '<script>alert(1)</script>'
      }),
      '/loads/0/name',
      /no < or >/,
    ],
    [
      'a line break in a name',
      spoiled(d => {
        d.name = 'a\nb'
      }),
      '/name',
      /no control characters/,
    ],
    [
      'an empty name',
      spoiled(d => {
        d.surfaces[0].name = '  '
      }),
      '/surfaces/0/name',
      /at least one character/,
    ],
    [
      'a fraction of a pin',
      spoiled(d => {
        d.loads[0].output.pin = 2.5
      }),
      '/loads/0/output/pin',
      /int/,
    ],
    [
      'a code with a space',
      spoiled(d => {
        d.links[0].messages[0].codes.on = 'a b'
      }),
      '/links/0/messages/0/codes/on',
      /visible ASCII/,
    ],
    [
      'a route with a quote',
      spoiled(d => {
        d.links[1].messages[0].codes.on = '/a"b'
      }),
      '/links/1/messages/0/codes/on',
      /a route starts with \//,
    ],
    [
      'a value that the load has not',
      spoiled(d => {
        d.links[0].messages[0].codes.reverse = 'R'
      }),
      '/links/0/messages/0/codes/reverse',
      /no value of this load; it has off, on/,
    ],
    [
      'a value without a code',
      spoiled(d => {
        delete d.links[0].messages[0].codes.off
      }),
      '/links/0/messages/0/codes',
      /no code for "off"/,
    ],
    [
      'a control that asks for what cannot be',
      spoiled(d => {
        d.surfaces[0].controls[0].asks = 'reverse'
      }),
      '/surfaces/0/controls/0/asks',
      /cannot be asked for "reverse"/,
    ],
    [
      'a key of a form that does not fit',
      spoiled(d => {
        d.surfaces[1].keys[0].form = 'hold'
      }),
      '/surfaces/1/keys/0/form',
      /does not fit this load; take one of state, pair/,
    ],
    [
      'levels that go down',
      spoiled(d => {
        d.loads[0].output = {
          kind: 'level',
          pin: 9,
          activeLevel: 'high',
          drive: 'pwm',
          powerUp: 'off',
          saveDelayMs: 0,
          stops: [0, 60, 30],
          rampMs: 0,
          minimum: 0,
          below: 'off',
        }
      }),
      '/loads/0/output/stops',
      /go up/,
    ],
    [
      'latencies that go down',
      spoiled(d => {
        d.links[0].timing.typicalMs = 1
      }),
      '/links/0/timing',
      /latencies go up/,
    ],
    [
      'a colour that is code',
      spoiled(d => {
        d.wires.output = 'red" onload="x'
      }),
      '/wires/output',
      /six hexadecimal digits/,
    ],
    [
      'a board that is not there',
      spoiled(d => {
        d.controllers[0].board = 'board-of-tin'
      }),
      '/controllers/0/board',
      /no board "board-of-tin"/,
    ],
    [
      'an own board with the name of a shipped one',
      spoiled(d => {
        d.boards = [structuredClone(SHIPPED[0])]
      }),
      '/boards/0/id',
      /name of a shipped board/,
    ],
    [
      'an own board with a pin twice',
      spoiled(d => {
        d.boards = [{ ...structuredClone(SHIPPED[2]!), id: 'mine' }]
        d.boards[0].pins[1].chip = 0
      }),
      '/boards/0/pins/1/chip',
      /there already/,
    ],
    [
      'an address elsewhere',
      spoiled(d => {
        d.links[1].address = 'javascript:alert(1)'
      }),
      '/links/1/address',
      /looks like/,
    ],
  ]
  it.each(cases)('%s', (_, document, path, words) => {
    const problem = problemsOf(document).find(p => p.path === path)
    expect(problem?.message).toMatch(words)
  })
  it('tells all places at once, up to fifty', () => {
    const many = problemsOf(
      spoiled(d => {
        d.loads.forEach((l: { output: object }) => Object.assign(l.output, { x: 1, y: 2 }))
      }),
    )
    expect(many.map(p => p.path)).toEqual(
      [0, 1, 2, 3].flatMap(i => [`/loads/${i}/output/x`, `/loads/${i}/output/y`]),
    )
    expect(
      problemsOf(
        spoiled(d => {
          d.loads = Array.from({ length: 200 }, () => 1)
        }),
      ).length,
    ).toBeLessThanOrEqual(50)
  })
  it('refuses five megabytes of noise by its size, without parsing it', () => {
    const refused = parseDesignText('['.repeat(5_000_000))
    expect(refused).toMatchObject({
      ok: false,
      problems: [{ path: '', message: expect.stringContaining('at most 1000000') }],
    })
  })
  it('names what is not JSON', () =>
    expect(parseDesignText('{"format": nolvi}')).toMatchObject({
      ok: false,
      problems: [{ path: '', message: expect.stringContaining('not JSON') }],
    }))
  it('never throws, and never takes a document with one value replaced by one of another type', () => {
    const places: { holder: Record<string, unknown>; key: string }[] = []
    const base = structuredClone(glazeRoom())
    const walk = (value: unknown) => {
      if (typeof value !== 'object' || value === null) return
      for (const key of Object.keys(value)) {
        places.push({ holder: value as Record<string, unknown>, key })
        walk((value as Record<string, unknown>)[key])
      }
    }
    walk(base)
    fc.assert(
      fc.property(
        fc.nat({ max: places.length - 1 }),
        fc.constantFrom<unknown>({}, 'zz zz', true, 1.5, null, [1]),
        (i, other) => {
          const { holder, key } = places[i]!
          const before = holder[key]
          fc.pre(
            !(
              ['statusPin', 'pullOhms', 'load', 'contact', 'run', 'duty', 'front'].includes(key)
              && other === null
            ) && !['leadMeters'].includes(key),
          )
          fc.pre(
            typeof before !== typeof other
              || (before === null) !== (other === null)
              || Array.isArray(before) !== Array.isArray(other),
          )
          holder[key] = other
          try {
            expect(validateDesign(base).ok).toBe(false)
          } finally {
            holder[key] = before
          }
        },
      ),
      { numRuns: 600 },
    )
  })
})

const WITHOUT_GESTURES = { gestures: undefined, doubleMs: undefined, holdMs: undefined }

function withoutBase(load: Design['loads'][number]): Design['loads'][number] {
  const { driver } = load.wiring
  return driver.kind === 'coil'
    ? { ...load, wiring: { ...load.wiring, driver: { ...driver, baseOhms: undefined as never } } }
    : load
}

/** The same document without what version 11 brought. */
function asV10(given: Design) {
  return { ...given, version: 10 } as unknown as Design
}

/** The same document without what version 10 brought. */
function asV9(whole: Design) {
  const given = asV10(whole)
  return {
    ...given,
    version: 9,
    regulators: undefined,
    controllers: given.controllers.map(c => ({
      ...c,
      fedBy: undefined,
      lamps: undefined,
      expanders: undefined,
    })),
    loads: given.loads.map(l => ({
      ...l,
      output:
        l.output.kind === 'opposed'
          ? {
              ...l.output,
              thirdPin: undefined,
              fourthPin: undefined,
              sequence: undefined,
              atRest: undefined,
            }
          : l.output,
      wiring: {
        ...l.wiring,
        isolator: undefined,
        fedBy: undefined,
        driver:
          l.wiring.driver.kind === 'coil'
            ? { ...l.wiring.driver, gate: undefined }
            : l.wiring.driver,
      },
    })),
  } as unknown as Design
}

/** The same document without what version 9 brought. */
function asV8(whole: Design) {
  const given = asV9(whole)
  return {
    ...given,
    version: 8,
    surfaces: given.surfaces.map(s =>
      s.kind === 'peer'
        ? {
            ...s,
            boardId: undefined,
            controls: undefined,
            leastMs: undefined,
            keys: s.keys.map(k => ({ ...k, asks: undefined })),
          }
        : s,
    ),
    links: given.links.map(l =>
      l.kind === 'http'
        ? {
            ...l,
            bodies: undefined,
            page: undefined,
            readings: l.readings.map(r => ({ ...r, route: undefined })),
          }
        : l,
    ),
    sensors: given.sensors.map(s =>
      s.kind === 'two-axis'
        ? { ...s, deadZone: undefined, repeatMs: undefined, ways: undefined }
        : s,
    ),
  } as unknown as Design
}

/** The same document without what version 8 brought. */
function asV7(whole: Design) {
  const given = asV8(whole)
  return {
    ...given,
    version: 7,
    surfaces: given.surfaces.map(s =>
      s.kind === 'panel' ? { ...s, keys: s.keys.map(k => ({ ...k, icon: undefined })) } : s,
    ),
    loads: given.loads.map(withoutBase).map(l => {
      if (l.output.kind === 'level') return { ...l, output: { ...l.output, step: undefined } }
      return l.output.kind === 'follower' ? { ...l, output: { ...l.output, stops: undefined } } : l
    }),
  } as unknown as Design
}

/** The same document without what version 7 brought. */
function asV6(whole: Design) {
  const given = asV7(whole)
  return {
    ...given,
    version: 6,
    rules: given.rules.map(r => ({ ...r, sceneId: undefined })),
    surfaces: given.surfaces.map(s =>
      s.kind === 'hand'
        ? { ...s, controls: s.controls.map(c => ({ ...c, sceneId: undefined })) }
        : { ...s, scenes: undefined },
    ),
  } as unknown as Design
}

/** The same document without what version 6 brought. */
function asV5(whole: Design) {
  const given = asV6(whole)
  const plain = {
    leastMs: undefined,
    everyMs: undefined,
    queue: undefined,
    numbered: undefined,
    restartMark: undefined,
  }
  return {
    ...given,
    version: 5,
    rules: undefined,
    links: given.links.map(l => ({ ...l, ...plain })),
    loads: given.loads.map(l => ({
      ...l,
      output: {
        ...l.output,
        limits: undefined,
        forwardEnd: undefined,
        reverseEnd: undefined,
        round: undefined,
      },
    })),
    sensors: given.sensors.map(s => ({ ...s, countsPerDetent: undefined, accelerated: undefined })),
    surfaces: given.surfaces.map(s =>
      s.kind === 'hand'
        ? { ...s, controls: s.controls.map(c => ({ ...c, atStart: undefined })) }
        : s,
    ),
  } as unknown as Design
}

/** The same document without what version 5 brought. */
function asV4(whole: Design) {
  const given = asV5(whole)
  const none = {
    landscape: undefined,
    pageAddress: undefined,
    ownMm: undefined,
    theme: undefined,
    parts: undefined,
  }
  return {
    ...given,
    version: 4,
    loads: given.loads.map(l => ({ ...l, room: undefined })),
    links: given.links.map(l => ({ ...l, readings: undefined })),
    surfaces: given.surfaces.map(s =>
      s.kind === 'panel'
        ? {
            ...s,
            ...none,
            pages: undefined,
            keys: s.keys.map(k => ({ ...k, id: undefined, page: undefined, guard: undefined })),
          }
        : s,
    ),
  } as unknown as Design
}

/** The same document without what version 4 brought. */
function asV3(given: Design) {
  const design = asV4(given)
  return {
    ...design,
    version: 3,
    front: design.front && { ...design.front, controllerId: undefined },
    networks: undefined,
    scenes: undefined,
    loads: design.loads.map(l => ({ ...l, output: { ...l.output, timers: undefined } })),
    links: design.links.map(l => ({
      ...l,
      auth: undefined,
      scenes: undefined,
      radio: undefined,
      helloCode: undefined,
      errorText: undefined,
      method: undefined,
      answers: undefined,
      helloRoute: undefined,
    })),
  }
}

function withOnOff(design: Pick<Design, 'links'>) {
  return design.links.map(l => ({
    ...l,
    ...(l.kind === 'http' ? { matching: undefined } : { dialect: undefined, echoes: undefined }),
    messages: l.messages.map(({ codes, ...m }) => ({ ...m, ...codes })),
  }))
}

describe('documents of version 2', () => {
  it.each([
    ['glaze room', glazeV2],
    ['starter', starterV2],
  ] as const)('%s: codes by value, controls that toggle, all else as it was', (_, old) => {
    const checked = validateDesign(old)
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    const { design } = checked
    const back = {
      ...asV3(design),
      version: 2,
      front: undefined,
      sensors: undefined,
      loads: asV4(design).loads.map(l => ({
        ...l,
        output: { ...l.output, timers: undefined },
        wiring: { ...l.wiring, duty: undefined, dangers: undefined },
      })),
      links: withOnOff(asV3(design) as unknown as Design),
      surfaces: asV4(design).surfaces.map(s =>
        s.kind === 'hand'
          ? {
              ...s,
              controls: s.controls.map(c => ({ ...c, asks: undefined, ...WITHOUT_GESTURES })),
            }
          : s,
      ),
    }
    expect(JSON.parse(JSON.stringify(back))).toEqual(old)
  })
  it('a message that lacks a code is refused with its place', () => {
    const links = [
      {
        ...glazeV2.links[0],
        messages: [{ loadId: 'rinse-pump', ack: true, change: true, on: 'R' }],
      },
      glazeV2.links[1],
    ]
    expect(problemsOf({ ...glazeV2, links }).map(p => p.path)).toContain(
      '/links/0/messages/0/codes/off',
    )
  })
})

describe('documents of version 3', () => {
  it.each([
    ['glaze room', glazeV3],
    ['starter', starterV3],
  ] as const)('%s: taken with no scenes, no further networks, all else as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(checked.design.scenes).toEqual([])
    expect(JSON.parse(JSON.stringify(asV3(checked.design)))).toEqual(old)
  })
  it('sensors and a board in front belong to the one controller', () => {
    const taken = validateDesign({
      ...glazeV3,
      sensors: [
        {
          id: 'door',
          name: 'Door',
          kind: 'contact',
          pin: 9,
          debounceMs: 30,
          pullOhms: null,
          leadMeters: 1,
        },
      ],
      front: {
        board: 'board-wifi-small',
        name: 'Network board',
        baud: 9600,
        receivePin: 7,
        sendPin: 8,
        shift: 'divider',
      },
    })
    if (!taken.ok) throw new Error(JSON.stringify(taken.problems))
    expect([taken.design.sensors[0]?.controllerId, taken.design.front?.controllerId]).toEqual([
      'board',
      'board',
    ])
  })
})

it('pictures of all panels together stay within what a design carries', () => {
  const picture = `data:image/png;base64,${'A'.repeat(59_000)}`
  const full = spoiled(d => {
    for (const s of d.surfaces)
      if (s.kind === 'panel') s.pages = Array.from({ length: 4 }, () => ({ name: 'Page', picture }))
  })
  expect(problemsOf(full)).toEqual([
    {
      path: '/surfaces',
      message: expect.stringMatching(/472 kB together; at most 400 kB/) as string,
    },
  ])
})

describe('documents of version 4', () => {
  it.each([
    ['glaze room', glazeV4],
    ['starter', starterV4],
    ['showroom', showroomV4],
  ] as const)(
    '%s: keys have the id of their load and no guard, panels one page, all else as it was',
    (_, old) => {
      const checked = validateDesign(structuredClone(old))
      if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
      for (const panel of panels(checked.design)) {
        expect(panel).toMatchObject({ pages: [{ picture: null }], parts: [], landscape: false })
        expect(panel.keys.map(k => [k.id, k.page, k.guard])).toEqual(
          panel.keys.map(k => [k.loadId, 0, 'none']),
        )
      }
      expect(JSON.parse(JSON.stringify(asV4(checked.design)))).toEqual(old)
    },
  )
})

describe('documents of version 5', () => {
  it.each([
    ['glaze room', glazeV5],
    ['starter', starterV5],
    ['showroom', showroomV5],
    ['kiln corridor', kilnV5],
  ] as const)('%s: no limits, no rules, plain links, all else as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(checked.design.rules).toEqual([])
    expect(
      checked.design.links.every(l => l.leastMs === 0 && l.queue === 0 && l.numbered === null),
    ).toBe(true)
    expect(JSON.parse(JSON.stringify(asV5(checked.design)))).toEqual(old)
  })
})

describe('documents of version 6', () => {
  it.each([
    ['glaze room', glazeV6],
    ['starter', starterV6],
    ['showroom', showroomV6],
    ['kiln corridor', kilnV6],
  ] as const)('%s: nothing but panels asks for scenes, all else as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(JSON.parse(JSON.stringify(asV6(checked.design)))).toEqual(old)
  })
})

describe('values of a choice', () => {
  it.each(['next', 'toggle', 'unknown', 'number'])('are no word that is taken: %s', id => {
    const design = edited(fanDesign(), { type: 'setKind', loadId: 'fan', kind: 'choice' })
    const { output } = design.loads[0]!
    if (output.kind !== 'choice') throw new Error('no choice')
    const choices = [{ id, words: 'x', picture: null }, ...output.choices]
    const checked = validateDesign({
      ...design,
      loads: [{ ...design.loads[0]!, output: { ...output, choices } }],
    })
    expect(checked.ok ? [] : checked.problems.map(p => p.path)).toContain(
      '/loads/0/output/choices/0/id',
    )
  })
})

describe('documents of version 10', () => {
  it.each([
    ['glaze room', glazeV10],
    ['starter', starterV10],
    ['showroom', showroomV10],
    ['kiln corridor', kilnV10],
  ] as const)('%s: all as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(JSON.parse(JSON.stringify(asV10(checked.design)))).toEqual(old)
  })
})

describe('documents of version 9', () => {
  it.each([
    ['glaze room', glazeV9],
    ['starter', starterV9],
    ['showroom', showroomV9],
    ['kiln corridor', kilnV9],
  ] as const)('%s: nothing stands beside its boards, all else as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(JSON.parse(JSON.stringify(asV9(checked.design)))).toEqual(old)
  })
})

describe('documents of version 8', () => {
  it.each([
    ['glaze room', glazeV8],
    ['starter', starterV8],
    ['showroom', showroomV8],
    ['kiln corridor', kilnV8],
  ] as const)('%s: no box is a board of it, no stick asks, all else as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(JSON.parse(JSON.stringify(asV8(checked.design)))).toEqual(old)
  })
})

describe('documents of version 7', () => {
  it.each([
    ['glaze room', glazeV7],
    ['starter', starterV7],
    ['showroom', showroomV7],
    ['kiln corridor', kilnV7],
  ] as const)('%s: no numbers between the named values, all else as it was', (_, old) => {
    const checked = validateDesign(structuredClone(old))
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(checked.design.loads.some(l => isFine(l.output))).toBe(false)
    expect(panels(checked.design).flatMap(p => p.keys.map(k => k.icon === 'none'))).not.toContain(
      false,
    )
    expect(JSON.parse(JSON.stringify(asV7(checked.design)))).toEqual(old)
  })

  it('a coil is taken without a base resistor of its own', () => {
    const old = structuredClone(showroomV7) as unknown as {
      loads: { wiring: { driver: object } }[]
    }
    const driver = {
      kind: 'coil',
      volts: 5,
      ohms: 70,
      henries: 0.1,
      gainMin: 100,
      transistorMaxAmps: 0.6,
    }
    old.loads[1]!.wiring.driver = driver
    const checked = validateDesign(old)
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(checked.design.loads[1]?.wiring.driver).toEqual({
      ...driver,
      baseOhms: 0,
      gate: null,
    })
  })

  it('a knob of another device is taken with all its positions named', () => {
    const old = structuredClone(showroomV7) as unknown as {
      loads: { id: string; output: object }[]
      links: { messages: { loadId: string; codes: Record<string, string> }[] }[]
    }
    const [load] = old.loads
    if (!load) throw new Error('no load')
    for (const link of old.links)
      for (const m of link.messages.filter(x => x.loadId === load.id))
        m.codes = Object.fromEntries(Object.values(m.codes).map((code, i) => [i, code]))
    load.output = {
      kind: 'follower',
      pin: 4,
      activeLevel: 'high',
      reversePin: 5,
      positions: 5,
      pulseMs: 40,
      gapMs: 60,
      round: false,
    }
    const checked = validateDesign(old)
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(checked.design.loads[0]?.output).toEqual({ ...load.output, stops: null })
  })
})

describe('documents of version 1', () => {
  it.each([
    ['glaze room', glazeV1],
    ['starter', starterV1],
  ] as const)('%s: taken, with what it lacks set to defaults, all else as it was', (_, old) => {
    const before = structuredClone(old)
    const checked = validateDesign(old)
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems))
    expect(old).toEqual(before)
    const { design } = checked
    expect(design.version).toBe(DESIGN_VERSION)
    expect(
      design.loads.every(l => l.wiring.driver.kind === 'relay-module' && l.wiring.load === null),
    ).toBe(true)
    const withoutNew = {
      ...asV3(design),
      version: 1,
      front: undefined,
      sensors: undefined,
      boards: undefined,
      supply: undefined,
      wires: undefined,
      controllers: asV9(design).controllers.map(c => ({ ...c, kept: undefined })),
      loads: asV4(design).loads.map(l => ({
        ...l,
        output: { ...l.output, timers: undefined },
        wiring: undefined,
      })),
      surfaces: asV4(design).surfaces.map(s =>
        s.kind === 'hand'
          ? {
              ...s,
              controls: s.controls.map(c => ({
                ...c,
                leadMeters: undefined,
                pullOhms: undefined,
                asks: undefined,
                ...WITHOUT_GESTURES,
              })),
            }
          : s,
      ),
      links: withOnOff(asV3(design) as unknown as Design),
    }
    expect(JSON.parse(JSON.stringify(withoutNew))).toEqual(old)
  })
  it.each([
    ['1', glazeV1],
    ['2', glazeV2],
    ['3', glazeV3],
    ['4', glazeV4],
    ['5', glazeV5],
    ['6', glazeV6],
  ] as const)('the fingerprint is that of version %s: what was built still agrees', (_, old) => {
    const checked = validateDesign(old)
    expect(checked.ok && fingerprint(checked.design)).toBe('D0A7B1')
  })
  it('a spoilt one is refused with its place', () => {
    expect(problemsOf({ ...glazeV1, loads: [{ ...glazeV1.loads[0], watts: 1 }] })).toContainEqual(
      expect.objectContaining({ path: '/loads/0/watts' }),
    )
    expect(problemsOf({ ...glazeV1, loads: 'none', surfaces: [3] }).map(p => p.path)).toEqual(
      expect.arrayContaining(['/loads', '/surfaces/0']),
    )
  })
})

describe('JSON Pointer and JSON Schema', () => {
  it('escapes ~ and / as RFC 6901 section 3 says', () =>
    expect(pointer(['a/b', 'm~n', 0])).toBe('/a~1b/m~0n/0'))
  it('publishes a closed schema with every part of the document', () => {
    const schema = designJsonSchema() as {
      required: string[]
      additionalProperties: boolean
      properties: Record<string, unknown>
    }
    expect(schema.additionalProperties).toBe(false)
    expect(schema.required.toSorted()).toEqual(Object.keys(glazeRoom() satisfies Design).toSorted())
  })
})

describe('warming up', () => {
  it('goes one part of the document a step, and leaves the design as it was', () => {
    const design = blankDesign('warm', 'Warm')
    const before = JSON.stringify(design)
    expect([...warmed(design)]).toHaveLength(Object.keys(design).length)
    expect(JSON.stringify(design)).toBe(before)
  })
})
