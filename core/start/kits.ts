/** Kits for the usual beginnings: ordinary designs, each made like one of the drawer. */
import { applyEdit, type Edit } from '../design/edits/edits'
import type { Design } from '../design/schema'
import { KIT_NAMES, type KIT_IDS } from './kit-names'
import { begin, type Begun } from './begin'
import { drawerLoad, type Drawer } from './drawer'

export interface Kit {
  id: (typeof KIT_IDS)[number]
  drawer: Omit<Drawer, 'name' | 'place'>
  /** What the drawer has no words for. */
  more?: (design: Design) => Edit[]
}

export const KITS: readonly Kit[] = [
  {
    id: 'one-lamp',
    drawer: {
      board: 'board-dual-radio',
      loads: [drawerLoad('lamp')],
      hand: 'buttons',
      ways: ['phone'],
      afterCut: 'last',
    },
  },
  {
    id: 'four-loads',
    drawer: {
      board: 'board-dual-radio',
      loads: [
        drawerLoad('lamp', 'Ceiling light'),
        drawerLoad('lamp', 'Bench light'),
        drawerLoad('fan', 'Extractor'),
        drawerLoad('heater', 'Heater'),
      ],
      hand: 'switches',
      ways: ['browser'],
      afterCut: 'last',
    },
  },
  {
    id: 'knob',
    drawer: {
      board: 'board-dual-radio',
      loads: [drawerLoad('dimmer', 'Reading lamp')],
      hand: 'buttons',
      ways: ['phone'],
      afterCut: 'last',
    },
    more: design => [
      { type: 'addSensor', kind: 'knob', name: 'Knob', loadId: design.loads[0]?.id ?? '' },
    ],
  },
  {
    id: 'two-boards',
    drawer: {
      board: 'board-dual-radio',
      loads: [drawerLoad('lamp', 'Hall light'), drawerLoad('fan', 'Hall fan')],
      hand: 'buttons',
      ways: ['browser'],
      afterCut: 'last',
      also: [
        {
          board: 'board-dual-radio',
          loads: [drawerLoad('lamp', 'Yard light'), drawerLoad('pump', 'Yard pump')],
          ways: ['browser'],
        },
      ],
    },
  },
  {
    id: 'vehicle',
    drawer: {
      board: 'board-dual-radio',
      loads: [
        drawerLoad('lamp', 'Cabin light'),
        drawerLoad('lamp', 'Awning light'),
        drawerLoad('dimmer', 'Reading light'),
        drawerLoad('pump', 'Water pump'),
        drawerLoad('fan', 'Roof fan'),
        drawerLoad('heater', 'Heater'),
        drawerLoad('blind', 'Step'),
      ],
      hand: 'buttons',
      ways: ['phone'],
      afterCut: 'off',
    },
  },
]

/** Throws where there is no such kit. */
export function fromKit(id: string, kitId: string): Begun {
  const kit = KITS.find(k => k.id === kitId)
  if (!kit) throw new RangeError(`no kit "${kitId}"`)
  const begun = begin(id, {
    ...kit.drawer,
    name: KIT_NAMES.find(k => k.id === kitId)!.name,
    place: '',
  })
  const design = (kit.more?.(begun.design) ?? []).reduce((d, edit) => {
    const done = applyEdit(d, edit)
    if (!done.ok) throw new RangeError(done.problems.map(p => p.message).join('; '))
    return done.design
  }, begun.design)
  return { ...begun, design }
}
