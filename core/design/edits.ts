/**
 * Every change of a design is a named edit: plain data with a type, applied by a pure function and
 * told in words. Undo, redo, the log and the fixes of findings all use the same values. A refused
 * edit leaves the design untouched.
 */
import { applyPatches, enablePatches, produceWithPatches, type Patch } from 'immer'
import { LINK_WORDS, linkRow, newLink } from './links/rows'
import { partOf, parts } from './part'
import {
  handSurfaces,
  linkOf,
  loadOf,
  maybeFarSurfaceOn,
  panelOf,
  farSurfaceOf,
  surfaceOf,
} from './find'
import type { BoardProfile } from '../boards/schema'
import { controlUse, needs, pinLabel, SENSE } from './pins'
import { SENSORS, newSensor, sensorLines } from './sensors/rows'
import type { SensorKind } from './sensors/schema'
import { asksOf, valuesOf } from './values'
import { KIND_WORDS } from './outputs/kinds'
import {
  DEFAULT_WIRING,
  NEW_PANEL,
  NO_GESTURES,
  type BeliefPolicy,
  type Control,
  type Design,
  type Link,
  type Codes,
  type Message,
  type Output,
  type LinkKind,
  type Front,
  type LinkReading,
  type PanelKey,
  type PanelPart,
  type PanelSurface,
  type Rule,
  type Scene,
  type Theme,
  type Wiring,
} from './schema'
import {
  EditRefused,
  NEW_BELIEF,
  anyKeyOf,
  boardNameOf,
  changeKind,
  changeOutput,
  controlOf,
  controllerOf,
  dropGestures,
  dropKey,
  dropMessage,
  dropReading,
  dropSceneKeys,
  handOf,
  itemOf,
  listed,
  pageOf,
  listedCodes,
  messageOf,
  move,
  needOf,
  nextPin,
  ruleOf,
  sceneOf,
  sensorOf,
  setAt,
  wireUp,
} from './edit-parts'
import { FORM_WORDS, itemTitle, newReading, partTitle } from './items'
import { freshId } from './ids'
import { validateDesign, type Problem } from './validate'
import { isOpposed } from './outputs/traits'
import { hasModule } from './links/traits'
import { isKnob, isReceiver } from './sensors/traits'

enablePatches()

/** What can be changed of an output without making it another kind. */
export type OutputPatch = { [K in AllKeys<Output>]?: Extract<Output, Record<K, unknown>>[K] }
type AllKeys<T> = Exclude<T extends T ? keyof T : never, 'kind'>
type ControlPatch = {
  leadMeters?: number
  pullOhms?: number | null
  pin?: number
  debounceMs?: number
  lockoutMs?: number
  gestures?: Extract<Control, { kind: 'push' }>['gestures']
  doubleMs?: number
  holdMs?: number
  acts?: 'position' | 'movement'
  atStart?: 'stay' | 'follow'
  asks?: string
}
/** Anything of a link but what it is, what hangs on it and whose it is. */
type LinkPatch = {
  [
    K in Exclude<LinkKeys, 'kind' | 'id' | 'messages' | 'controllerId' | 'timing' | 'scenes'>
  ]?: Extract<Link, Record<K, unknown>>[K]
} & { timing?: Partial<Link['timing']> }
type LinkKeys = Link extends infer L ? (L extends L ? keyof L : never) : never

