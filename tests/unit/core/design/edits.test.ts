import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SHIPPED } from '../../../../core/boards/boards'
import {
  applyEdit,
  describeEdit,
  type Edit,
  type EditType,
} from '../../../../core/design/edits/edits'
import { freshId } from '../../../../core/design/ids'
import { edit, redo, startHistory, undo, type History } from '../../../../core/design/history'
import type { Design } from '../../../../core/design/schema'
import { validateDesign } from '../../../../core/design/validate'
import { edited, glazeRoom } from '../../../fixtures/designs'

/** One example of every edit; a new kind of edit does not compile until it is here. */
const EXAMPLES: { [T in EditType]: Extract<Edit, { type: T }> } = {
  renameDesign: { type: 'renameDesign', name: 'Glazing' },
  setPlace: { type: 'setPlace', place: 'Old dairy' },
  addLoad: { type: 'addLoad', name: 'Spray booth lamp' },
  renameLoad: { type: 'renameLoad', loadId: 'rinse-pump', name: 'Pump' },
  noteLoad: { type: 'noteLoad', loadId: 'rinse-pump', note: 'new' },
  moveLoad: { type: 'moveLoad', loadId: 'rinse-pump', to: 0 },
  removeLoad: { type: 'removeLoad', loadId: 'booth-extractor' },
  setOutput: { type: 'setOutput', loadId: 'rinse-pump', patch: { powerUp: 'last' } },
  setKind: { type: 'setKind', loadId: 'booth-extractor', kind: 'opposed' },
  addHandSurface: { type: 'addHandSurface', name: 'Door switches' },
  addPanel: { type: 'addPanel', name: 'Kitchen tablet', over: 'http' },
  addPeer: { type: 'addPeer', name: 'Knob box', over: 'peer' },
  setPeer: { type: 'setPeer', surfaceId: 'door-box', patch: { shows: false } },
  setBoxBoard: { type: 'setBoxBoard', surfaceId: 'door-box', board: 'board-wifi-small' },
  addController: { type: 'addController', name: 'Kiln board', board: 'board-wifi-full' },
  renameController: { type: 'renameController', controllerId: 'board', name: 'Glaze board' },
  removeController: { type: 'removeController', controllerId: 'kiln-board' },
  addRule: {
    type: 'addRule',
    rule: {
      id: 'new',
      name: 'Fan when hot',
      sensorId: 'door',
      when: 'is',
      text: 'open',
      atStart: false,
      sets: [{ loadId: 'rinse-pump', value: 'off' }],
      sceneId: null,
    },
  },
  setRule: { type: 'setRule', ruleId: 'door-rule', patch: { atStart: true } },
  removeRule: { type: 'removeRule', ruleId: 'door-rule' },
  addScene: { type: 'addScene', name: 'All off', sets: [{ loadId: 'rinse-pump', value: 'off' }] },
  setScene: {
    type: 'setScene',
    sceneId: 'closing',
    patch: { sets: [{ loadId: 'wheel-lights', value: 'off' }] },
  },
  removeScene: { type: 'removeScene', sceneId: 'closing' },
  setSceneCode: { type: 'setSceneCode', linkId: 'apron-link', sceneId: 'closing', code: '!' },
  setNetworks: { type: 'setNetworks', networks: ['Marrow Lane', 'Marrow Lane guests'] },
  renameSurface: { type: 'renameSurface', surfaceId: 'wall', name: 'Wall' },
  moveSurface: { type: 'moveSurface', surfaceId: 'wall', to: 2 },
  removeSurface: { type: 'removeSurface', surfaceId: 'apron-phone' },
  setInSight: { type: 'setInSight', surfaceId: 'wall', inSight: false },
  addControl: { type: 'addControl', surfaceId: 'wall', loadId: 'rinse-pump', kind: 'push' },
  setControl: { type: 'setControl', controlId: 'fan-switch', patch: { acts: 'movement' } },
  removeControl: { type: 'removeControl', controlId: 'fan-switch' },
  addMessage: {
    type: 'addMessage',
    linkId: 'office-link',
    loadId: 'rinse-pump',
    codes: { on: '/pump/on', off: '/pump/off' },
  },
  renameCode: {
    type: 'renameCode',
    linkId: 'apron-link',
    loadId: 'rinse-pump',
    which: 'off',
    code: '2',
  },
  assignCodes: {
    type: 'assignCodes',
    linkId: 'apron-link',
    codes: { 'rinse-pump': { on: 'R', off: 'r' } },
  },
  setReport: { type: 'setReport', linkId: 'apron-link', loadId: 'booth-extractor', change: true },
  reportOnConnect: { type: 'reportOnConnect', linkId: 'apron-link', onConnect: true },
  removeMessage: { type: 'removeMessage', linkId: 'apron-link', loadId: 'booth-extractor' },
  setLink: {
    type: 'setLink',
    linkId: 'apron-link',
    patch: { baud: 19200, timing: { p99Ms: 120 } },
  },
  setPoll: { type: 'setPoll', surfaceId: 'apron-phone', pollMs: 2000 },
  setBelief: { type: 'setBelief', surfaceId: 'apron-phone', patch: { onLoss: 'stale' } },
  setRoom: { type: 'setRoom', loadId: 'rinse-pump', room: 'Wash house' },
  setPanel: {
    type: 'setPanel',
    surfaceId: 'apron-phone',
    patch: { device: 'phone-large', landscape: true, theme: { roundMm: 3 } },
  },
  addPage: { type: 'addPage', surfaceId: 'apron-phone', name: 'Yard' },
  setPage: { type: 'setPage', surfaceId: 'apron-phone', page: 0, patch: { name: 'Room' } },
  removePage: { type: 'removePage', surfaceId: 'apron-phone', page: 0 },
  placePart: {
    type: 'placePart',
    surfaceId: 'apron-phone',
    part: {
      form: 'text',
      id: 'note',
      page: 0,
      xMm: 3,
      yMm: 120,
      widthMm: 58,
      heightMm: 7,
      text: 'Doors shut at six',
    },
  },
  setItem: {
    type: 'setItem',
    surfaceId: 'apron-phone',
    keyId: 'rinse-pump',
    patch: { guard: 'slide' },
  },
  setLayout: {
    type: 'setLayout',
    surfaceId: 'apron-phone',
    keys: [],
    parts: [],
    pages: [{ name: 'Main', picture: null }],
  },
  setReading: { type: 'setReading', linkId: 'apron-link', sensorId: 'door', patch: { code: 'D' } },
  removeReading: { type: 'removeReading', linkId: 'apron-link', sensorId: 'door' },
  placeKey: {
    type: 'placeKey',
    surfaceId: 'office-browser',
    key: {
      id: 'booth-extractor',
      page: 0,
      guard: 'none',
      icon: 'none',
      loadId: 'booth-extractor',
      form: 'state',
      xMm: 3,
      yMm: 70,
      widthMm: 28,
      heightMm: 18,
    },
  },
  moveKey: {
    type: 'moveKey',
    surfaceId: 'apron-phone',
    keyId: 'rinse-pump',
    box: { widthMm: 28, heightMm: 18 },
  },
  setKeyForm: {
    type: 'setKeyForm',
    surfaceId: 'apron-phone',
    keyId: 'booth-extractor',
    form: 'state',
  },
  removeKey: { type: 'removeKey', surfaceId: 'apron-phone', keyId: 'booth-extractor' },
  setWiring: {
    type: 'setWiring',
    loadId: 'rinse-pump',
    patch: { run: { lengthMeters: 7, sectionMm2: 1 } },
  },
  setSupply: { type: 'setSupply', patch: { amps: 3 } },
  addSensor: { type: 'addSensor', kind: 'floats', name: 'Water butt' },
  setSensor: { type: 'setSensor', sensorId: 'door', patch: { leadMeters: 4 } },
  removeSensor: { type: 'removeSensor', sensorId: 'door' },
  setFront: { type: 'setFront', front: { baud: 19200 } },
  setWires: { type: 'setWires', patch: { contact: '#aa3300' } },
  setBoard: { type: 'setBoard', board: 'board-8bit-5v-small' },
  putBoard: { type: 'putBoard', board: { ...SHIPPED[2]!, id: 'my-board', name: 'my own board' } },
  removeBoard: { type: 'removeBoard', board: 'my-board' },
  keepPin: { type: 'keepPin', needId: 'load:rinse-pump', kept: true },
  setPins: {
    type: 'setPins',
    pins: { 'load:rinse-pump': 10, 'control:fan-switch': 11, 'status:apron-link': 12 },
  },
  addLamp: { type: 'addLamp', name: 'Phone light', shows: 'link', linkId: 'apron-link' },
  setLamp: { type: 'setLamp', lampId: 'phone-light', patch: { activeLevel: 'low' } },
  removeLamp: { type: 'removeLamp', lampId: 'phone-light' },
  addExpander: { type: 'addExpander', name: 'More pins', kind: 'two-wire' },
  setExpander: { type: 'setExpander', expanderId: 'more-pins', patch: { address: 33 } },
  removeExpander: { type: 'removeExpander', expanderId: 'more-pins' },
  addRegulator: { type: 'addRegulator', name: 'Five volts', kind: 'linear', volts: 5 },
  setRegulator: { type: 'setRegulator', regulatorId: 'five-volts', patch: { maxAmps: 2 } },
  removeRegulator: { type: 'removeRegulator', regulatorId: 'five-volts' },
  feedController: { type: 'feedController', fedBy: 'five-volts' },
  together: {
    type: 'together',
    words: 'Two at once',
    edits: [
      { type: 'setPoll', surfaceId: 'apron-phone', pollMs: 1000 },
      { type: 'setInSight', surfaceId: 'wall', inSight: false },
    ],
  },
}

