/** What stands beside a controller: lamps that show what is so, expanders, regulators. */
import { defineEdit, type PatchOf } from './define'
import {
  controllerOf,
  EditRefused,
  expanderOf,
  lampOf,
  listed,
  nextPin,
  NO_PIN,
  patch,
  regulatorOf,
} from './parts'
import { linksShown } from '../boxes'
import type { Design, Expander, Lamp, Regulator } from '../schema'
import { freshId } from '../ids'
import { expanderLines, needs } from '../pins'
import { partOf } from '../part'
import { FIRST_EXPANDED } from '../../boards/schema'
import { last } from '../../units/lists'

/** The first number of pins that lies after those of all expanders of a board. */
function firstFree(expanders: readonly Expander[]): number {
  return expanders.reduce((first, e) => Math.max(first, e.firstPin + e.pins), FIRST_EXPANDED)
}

export const besideEdits = {
  addLamp: defineEdit<{
    name: string
    shows: Lamp['shows']
    linkId?: string
    controllerId?: string
  }>({
    apply: (d, a) => {
      const controller = controllerOf(d, a.controllerId)
      const all = d.controllers.flatMap(c => c.lamps)
      const lamp = {
        id: freshId(a.name, 'lamp', all),
        name: a.name,
        pin: nextPin(d, controller.id, { as: 'output', activeLevel: 'high' }),
        activeLevel: 'high' as const,
      }
      const linkId = a.linkId ?? linksShown(d, controller.id)[0]?.id
      if (a.shows === 'link' && linkId === undefined)
        throw new EditRefused('there is no link whose lamp this could be; add one first')
      controller.lamps.push(
        a.shows === 'link'
          ? { ...lamp, shows: a.shows, linkId: linkId ?? '' }
          : { ...lamp, shows: a.shows },
      )
    },
    words: (_, a) => `Lamp ${a.name} added`,
  }),
  setLamp: defineEdit<{ lampId: string; patch: PatchOf<Lamp, 'id' | 'shows'> }>({
    apply: (d, a) => patch(lampOf(d, a.lampId), a.patch),
    words: (d, a) => `Lamp ${lampOf(d, a.lampId).name}: ${listed(a.patch)}`,
  }),
  removeLamp: defineEdit<{ lampId: string }>({
    apply: (d, a) => {
      lampOf(d, a.lampId)
      for (const c of d.controllers) c.lamps = c.lamps.filter(l => l.id !== a.lampId)
    },
    words: (d, a) => `Lamp ${lampOf(d, a.lampId).name} removed`,
  }),
  addExpander: defineEdit<{ name: string; kind: Expander['kind']; controllerId?: string }>({
    apply: (d, a) => {
      const controller = controllerOf(d, a.controllerId)
      const base = {
        id: freshId(
          a.name,
          'expander',
          d.controllers.flatMap(c => c.expanders),
        ),
        name: a.name,
        firstPin: firstFree(controller.expanders),
        pins: 8 as const,
        ...{ dataPin: NO_PIN, clockPin: NO_PIN },
      }
      controller.expanders.push(
        a.kind === 'shift'
          ? { kind: 'shift', ...base, latchPin: NO_PIN, enablePin: NO_PIN }
          : { kind: 'two-wire', ...base, address: 32 },
      )
      const made = last(controller.expanders)
      // Its own lines stand on the board itself.
      for (const { key } of expanderLines(made))
        Object.assign(made, { [key]: nextPin(d, controller.id, BUS) })
    },
    words: (_, a) => `${a.name} added: more pins`,
  }),
  setExpander: defineEdit<{
    expanderId: string
    patch: PatchOf<Expander, 'id' | 'kind' | 'firstPin'>
  }>({
    apply: (d, a) => patch(expanderOf(d, a.expanderId), a.patch),
    words: (d, a) => `${expanderOf(d, a.expanderId).name}: ${listed(a.patch)}`,
  }),
  removeExpander: defineEdit<{ expanderId: string }>({
    apply: (d, a) => {
      const { firstPin, pins, name } = expanderOf(d, a.expanderId)
      for (const c of d.controllers) {
        if (!c.expanders.some(e => e.id === a.expanderId)) continue
        const held = needs(partOf(d, c.id)).filter(
          n => n.chip >= firstPin && n.chip < firstPin + pins,
        )
        if (held.length)
          throw new EditRefused(
            `${held.map(n => n.what).join(', ')} ${held.length > 1 ? 'are' : 'is'} on pins of ${name}; give ${held.length > 1 ? 'them others' : 'it another'} first`,
          )
        c.expanders = c.expanders.filter(e => e.id !== a.expanderId)
      }
    },
    words: (d, a) => `${expanderOf(d, a.expanderId).name} removed`,
  }),
  addRegulator: defineEdit<{ name: string; kind: Regulator['kind']; volts: number }>({
    apply: (d, a) => {
      const linear = a.kind === 'linear'
      d.regulators.push({
        id: freshId(a.name, 'regulator', d.regulators),
        name: a.name,
        kind: a.kind,
        fedBy: null,
        volts: a.volts,
        maxAmps: linear ? 1 : 3,
        dropoutVolts: linear ? 1.2 : 1,
        efficiency: linear ? 1 : 0.85,
      })
    },
    words: (_, a) => `Regulator ${a.name} added`,
  }),
  setRegulator: defineEdit<{ regulatorId: string; patch: PatchOf<Regulator, 'id'> }>({
    apply: (d, a) => patch(regulatorOf(d, a.regulatorId), a.patch),
    words: (d, a) => `Regulator ${regulatorOf(d, a.regulatorId).name}: ${listed(a.patch)}`,
  }),
  removeRegulator: defineEdit<{ regulatorId: string }>({
    apply: (d, a) => {
      const { fedBy } = regulatorOf(d, a.regulatorId)
      // What it fed is fed by what fed it.
      const next = (id: string | null) => (id === a.regulatorId ? fedBy : id)
      d.regulators = d.regulators.filter(r => r.id !== a.regulatorId)
      for (const r of d.regulators) r.fedBy = next(r.fedBy)
      for (const c of d.controllers) c.fedBy = next(c.fedBy)
      for (const l of d.loads) l.wiring.fedBy = next(l.wiring.fedBy)
    },
    words: (d, a) => `Regulator ${regulatorOf(d, a.regulatorId).name} removed`,
  }),
  feedController: defineEdit<{ controllerId?: string; fedBy: string | null }>({
    apply: (d, a) => {
      controllerOf(d, a.controllerId).fedBy = a.fedBy
    },
    words: (d, a) =>
      `${controllerOf(d, a.controllerId).name} fed by ${a.fedBy === null ? 'the supply' : regulatorOf(d, a.fedBy).name}`,
  }),
}
const BUS = { as: 'bus' } as const

/** A lamp of a link that is gone, or over which its board asks no more, is gone too. */
export function dropLamps(design: Design): void {
  for (const c of design.controllers) {
    if (!c.lamps.some(l => l.shows === 'link')) continue
    const links = new Set(linksShown(design, c.id).map(l => l.id))
    if (c.lamps.some(l => l.shows === 'link' && !links.has(l.linkId)))
      c.lamps = c.lamps.filter(l => l.shows !== 'link' || links.has(l.linkId))
  }
}