/** Arguments of each edit. */
export interface EditArgs {
  renameDesign: { name: string }
  setPlace: { place: string }
  addLoad: { name: string; id?: string; controllerId?: string }
  renameLoad: { loadId: string; name: string }
  noteLoad: { loadId: string; note: string }
  setRoom: { loadId: string; room: string }
  moveLoad: { loadId: string; to: number }
  removeLoad: { loadId: string }
  setOutput: { loadId: string; patch: OutputPatch }
  setKind: { loadId: string; kind: Output['kind'] }
  addHandSurface: { name: string }
  addPanel: { name: string; over: LinkKind; controllerId?: string }
  addPeer: { name: string; over: LinkKind; controllerId?: string }
  setPeer: { surfaceId: string; patch: { shows?: boolean } }
  renameSurface: { surfaceId: string; name: string }
  moveSurface: { surfaceId: string; to: number }
  removeSurface: { surfaceId: string }
  setInSight: { surfaceId: string; inSight: boolean }
  addControl: { surfaceId: string; loadId: string; kind: 'push' | 'latching'; asks?: string }
  setControl: { controlId: string; patch: ControlPatch }
  removeControl: { controlId: string }
  addMessage: { linkId: string; loadId: string; codes: Codes }
  renameCode: { linkId: string; loadId: string; which: string; code: string }
  assignCodes: { linkId: string; codes: Record<string, Codes> }
  setReport: { linkId: string; loadId: string; ack?: boolean; change?: boolean }
  reportOnConnect: { linkId: string; onConnect: boolean }
  removeMessage: { linkId: string; loadId: string }
  addScene: { name: string; sets: Scene['sets'] }
  setScene: { sceneId: string; patch: { name?: string; sets?: Scene['sets'] } }
  removeScene: { sceneId: string }
  setSceneCode: { linkId: string; sceneId: string; code: string }
  addRule: { rule: Rule }
  setRule: { ruleId: string; patch: Record<string, unknown> }
  removeRule: { ruleId: string }
  setNetworks: { networks: string[] }
  setLink: { linkId: string; patch: LinkPatch }
  setPoll: { surfaceId: string; pollMs: number }
  setBelief: { surfaceId: string; patch: Partial<BeliefPolicy> }
  setPanel: {
    surfaceId: string
    patch: Partial<Pick<PanelSurface, 'device' | 'landscape' | 'ownMm' | 'pageAddress'>> & {
      theme?: Partial<Theme>
    }
  }
  addPage: { surfaceId: string; name: string }
  setPage: { surfaceId: string; page: number; patch: Partial<PanelSurface['pages'][number]> }
  removePage: { surfaceId: string; page: number }
  placeKey: { surfaceId: string; key: PanelKey }
  placePart: { surfaceId: string; part: PanelPart }
  moveKey: {
    surfaceId: string
    keyId: string
    box: Partial<Pick<PanelKey, 'page' | 'xMm' | 'yMm' | 'widthMm' | 'heightMm'>>
  }
  setKeyForm: { surfaceId: string; keyId: string; form: PanelKey['form'] }
  setItem: { surfaceId: string; keyId: string; patch: Record<string, unknown> }
  removeKey: { surfaceId: string; keyId: string }
  setLayout: {
    surfaceId: string
    keys: PanelKey[]
    parts: PanelPart[]
    pages: PanelSurface['pages']
  }
  setReading: {
    linkId: string
    sensorId: string
    patch: Partial<Omit<Extract<LinkReading, { code: string }>, 'sensorId'>>
  }
  removeReading: { linkId: string; sensorId: string }
  setWiring: { loadId: string; patch: Partial<Wiring> }
  setSupply: { patch: Partial<Design['supply']> }
  addSensor: { kind: SensorKind; name: string; loadId?: string; controllerId?: string }
  setSensor: { sensorId: string; patch: Record<string, unknown> }
  removeSensor: { sensorId: string }
  setFront: { front: Partial<Front> | null; controllerId?: string }
  setWires: { patch: Partial<Design['wires']> }
  setBoard: { board: string; controllerId?: string }
  addController: { name: string; board?: string }
  renameController: { controllerId: string; name: string }
  removeController: { controllerId: string }
  putBoard: { board: BoardProfile }
  removeBoard: { board: string }
  keepPin: { needId: string; kept: boolean }
  setPins: { pins: Record<string, number> }
  together: { edits: Edit[]; words: string }
}
export type EditType = keyof EditArgs
export type Edit = { [T in EditType]: { type: T } & EditArgs[T] }[EditType]

export type Applied =
  | { ok: true; design: Design; words: string; patches: Patch[]; inverse: Patch[] }
  | { ok: false; problems: Problem[] }

interface EditKind<T extends EditType> {
  apply: (draft: Design, args: EditArgs[T]) => void
  words: (before: Design, args: EditArgs[T]) => string
}

/**
 * Apply one edit. The result is validated whole, so no edit can leave a design that would not load
 * again.
 */
export function applyEdit(design: Design, edit: Edit): Applied {
  try {
    const words = describeEdit(design, edit)
    const [next, patches, inverse] = produceWithPatches(design, draft => {
      run(draft as Design, edit)
      forgetKept(draft as Design)
    })
    const checked = validateDesign(next)
    if (!checked.ok) return checked
    return { ok: true, design: next, words, patches, inverse }
  } catch (error) {
    if (error instanceof EditRefused || error instanceof RangeError)
      return { ok: false, problems: [{ path: '', message: error.message }] }
    throw error
  }
}

/** What an edit does, in the maker's words. */
export function describeEdit(design: Design, edit: Edit): string {
  return kindOf(edit.type).words(design, edit as never)
}

/** The design after patches of its history. */
export function applyDesignPatches(design: Design, patches: Patch[]): Design {
  return applyPatches(design, patches)
}

function run(draft: Design, edit: Edit): void {
  kindOf(edit.type).apply(draft, edit as never)
}

/** Pins are kept for needs that are there; what was removed keeps none. */
function forgetKept(draft: Design): void {
  for (const { controller, part } of parts(draft)) {
    if (!controller.kept.length) continue
    const ids = new Set(needs(part).map(n => n.id))
    if (controller.kept.some(id => !ids.has(id)))
      controller.kept = controller.kept.filter(id => ids.has(id))
  }
}