/**
 * The key of `placeKey` is there already in the demo; take it off first. The board of `removeBoard`
 * has to be taken in.
 */
function before(type: EditType): Design {
  if (type === 'placeKey')
    return edited(glazeRoom(), {
      type: 'removeKey',
      surfaceId: 'office-browser',
      keyId: 'booth-extractor',
    })
  if (type === 'removePage') return edited(glazeRoom(), EXAMPLES.addPage)
  if (type === 'removeReading')
    return edited(
      glazeRoom(),
      { type: 'addSensor', kind: 'contact', name: 'Door' },
      EXAMPLES.setReading,
    )
  if (type === 'setRule' || type === 'removeRule')
    return edited(
      glazeRoom(),
      { type: 'addSensor', kind: 'contact', name: 'Door' },
      {
        type: 'addRule',
        rule: {
          id: 'new',
          name: 'Door rule',
          sensorId: 'door',
          when: 'is',
          text: 'open',
          atStart: false,
          sets: [{ loadId: 'rinse-pump', value: 'off' }],
          sceneId: null,
        },
      },
    )
  if (
    type === 'addRule'
    || type === 'setSensor'
    || type === 'removeSensor'
    || type === 'setReading'
  )
    return edited(glazeRoom(), { type: 'addSensor', kind: 'contact', name: 'Door' })
  if (type === 'setLamp' || type === 'removeLamp') return edited(glazeRoom(), EXAMPLES.addLamp)
  if (type === 'setExpander' || type === 'removeExpander')
    return edited(glazeRoom(), EXAMPLES.addExpander)
  if (type === 'setRegulator' || type === 'removeRegulator' || type === 'feedController')
    return edited(glazeRoom(), EXAMPLES.addRegulator)
  if (type === 'removeController') return edited(glazeRoom(), EXAMPLES.addController)
  if (type === 'setPeer' || type === 'setBoxBoard')
    return edited(glazeRoom(), { type: 'addPeer', name: 'Door box', over: 'udp' })
  if (type === 'setScene' || type === 'removeScene' || type === 'setSceneCode')
    return edited(glazeRoom(), {
      type: 'addScene',
      name: 'Closing',
      sets: [{ loadId: 'rinse-pump', value: 'off' }],
    })
  return type === 'removeBoard' ? edited(glazeRoom(), EXAMPLES.putBoard) : glazeRoom()
}