function kindOf<T extends EditType>(type: T): EditKind<T> {
  const kind = EDITS[type] as EditKind<T> | undefined
  if (!kind) throw new EditRefused(`there is no edit "${String(type)}"`)
  return kind
}

const EDITS: { [T in EditType]: EditKind<T> } = {
  renameDesign: {
    apply: (d, a) => {
      d.name = a.name
    },
    words: (d, a) => `Design ${d.name} renamed to ${a.name}`,
  },
  setPlace: {
    apply: (d, a) => {
      d.place = a.place
    },
    words: (_, a) => `Place set to ${a.place || 'none'}`,
  },

  addLoad: {
    apply: (d, a) => {
      const { id: controllerId } = controllerOf(d, a.controllerId)
      d.loads.push({
        id: a.id ?? freshId(a.name, 'load', d.loads),
        name: a.name,
        controllerId,
        note: '',
        room: '',
        wiring: DEFAULT_WIRING,
        output: {
          kind: 'switched',
          pin: nextPin(d, controllerId, { as: 'output', activeLevel: 'low' }),
          activeLevel: 'low',
          powerUp: 'off',
          saveDelayMs: 2000,
          timers: null,
          limits: null,
        },
      })
    },
    words: (_, a) => `Load ${a.name} added`,
  },
  renameLoad: {
    apply: (d, a) => {
      loadOf(d, a.loadId).name = a.name
    },
    words: (d, a) => `Load ${loadOf(d, a.loadId).name} renamed to ${a.name}`,
  },
  noteLoad: {
    apply: (d, a) => {
      loadOf(d, a.loadId).note = a.note
    },
    words: (d, a) => `Note of ${loadOf(d, a.loadId).name} changed`,
  },
  setRoom: {
    apply: (d, a) => {
      loadOf(d, a.loadId).room = a.room
    },
    words: (d, a) => `${loadOf(d, a.loadId).name} is in ${a.room || 'no room of its own'}`,
  },
  moveLoad: {
    apply: (d, a) => move(d.loads, a.loadId, a.to),
    words: (d, a) => `Load ${loadOf(d, a.loadId).name} moved to row ${a.to + 1}`,
  },
  removeLoad: {
    apply: (d, a) => {
      loadOf(d, a.loadId)
      d.loads = d.loads.filter(l => l.id !== a.loadId)
      for (const link of d.links) dropMessage(link, a.loadId)
      for (const s of d.surfaces) {
        if (s.kind === 'hand') {
          s.controls = s.controls.filter(c => c.loadId !== a.loadId)
          for (const c of s.controls) dropGestures(c, a.loadId)
        } else dropKey(s, a.loadId)
      }
      d.sensors = d.sensors.filter(s => !isKnob(s) || s.loadId !== a.loadId)
      for (const scene of d.scenes) scene.sets = scene.sets.filter(x => x.loadId !== a.loadId)
      for (const { id } of d.scenes.filter(x => !x.sets.length))
        for (const link of d.links) Reflect.deleteProperty(link.scenes, id)
      d.scenes = d.scenes.filter(x => x.sets.length)
      dropSceneKeys(d)
      for (const rule of d.rules) rule.sets = rule.sets.filter(x => x.loadId !== a.loadId)
      d.rules = d.rules.filter(r => r.sets.length)
      for (const s of d.sensors)
        if (isReceiver(s)) s.keys = s.keys.filter(k => k.loadId !== a.loadId)
    },
    words: (d, a) => `Load ${loadOf(d, a.loadId).name} removed with its codes, keys and controls`,
  },
  setOutput: {
    apply: (d, a) => changeOutput(d, loadOf(d, a.loadId), a.patch),
    words: (d, a) => `Output of ${loadOf(d, a.loadId).name}: ${listed(a.patch)}`,
  },

  setKind: {
    apply: (d, a) => changeKind(d, loadOf(d, a.loadId), a.kind),
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} becomes ${KIND_WORDS[a.kind]}, with keys and controls to match`,
  },

  addHandSurface: {
    apply: (d, a) => {
      d.surfaces.push({
        kind: 'hand',
        id: freshId(a.name, 'hand', d.surfaces),
        name: a.name,
        inSight: true,
        controls: [],
      })
    },
    words: (_, a) => `Hand controls ${a.name} added`,
  },
  addPanel: {
    apply: (d, a) => {
      const surfaceId = freshId(a.name, 'panel', d.surfaces)
      const linkId = freshId(`${a.name} link`, 'link', d.links)
      wireUp(d, newLink(a.over, linkId, `${a.name} link`, controllerOf(d, a.controllerId).id))
      d.surfaces.push({
        kind: 'panel',
        id: surfaceId,
        name: a.name,
        linkId,
        pollMs: linkRow({ kind: a.over }).start.asksMs,
        belief: NEW_BELIEF,
        keys: [],
        ...NEW_PANEL,
      })
    },
    words: (_, a) => `Panel ${a.name} added over ${LINK_WORDS[a.over]}`,
  },
  addPeer: {
    apply: (d, a) => {
      const surfaceId = freshId(a.name, 'box', d.surfaces)
      const linkId = freshId(`${a.name} link`, 'link', d.links)
      wireUp(d, newLink(a.over, linkId, `${a.name} link`, controllerOf(d, a.controllerId).id))
      d.surfaces.push({
        kind: 'peer',
        id: surfaceId,
        name: a.name,
        linkId,
        shows: true,
        pollMs: linkRow({ kind: a.over }).start.asksMs,
        belief: NEW_BELIEF,
        keys: [],
      })
    },
    words: (_, a) => `Box ${a.name} added over ${LINK_WORDS[a.over]}`,
  },
  setPeer: {
    apply: (d, a) => {
      const surface = surfaceOf(d, a.surfaceId)
      if (surface.kind !== 'peer') throw new EditRefused(`${surface.name} is no box`)
      Object.assign(surface, a.patch)
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} ${a.patch.shows ? 'shows what it switches' : 'shows nothing'}`,
  },
  renameSurface: {
    apply: (d, a) => {
      surfaceOf(d, a.surfaceId).name = a.name
    },
    words: (d, a) => `Surface ${surfaceOf(d, a.surfaceId).name} renamed to ${a.name}`,
  },
  moveSurface: {
    apply: (d, a) => move(d.surfaces, a.surfaceId, a.to),
    words: (d, a) => `Surface ${surfaceOf(d, a.surfaceId).name} moved to column ${a.to + 1}`,
  },
  removeSurface: {
    apply: (d, a) => {
      const surface = surfaceOf(d, a.surfaceId)
      d.surfaces = d.surfaces.filter(s => s.id !== a.surfaceId)
      if (surface.kind !== 'hand') d.links = d.links.filter(l => l.id !== surface.linkId)
    },
    words: (d, a) =>
      `Surface ${surfaceOf(d, a.surfaceId).name} removed${surfaceOf(d, a.surfaceId).kind === 'hand' ? '' : ' with its link'}`,
  },
  setInSight: {
    apply: (d, a) => {
      handOf(d, a.surfaceId).inSight = a.inSight
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} ${a.inSight ? 'in sight of' : 'out of sight of'} the loads`,
  },

  addControl: {
    apply: (d, a) => {
      const surface = handOf(d, a.surfaceId)
      const id = freshId(
        `${loadOf(d, a.loadId).id}-${a.kind === 'push' ? 'button' : 'switch'}`,
        'control',
        handSurfaces(d).flatMap(s => s.controls),
      )
      const base = {
        id,
        loadId: a.loadId,
        asks: a.asks ?? asksOf(loadOf(d, a.loadId).output, a.kind)[0] ?? 'toggle',
        pin: nextPin(d, loadOf(d, a.loadId).controllerId, controlUse(a)),
        debounceMs: 30,
        leadMeters: 1,
        pullOhms: null,
      }
      surface.controls.push(
        a.kind === 'push'
          ? { kind: 'push', ...base, lockoutMs: 300, ...NO_GESTURES }
          : { kind: 'latching', ...base, acts: 'movement', atStart: 'stay' },
      )
    },
    words: (d, a) =>
      `${a.kind === 'push' ? 'Push button' : 'Latching switch'} for ${loadOf(d, a.loadId).name} added to ${surfaceOf(d, a.surfaceId).name}`,
  },
  setControl: {
    apply: (d, a) => {
      Object.assign(controlOf(d, a.controlId), a.patch)
    },
    words: (d, a) =>
      `Hand control of ${loadOf(d, controlOf(d, a.controlId).loadId).name}: ${listed(a.patch)}`,
  },
  removeControl: {
    apply: (d, a) => {
      controlOf(d, a.controlId)
      for (const s of handSurfaces(d)) s.controls = s.controls.filter(c => c.id !== a.controlId)
    },
    words: (d, a) => `Hand control of ${loadOf(d, controlOf(d, a.controlId).loadId).name} removed`,
  },

  addMessage: {
    apply: (d, a) => {
      ;(linkOf(d, a.linkId).messages as Message[]).push({
        loadId: a.loadId,
        ack: true,
        change: true,
        codes: a.codes,
      })
    },
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} put on ${linkOf(d, a.linkId).name}: ${listedCodes(d, a.loadId, a.codes)}`,
  },
  renameCode: {
    apply: (d, a) => {
      const { codes } = messageOf(d, a.linkId, a.loadId)
      // A relative code that is empty is none; a value keeps its place.
      if (a.code === '' && !valuesOf(loadOf(d, a.loadId).output).includes(a.which))
        Reflect.deleteProperty(codes, a.which)
      else codes[a.which] = a.code
    },
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} ${a.which} on ${linkOf(d, a.linkId).name}: ${messageOf(d, a.linkId, a.loadId).codes[a.which] || 'no code'} becomes ${a.code || 'no code'}`,
  },
  assignCodes: {
    apply: (d, a) => {
      for (const [loadId, codes] of Object.entries(a.codes))
        messageOf(d, a.linkId, loadId).codes = codes
    },
    words: (d, a) =>
      `Codes of ${linkOf(d, a.linkId).name} assigned anew: ${Object.entries(a.codes)
        .map(([loadId, codes]) => listedCodes(d, loadId, codes))
        .join(', ')}`,
  },
  setReport: {
    apply: (d, a) => {
      const message = messageOf(d, a.linkId, a.loadId)
      if (a.ack !== undefined) message.ack = a.ack
      if (a.change !== undefined) message.change = a.change
    },
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} on ${linkOf(d, a.linkId).name}: ${[said(a.ack, 'acknowledges commands', 'no acknowledgement'), said(a.change, 'reports on change', 'no report on change')].filter(Boolean).join(', ')}`,
  },
  reportOnConnect: {
    apply: (d, a) => {
      const link = linkOf(d, a.linkId)
      link.onConnect = a.onConnect
      // Without the module's connected line the board cannot know that a phone connected
      // (SEMANTICS, links).
      if (a.onConnect && hasModule(link) && link.statusPin === null)
        link.statusPin = nextPin(d, link.controllerId, SENSE)
    },
    words: (d, a) =>
      `${linkOf(d, a.linkId).name} ${a.onConnect ? 'reports the whole state on connect' : 'reports nothing on connect'}`,
  },
  removeMessage: {
    apply: (d, a) => {
      messageOf(d, a.linkId, a.loadId)
      dropMessage(linkOf(d, a.linkId), a.loadId)
      const remote = maybeFarSurfaceOn(d, a.linkId)
      if (remote) dropKey(remote, a.loadId)
    },
    words: (d, a) => `${loadOf(d, a.loadId).name} taken off ${linkOf(d, a.linkId).name}`,
  },
  addScene: {
    apply: (d, a) => {
      d.scenes.push({ id: freshId(a.name, 'scene', d.scenes), name: a.name, sets: a.sets })
    },
    words: (_, a) => `Scene ${a.name} added`,
  },
  setScene: {
    apply: (d, a) => {
      Object.assign(sceneOf(d, a.sceneId), a.patch)
    },
    words: (d, a) =>
      `Scene ${sceneOf(d, a.sceneId).name}: ${a.patch.name ? `renamed to ${a.patch.name}` : 'what it sets changed'}`,
  },
  removeScene: {
    apply: (d, a) => {
      sceneOf(d, a.sceneId)
      d.scenes = d.scenes.filter(s => s.id !== a.sceneId)
      for (const link of d.links) Reflect.deleteProperty(link.scenes, a.sceneId)
      dropSceneKeys(d)
    },
    words: (d, a) => `Scene ${sceneOf(d, a.sceneId).name} removed with its codes`,
  },
  setSceneCode: {
    apply: (d, a) => {
      sceneOf(d, a.sceneId)
      const { scenes } = linkOf(d, a.linkId)
      if (a.code === '') Reflect.deleteProperty(scenes, a.sceneId)
      else scenes[a.sceneId] = a.code
      dropSceneKeys(d)
    },
    words: (d, a) =>
      `Scene ${sceneOf(d, a.sceneId).name} on ${linkOf(d, a.linkId).name}: ${a.code || 'no code'}`,
  },
  addRule: {
    apply: (d, a) => {
      d.rules.push({ ...a.rule, id: freshId(a.rule.name, 'rule', d.rules) })
    },
    words: (_, a) => `Rule ${a.rule.name} added`,
  },
  setRule: {
    apply: (d, a) => {
      const rule = ruleOf(d, a.ruleId)
      // Another condition has other members.
      if (typeof a.patch.when === 'string' && a.patch.when !== rule.when)
        d.rules[d.rules.indexOf(rule)] = { ...a.patch, id: rule.id } as Rule
      else Object.assign(rule, a.patch, { id: rule.id })
    },
    words: (d, a) =>
      `Rule ${ruleOf(d, a.ruleId).name}: ${typeof a.patch.when === 'string' ? 'another condition' : listed(a.patch) || 'what it sets changed'}`,
  },
  removeRule: {
    apply: (d, a) => {
      const rule = ruleOf(d, a.ruleId)
      d.rules = d.rules.filter(r => r !== rule)
    },
    words: (d, a) => `Rule ${ruleOf(d, a.ruleId).name} removed`,
  },
  setNetworks: {
    apply: (d, a) => {
      d.networks = a.networks
    },
    words: (_, a) => `Networks tried: ${a.networks.join(', ') || 'none'}`,
  },
  setLink: {
    apply: (d, a) => {
      const { timing, ...rest } = a.patch
      const link = linkOf(d, a.linkId)
      const strange = Object.keys(rest).find(key => !(key in link))
      if (strange) throw new EditRefused(`${link.name} has no ${strange}`)
      Object.assign(link, rest)
      if (timing) Object.assign(link.timing, timing)
    },
    words: (d, a) => `Link ${linkOf(d, a.linkId).name}: ${listed(a.patch)}`,
  },
  setPoll: {
    apply: (d, a) => {
      farSurfaceOf(d, a.surfaceId).pollMs = a.pollMs
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} ${a.pollMs ? `asks every ${a.pollMs} ms` : 'never asks'}`,
  },
  setBelief: {
    apply: (d, a) => {
      Object.assign(farSurfaceOf(d, a.surfaceId).belief, a.patch)
    },
    words: (d, a) => `Belief of ${surfaceOf(d, a.surfaceId).name}: ${listed(a.patch)}`,
  },
  setPanel: {
    apply: (d, a) => {
      const { theme, ...rest } = a.patch
      const panel = panelOf(d, a.surfaceId)
      Object.assign(panel, rest)
      if (theme) Object.assign(panel.theme, theme)
    },
    words: (d, a) => `Panel ${surfaceOf(d, a.surfaceId).name}: ${listed(a.patch)}`,
  },
  addPage: {
    apply: (d, a) => {
      panelOf(d, a.surfaceId).pages.push({ name: a.name, picture: null })
    },
    words: (d, a) => `Page ${a.name} added to ${surfaceOf(d, a.surfaceId).name}`,
  },
  setPage: {
    apply: (d, a) => {
      Object.assign(pageOf(d, a.surfaceId, a.page), a.patch)
    },
    words(d, a) {
      const picture = a.patch.picture ? 'a picture behind' : 'no picture'
      const what = 'picture' in a.patch ? picture : `named ${a.patch.name ?? ''}`
      return `Page ${pageOf(d, a.surfaceId, a.page).name} of ${surfaceOf(d, a.surfaceId).name}: ${what}`
    },
  },
  removePage: {
    apply: (d, a) => {
      const panel = panelOf(d, a.surfaceId)
      pageOf(d, a.surfaceId, a.page)
      if (panel.pages.length === 1) throw new EditRefused('a panel has at least one page')
      panel.pages.splice(a.page, 1)
      const without = <T extends { page: number }>(list: T[]) =>
        list
          .filter(i => i.page !== a.page)
          .map(i => (i.page > a.page ? { ...i, page: i.page - 1 } : i))
      panel.keys = without(panel.keys)
      panel.parts = without(panel.parts)
    },
    words: (d, a) =>
      `Page ${pageOf(d, a.surfaceId, a.page).name} of ${surfaceOf(d, a.surfaceId).name} removed with what stood on it`,
  },
  placeKey: {
    apply: (d, a) => {
      loadOf(d, a.key.loadId)
      const remote = farSurfaceOf(d, a.surfaceId)
      if (remote.kind === 'panel') remote.keys.push(a.key)
      else remote.keys.push({ loadId: a.key.loadId, form: a.key.form })
    },
    words: (d, a) => `${loadOf(d, a.key.loadId).name} placed on ${surfaceOf(d, a.surfaceId).name}`,
  },
  placePart: {
    apply: (d, a) => {
      panelOf(d, a.surfaceId).parts.push(a.part)
    },
    words: (d, a) => `${partTitle(d, a.part)} placed on ${surfaceOf(d, a.surfaceId).name}`,
  },
  moveKey: {
    apply: (d, a) => {
      Object.assign(itemOf(d, a.surfaceId, a.keyId), a.box)
    },
    words: (d, a) =>
      `${itemTitle(d, itemOf(d, a.surfaceId, a.keyId))} on ${surfaceOf(d, a.surfaceId).name}: ${listed(a.box)}`,
  },
  setKeyForm: {
    apply: (d, a) => {
      anyKeyOf(d, a.surfaceId, a.keyId).form = a.form
    },
    words: (d, a) =>
      `${loadOf(d, anyKeyOf(d, a.surfaceId, a.keyId).loadId).name} on ${surfaceOf(d, a.surfaceId).name} becomes ${FORM_WORDS[a.form]}`,
  },
  setItem: {
    apply: (d, a) => {
      const item = itemOf(d, a.surfaceId, a.keyId)
      const strange = Object.keys(a.patch).find(
        key => !(key in item) || key === 'form' || key === 'id',
      )
      if (strange) throw new EditRefused(`${itemTitle(d, item)} has no ${strange}`)
      Object.assign(item, a.patch)
    },
    words: (d, a) =>
      `${itemTitle(d, itemOf(d, a.surfaceId, a.keyId))} on ${surfaceOf(d, a.surfaceId).name}: ${listed(a.patch)}`,
  },
  removeKey: {
    apply: (d, a) => {
      const remote = farSurfaceOf(d, a.surfaceId)
      if (remote.kind === 'panel') {
        itemOf(d, a.surfaceId, a.keyId)
        remote.keys = remote.keys.filter(k => k.id !== a.keyId)
        remote.parts = remote.parts.filter(p => p.id !== a.keyId)
        return
      }
      anyKeyOf(d, a.surfaceId, a.keyId)
      dropKey(remote, a.keyId)
    },
    words: (d, a) =>
      `${farSurfaceOf(d, a.surfaceId).kind === 'panel' ? itemTitle(d, itemOf(d, a.surfaceId, a.keyId)) : loadOf(d, a.keyId).name} taken off ${surfaceOf(d, a.surfaceId).name}`,
  },
  setLayout: {
    apply: (d, a) => {
      Object.assign(panelOf(d, a.surfaceId), { keys: a.keys, parts: a.parts, pages: a.pages })
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} laid out: ${a.keys.length} keys and ${a.parts.length} other parts`,
  },
  setReading: {
    apply: (d, a) => {
      const link = linkOf(d, a.linkId)
      const sensor = sensorOf(d, a.sensorId)
      const there = (link.readings as LinkReading[]).find(r => r.sensorId === a.sensorId)
      if (there) Object.assign(there, a.patch)
      else
        (link.readings as LinkReading[]).push({
          ...newReading(link, sensor),
          ...a.patch,
        } as LinkReading)
    },
    words: (d, a) =>
      `${sensorOf(d, a.sensorId).name} on ${linkOf(d, a.linkId).name}: ${listed(a.patch) || 'told'}`,
  },
  removeReading: {
    apply: (d, a) => {
      const link = linkOf(d, a.linkId)
      dropReading(d, link, sensorOf(d, a.sensorId).id)
    },
    words: (d, a) =>
      `${sensorOf(d, a.sensorId).name} no longer told on ${linkOf(d, a.linkId).name}`,
  },
  setWiring: {
    apply: (d, a) => {
      Object.assign(loadOf(d, a.loadId).wiring, a.patch)
    },
    words: (d, a) => `Wiring of ${loadOf(d, a.loadId).name}: ${listed(a.patch)}`,
  },
  setSupply: {
    apply: (d, a) => {
      Object.assign(d.supply, a.patch)
    },
    words: (_, a) => `Supply: ${listed(a.patch)}`,
  },
  addSensor: {
    apply: (d, a) => {
      const { id: controllerId } = controllerOf(d, a.controllerId)
      const sensor = newSensor(
        a.kind,
        freshId(a.name, 'sensor', d.sensors),
        a.name,
        controllerId,
        a.loadId ?? d.loads.find(l => l.controllerId === controllerId)?.id ?? '',
      )
      if (isKnob(sensor) && !sensor.loadId)
        throw new EditRefused('a knob turns a load; name the first load on the sheet')
      d.sensors.push(sensor)
      const at = d.sensors.length - 1
      // A pin that no board has stands for none while the lines get theirs, one after another.
      for (const line of sensorLines(sensor)) setAt(d, `/sensors/${at}/${line.key}`, 99)
      for (const line of sensorLines(sensor))
        setAt(d, `/sensors/${at}/${line.key}`, nextPin(d, controllerId, line.use))
    },
    words: (_, a) => `${a.name} added: ${SENSORS[a.kind].words}`,
  },
  setSensor: {
    apply: (d, a) => {
      const sensor = sensorOf(d, a.sensorId)
      const strange = Object.keys(a.patch).find(
        key => !(key in sensor) || key === 'kind' || key === 'id',
      )
      if (strange) throw new EditRefused(`${sensor.name} has no ${strange}`)
      Object.assign(sensor, a.patch)
    },
    words: (d, a) => `${sensorOf(d, a.sensorId).name}: ${listed(a.patch)}`,
  },
  removeSensor: {
    apply: (d, a) => {
      sensorOf(d, a.sensorId)
      for (const link of d.links) dropReading(d, link, a.sensorId)
      d.sensors = d.sensors.filter(s => s.id !== a.sensorId)
      d.rules = d.rules.filter(r => r.sensorId !== a.sensorId)
      for (const { output } of d.loads) {
        if (!isOpposed(output)) continue
        if (output.forwardEnd === a.sensorId) output.forwardEnd = null
        if (output.reverseEnd === a.sensorId) output.reverseEnd = null
      }
    },
    words: (d, a) => `${sensorOf(d, a.sensorId).name} removed`,
  },
  setFront: {
    apply: (d, a) => {
      if (a.front === null) d.front = null
      else if (d.front) {
        if (a.controllerId !== undefined && a.controllerId !== d.front.controllerId)
          throw new EditRefused(
            `${d.front.name} stands in front of ${controllerOf(d, d.front.controllerId).name} already; a design has one such board`,
          )
        Object.assign(d.front, a.front)
      } else {
        const { id: controllerId } = controllerOf(d, a.controllerId)
        const front: Front = {
          controllerId,
          board: 'board-wifi-small',
          name: 'Network board',
          baud: 9600,
          receivePin: 99,
          sendPin: 99,
          shift: 'divider',
          ...a.front,
        }
        d.front = front
        if (a.front.receivePin === undefined)
          d.front.receivePin = nextPin(d, controllerId, { as: 'wire-in' })
        if (a.front.sendPin === undefined)
          d.front.sendPin = nextPin(d, controllerId, { as: 'wire-out' })
      }
    },
    words(d, a) {
      if (a.front === null) return `${d.front?.name ?? 'The board in front'} taken away`
      if (!d.front) return `${a.front.name ?? 'A network board'} put in front`
      return `${d.front.name}: ${listed(a.front)}`
    },
  },
  setWires: {
    apply: (d, a) => {
      Object.assign(d.wires, a.patch)
    },
    words: (_, a) => `Wires: ${listed(a.patch)}`,
  },
  setBoard: {
    apply: (d, a) => {
      controllerOf(d, a.controllerId).board = a.board
    },
    words: (d, a) =>
      `Board ${boardNameOf(d, controllerOf(d, a.controllerId).board)} becomes ${boardNameOf(d, a.board)}`,
  },
  addController: {
    apply: (d, a) => {
      d.controllers.push({
        id: freshId(a.name, 'board', d.controllers),
        name: a.name,
        board: a.board ?? controllerOf(d).board,
        bootMs: controllerOf(d).bootMs,
        kept: [],
      })
    },
    words: (_, a) => `Controller ${a.name} added`,
  },
  renameController: {
    apply: (d, a) => {
      controllerOf(d, a.controllerId).name = a.name
    },
    words: (d, a) => `Controller ${controllerOf(d, a.controllerId).name} renamed to ${a.name}`,
  },
  removeController: {
    apply: (d, a) => {
      const { id, name } = controllerOf(d, a.controllerId)
      const held = [...d.loads, ...d.links, ...d.sensors]
        .filter(x => x.controllerId === id)
        .map(x => x.name)
      if (held.length)
        throw new EditRefused(`${name} still has ${held.join(', ')}; remove them first`)
      if (d.controllers.length === 1) throw new EditRefused('a design has at least one controller')
      d.controllers = d.controllers.filter(c => c.id !== id)
      if (d.front?.controllerId === id) d.front = null
    },
    words: (d, a) => `Controller ${controllerOf(d, a.controllerId).name} removed`,
  },
  putBoard: {
    apply: (d, a) => {
      const at = d.boards.findIndex(b => b.id === a.board.id)
      if (at >= 0) d.boards[at] = a.board
      else d.boards.push(a.board)
    },
    words: (d, a) =>
      `Board profile ${a.board.name} ${d.boards.some(b => b.id === a.board.id) ? 'changed' : 'taken in'}`,
  },
  removeBoard: {
    apply: (d, a) => {
      if (d.controllers.some(c => c.board === a.board) || d.front?.board === a.board)
        throw new EditRefused(`${boardNameOf(d, a.board)} is in use; take another board first`)
      if (!d.boards.some(b => b.id === a.board))
        throw new EditRefused(`no board "${a.board}" of your own`)
      d.boards = d.boards.filter(b => b.id !== a.board)
    },
    words: (d, a) => `Board profile ${boardNameOf(d, a.board)} removed`,
  },
  keepPin: {
    apply: (d, a) => {
      const controller = controllerOf(d, needOf(d, a.needId).controllerId)
      controller.kept = controller.kept.filter(id => id !== a.needId)
      if (a.kept) controller.kept.push(a.needId)
    },
    words: (d, a) =>
      `Pin of ${needOf(d, a.needId).what} ${a.kept ? 'kept where it is' : 'free to move'}`,
  },
  setPins: {
    apply: (d, a) => {
      for (const [id, pin] of Object.entries(a.pins)) {
        const need = needOf(d, id)
        if (need.fixed) throw new EditRefused(`the pin of ${need.what} is given by the board`)
        setAt(d, need.path, pin)
      }
    },
    words: (d, a) =>
      `Pins: ${
        Object.entries(a.pins)
          .map(
            ([id, pin]) =>
              `${needOf(d, id).what} on ${pinLabel(partOf(d, needOf(d, id).controllerId), pin)}`,
          )
          .join(', ') || 'as they are'
      }`,
  },
  together: {
    apply: (d, a) => {
      for (const edit of a.edits) run(d, edit)
    },
    words: (_, a) => a.words,
  },
}

/** One of two words; "" where nothing was said. */
function said(what: boolean | undefined, yes: string, no: string): string {
  if (what === undefined) return ''
  return what ? yes : no
}