describe.each(Object.values(EXAMPLES))('edit $type', example => {
  it('changes the design, keeps it valid, can be told, undone and done again', () => {
    const start = before(example.type)
    const applied = applyEdit(start, example)
    if (!applied.ok) throw new Error(JSON.stringify(applied.problems))
    expect(applied.design).not.toEqual(start)
    expect(validateDesign(applied.design).ok).toBe(true)
    expect(applied.words).toBe(describeEdit(start, example))
    expect(applied.words).not.toMatch(/undefined|null|\[object/)
    const history = edit(startHistory(start), example)
    if (!history.ok) throw new Error('refused')
    const back = undo(history.history)
    expect(back?.history.design).toEqual(start)
    expect(redo(back!.history)?.history.design).toEqual(applied.design)
  })
})

describe('removing', () => {
  it('a load takes its codes, keys and controls with it', () => {
    const design = edited(glazeRoom(), EXAMPLES.removeLoad)
    expect(JSON.stringify(design)).not.toContain('booth-extractor')
  })
  it('a scene takes with it what asks for it: controls, gestures, keys of a remote, rules, boxes', () => {
    const design = edited(
      glazeRoom(),
      { type: 'addScene', name: 'Closing', sets: [{ loadId: 'rinse-pump', value: 'off' }] },
      { type: 'addHandSurface', name: 'Door' },
      { type: 'addControl', surfaceId: 'door', loadId: 'rinse-pump', kind: 'push' },
      { type: 'addSensor', kind: 'infrared', name: 'Eye' },
      { type: 'addSensor', kind: 'contact', name: 'Hatch' },
      { type: 'addPeer', name: 'Box', over: 'udp' },
    )
    const control = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : [])).at(-1)!
    const box = design.surfaces.at(-1)!
    const linkId = box.kind === 'peer' ? box.linkId : ''
    const asking = edited(
      design,
      { type: 'setSceneCode', linkId, sceneId: 'closing', code: 'closing' },
      {
        type: 'setControl',
        controlId: control.id,
        patch: { sceneId: 'closing', gestures: [{ on: 'hold', sceneId: 'closing' }] },
      },
      {
        type: 'setSensor',
        sensorId: 'eye',
        patch: { keys: [{ address: 1, command: 1, sceneId: 'closing' }] },
      },
      {
        type: 'addRule',
        rule: {
          when: 'is',
          id: 'shut',
          name: 'Shut',
          sensorId: 'hatch',
          text: 'closed',
          atStart: false,
          sets: [],
          sceneId: 'closing',
        },
      },
      { type: 'setPeer', surfaceId: box.id, patch: { scenes: ['closing'] } },
    )
    expect(JSON.stringify(asking).match(/closing/g)?.length).toBeGreaterThan(6)
    const without = edited(asking, { type: 'removeScene', sceneId: 'closing' })
    expect(JSON.stringify(without)).not.toMatch(/closing/)
    expect(without.rules).toEqual([])
  })
  it('a control asks for a scene only while the scene sets its load', () => {
    const design = edited(
      glazeRoom(),
      { type: 'addScene', name: 'Closing', sets: [{ loadId: 'rinse-pump', value: 'off' }] },
      { type: 'addHandSurface', name: 'Door' },
      { type: 'addControl', surfaceId: 'door', loadId: 'rinse-pump', kind: 'push' },
    )
    const control = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : [])).at(-1)!
    const asking = edited(design, {
      type: 'setControl',
      controlId: control.id,
      patch: { sceneId: 'closing' },
    })
    const other = design.loads.find(l => l.id !== 'rinse-pump')!
    const after = edited(asking, {
      type: 'setScene',
      sceneId: 'closing',
      patch: { sets: [{ loadId: other.id, value: 'off' }] },
    })
    expect(JSON.stringify(after.surfaces)).not.toMatch(/"sceneId":"closing"/)
    const refused = applyEdit(after, {
      type: 'setControl',
      controlId: control.id,
      patch: { sceneId: 'closing' },
    })
    expect(refused).toMatchObject({ ok: false, problems: [{ path: /sceneId$/ }] })
  })
  it('a panel takes its link with it', () =>
    expect(edited(glazeRoom(), EXAMPLES.removeSurface).links.map(l => l.id)).toEqual([
      'office-link',
    ]))
  it('a message takes the key of its load with it', () => {
    const design = edited(glazeRoom(), EXAMPLES.removeMessage)
    expect(design.surfaces.find(s => s.id === 'apron-phone')).toMatchObject({
      keys: [{ loadId: 'wheel-lights' }, { loadId: 'cupboard-fan' }, { loadId: 'rinse-pump' }],
    })
  })
})

describe('edits that are refused', () => {
  const refused: [string, Edit, RegExp][] = [
    [
      'a load that is not there',
      { type: 'renameLoad', loadId: 'oven', name: 'x' },
      /no load "oven"/,
    ],
    ['a name with a tag', { type: 'renameLoad', loadId: 'rinse-pump', name: '<b>' }, /no < or >/],
    [
      'a code of nine bytes',
      {
        type: 'renameCode',
        linkId: 'apron-link',
        loadId: 'rinse-pump',
        which: 'on',
        code: '123456789',
      },
      /./,
    ],
    [
      'controls on a panel',
      { type: 'addControl', surfaceId: 'apron-phone', loadId: 'rinse-pump', kind: 'push' },
      /has no hand controls/,
    ],
    ['an edit that does not exist', { type: 'explode' } as unknown as Edit, /no edit "explode"/],
    [
      'a part of many',
      {
        type: 'together',
        words: 'x',
        edits: [
          { type: 'renameDesign', name: 'Half' },
          { type: 'removeLoad', loadId: 'oven' },
        ],
      },
      /no load "oven"/,
    ],
  ]
  it.each(refused)('%s: nothing changes', (_, bad, words) => {
    const start = glazeRoom()
    const copy = structuredClone(start)
    const applied = applyEdit(start, bad)
    expect(applied.ok).toBe(false)
    if (!applied.ok) expect(applied.problems[0]?.message).toMatch(words)
    expect(start).toEqual(copy)
  })
  it('a load more than the board has pins', () => {
    let design = glazeRoom()
    let last = applyEdit(design, { type: 'addLoad', name: 'One more' })
    for (let i = 0; i < 30 && last.ok; i++) {
      design = last.design
      last = applyEdit(design, { type: 'addLoad', name: `More ${i}` })
    }
    expect(last.ok ? [] : last.problems.map(p => p.message)).toEqual([
      expect.stringContaining('has no pin left for this'),
    ])
    expect(design.loads.length).toBeGreaterThan(10)
  })
  it('the board in use, an own board in use, the pins of the serial port', () => {
    const own = edited(glazeRoom(), EXAMPLES.putBoard, { type: 'setBoard', board: 'my-board' })
    for (const [design, bad, words] of [
      [own, { type: 'removeBoard', board: 'my-board' }, /is in use/],
      [glazeRoom(), { type: 'removeBoard', board: 'board-8bit-5v' }, /is in use/],
      [glazeRoom(), { type: 'setBoard', board: 'board-of-tin' }, /no board/],
      [glazeRoom(), { type: 'setPins', pins: { 'send:apron-link': 5 } }, /given by the board/],
      [
        glazeRoom(),
        { type: 'keepPin', needId: 'load:oven', kept: true },
        /nothing called "load:oven"/,
      ],
    ] as [Design, Edit, RegExp][]) {
      const applied = applyEdit(design, bad)
      expect(applied.ok ? '' : applied.problems[0]?.message).toMatch(words)
    }
  })
})

describe('history', () => {
  const anyEdit = fc.constantFrom(...(Object.values(EXAMPLES) as Edit[]))
  it('any run of edits undoes to the start and redoes to the end', () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { maxLength: 14 }), edits => {
        const start = glazeRoom()
        let history: History = startHistory(start)
        for (const change of edits) {
          const next = edit(history, change)
          if (next.ok) history = next.history
          expect(validateDesign(history.design).ok).toBe(true)
        }
        const end = history.design
        const steps = history.done.length
        for (let i = 0; i < steps; i++) history = undo(history)!.history
        expect(history.design).toEqual(start)
        expect(undo(history)).toBeNull()
        for (let i = 0; i < steps; i++) history = redo(history)!.history
        expect(history.design).toEqual(end)
        expect(redo(history)).toBeNull()
      }),
      { numRuns: 150 },
    )
  })
  it('an edit that changes nothing leaves no step', () => {
    const start = startHistory(glazeRoom())
    expect(
      edit(start, { type: 'renameLoad', loadId: 'rinse-pump', name: 'Rinse pump' }),
    ).toMatchObject({ ok: true, words: '', history: start })
  })
})

describe('ids from names', () => {
  it.each([
    ['Booth extractor', 'booth-extractor'],
    ['Müllers Licht', 'mullers-licht'],
    ['24 V pump', 'v-pump'],
    ['照明', 'load'],
    ['x'.repeat(60), 'x'.repeat(32)],
  ])('%s', (name, id) => expect(freshId(name, 'load', [])).toBe(id))
  it('counts up where it is taken', () =>
    expect(freshId('Fan', 'load', [{ id: 'fan' }, { id: 'fan-2' }])).toBe('fan-3'))
})
