/**
 * Placing things on a panel: gives them codes on the link first, where they have none, and a free
 * place on the grid.
 */
import { linkOf, loadOf, maybeMessage, panelOf } from '../../core/design/find'
import { applyEdit, type Edit } from '../../core/design/edits/edits'
import { formWords } from '../../core/design/forms/forms'
import { partOf } from '../../core/design/part'
import { hasReading, isKey, itemsOf, itemTitle, readingForms } from '../../core/design/items'
import type { Design, PanelItem, PanelKey, PanelPart, PanelSurface } from '../../core/design/schema'
import { formsOf } from '../../core/design/values'
import { nextCodes, sceneCode } from '../../core/messages/assign'
import { layOut, readingPart } from '../../core/panels/auto'
import { wantsGuard } from '../../core/panels/danger'
import { deviceOf } from '../../core/panels/devices'
import {
  comfortable,
  firstKey,
  freePlace,
  keyCount,
  lockMm,
  itemId,
  maybeFreePlace,
  othersOn,
  overlaps,
  sizeFor,
  snap,
  type Box,
  without,
} from '../../core/panels/layout'
import { useDesignStore } from '../stores/design'

/** What the tray holds. */
export type Placeable =
  | { kind: 'load'; id: string }
  | { kind: 'reading'; id: string }
  | { kind: 'scene'; id: string }
  | { kind: 'line'; id: 'connection' | 'answers' | 'text' | 'countdown' | 'device' }

/** What a part starts with that is the page's own. */
const NEW_LINES: Partial<Record<PanelPart['form'], object>> = {
  text: { text: 'Text' },
  countdown: { minutes: 10 },
  device: { reads: 'battery' },
}

/** What of a panel shows a thing of the tray. */
export function placedAs(panel: PanelSurface, thing: Placeable): PanelItem | undefined {
  switch (thing.kind) {
    case 'load':
      return panel.keys.find(k => k.loadId === thing.id)
    case 'reading':
      return panel.parts.find(p => 'sensorId' in p && p.sensorId === thing.id)
    case 'scene':
      return panel.parts.find(p => 'sceneId' in p && p.sceneId === thing.id)
    // As many texts, timers and readings of the device as are wanted.
    case 'line':
      return NEW_LINES[thing.id] ? undefined : panel.parts.find(p => p.form === thing.id)
  }
}

export function usePanelPlacing() {
  const designs = useDesignStore()

  /**
   * `at` is the wanted middle, mm; null takes the first free place. Returns the id of what was
   * placed, or null.
   */
  function place(
    panel: PanelSurface,
    thing: Placeable,
    page: number,
    at: { xMm: number; yMm: number } | null,
  ): string | null {
    const { design } = designs
    if (!design) return null
    const made = edits(panel, thing, page, at)
    if (!made) return null
    return designs.applyAll(
      made.edits,
      `${made.title} placed on ${panel.name}, with a code of its own`,
    )
      ? made.id
      : null
  }

  function edits(
    panel: PanelSurface,
    thing: Placeable,
    page: number,
    at: { xMm: number; yMm: number } | null,
  ): { id: string; title: string; edits: Edit[] } | null {
    const { design } = designs
    if (!design) return null
    const link = linkOf(design, panel.linkId)
    const placed = <T extends Box>(box: T) =>
      at
        ? {
            ...box,
            ...snap(
              {
                xMm: at.xMm - box.widthMm / 2,
                yMm: at.yMm - box.heightMm / 2,
                widthMm: box.widthMm,
                heightMm: box.heightMm,
              },
              deviceOf(panel),
            ),
          }
        : box
    // Where a page is full, the first with room takes it.
    const roomy = (size: { widthMm: number; heightMm: number }) =>
      at || maybeFreePlace(panel, size, page)
        ? page
        : Math.max(
            0,
            panel.pages.findIndex((_, i) => maybeFreePlace(panel, size, i)),
          )
    if (thing.kind === 'load') {
      const load = loadOf(design, thing.id)
      const first = firstKey(panel, load, page)
      const guard = wantsGuard(load, first) ? ('slide' as const) : first.guard
      const size = { widthMm: first.widthMm, heightMm: first.heightMm + lockMm({ guard }) }
      const on = roomy(size)
      const key = placed({ ...first, guard, page: on, ...freePlace(panel, size, on) })
      return {
        id: key.id,
        title: load.name,
        edits: [
          ...(maybeMessage(link, load.id)
            ? []
            : [
                {
                  type: 'addMessage' as const,
                  linkId: link.id,
                  loadId: load.id,
                  codes: nextCodes(design, link, load),
                },
              ]),
          { type: 'placeKey', surfaceId: panel.id, key },
        ],
      }
    }
    const part = (form: PanelPart['form'], rest: object, wish: string): PanelPart => {
      const on = roomy(sizeFor(form))
      return placed({
        id: itemId(panel, wish),
        form,
        page: on,
        ...freePlace(panel, sizeFor(form), on),
        ...rest,
      } as PanelPart)
    }
    if (thing.kind === 'reading') {
      const sensor = design.sensors.find(s => s.id === thing.id)
      const form = sensor && readingForms(sensor)[0]
      if (!sensor || !form) return null
      const made = part(form, readingPart(sensor, itemId(panel, sensor.id), form), sensor.id)
      return {
        id: made.id,
        title: sensor.name,
        edits: [
          ...(link.readings.some(r => r.sensorId === sensor.id)
            ? []
            : [{ type: 'setReading' as const, linkId: link.id, sensorId: sensor.id, patch: {} }]),
          { type: 'placePart', surfaceId: panel.id, part: made },
        ],
      }
    }
    if (thing.kind === 'scene') {
      const scene = design.scenes.find(s => s.id === thing.id)
      if (!scene) return null
      const made = part('scene', { sceneId: scene.id, guard: 'none' }, scene.id)
      return {
        id: made.id,
        title: scene.name,
        edits: [
          ...((link.scenes[scene.id] ?? '') !== ''
            ? []
            : [
                {
                  type: 'setSceneCode' as const,
                  linkId: link.id,
                  sceneId: scene.id,
                  code: sceneCode(design, link, scene),
                },
              ]),
          { type: 'placePart', surfaceId: panel.id, part: made },
        ],
      }
    }
    const made = part(thing.id, NEW_LINES[thing.id] ?? {}, thing.id)
    return {
      id: made.id,
      title: itemTitle(design, made),
      edits: [{ type: 'placePart', surfaceId: panel.id, part: made }],
    }
  }

  /**
   * Laid out by Nolvi. A panel on which nothing stands yet takes everything that its controller
   * has: loads, readings and scenes get codes on its link. Else it is what its link can say
   * already.
   */
  function layOutPanel(panel: PanelSurface): boolean {
    const whole = designs.design
    if (!whole) return false
    const { controllerId } = linkOf(whole, panel.linkId)
    const edits: Edit[] = []
    let now = whole
    const add = (edit: Edit) => {
      const applied = applyEdit(now, edit)
      if (!applied.ok) return
      edits.push(edit)
      now = applied.design
    }
    if (!itemsOf(panel).length) {
      const link = () => linkOf(now, panel.linkId)
      for (const load of whole.loads)
        if (load.controllerId === controllerId && !maybeMessage(link(), load.id))
          add({
            type: 'addMessage',
            linkId: panel.linkId,
            loadId: load.id,
            codes: nextCodes(now, link(), load),
          })
      for (const sensor of whole.sensors)
        if (
          sensor.controllerId === controllerId
          && hasReading(sensor)
          && !link().readings.some(r => r.sensorId === sensor.id)
        )
          add({ type: 'setReading', linkId: panel.linkId, sensorId: sensor.id, patch: {} })
      for (const scene of partOf(now, controllerId).scenes)
        if ((link().scenes[scene.id] ?? '') === '')
          add({
            type: 'setSceneCode',
            linkId: panel.linkId,
            sceneId: scene.id,
            code: sceneCode(now, link(), scene),
          })
    }
    add({
      type: 'setLayout',
      surfaceId: panel.id,
      ...layOut(partOf(now, controllerId), panelOf(now, panel.id)),
    })
    return designs.applyAll(edits, `${panel.name} laid out, with codes for all that stands on it`)
  }

  return { place, layOutPanel }
}

/** Another form of the same thing, with the room that it wants; null where it has one form only. */
export function nextFormEdit(design: Design, panel: PanelSurface, item: PanelItem): Edit | null {
  const forms = formsFor(design, item)
  const next = forms[(forms.indexOf(item.form) + 1) % forms.length]
  return next && next !== item.form ? formEdit(design, panel, item, next) : null
}

/** Forms that fit a thing. */
export function formsFor(design: Design, item: PanelItem): readonly PanelItem['form'][] {
  if (isKey(item)) return formsOf(loadOf(design, item.loadId).output)
  const sensor = 'sensorId' in item ? design.sensors.find(s => s.id === item.sensorId) : undefined
  return sensor ? readingForms(sensor) : [item.form]
}

export function formEdit(
  design: Design,
  panel: PanelSurface,
  item: PanelItem,
  form: PanelItem['form'],
): Edit {
  const glass = deviceOf(panel)
  /** Where it stands, or where there is room for it. */
  const roomy = (box: Box): Box =>
    othersOn(panel, item).some(o => overlaps(o, box))
      ? (maybeFreePlace(without(panel, item), box, item.page) ?? box)
      : box
  const words = `${itemTitle(design, item)} on ${panel.name} becomes ${formWords(form).words}`
  if (isKey(item)) {
    const count = keyCount(loadOf(design, item.loadId).output, form as PanelKey['form'])
    const wanted = sizeFor(form, count)
    const box = comfortable(
      {
        ...snap(
          { ...item, widthMm: wanted.widthMm, heightMm: wanted.heightMm + lockMm(item) },
          glass,
        ),
        form,
        guard: item.guard,
      },
      glass,
      count,
    )
    return {
      type: 'together',
      words,
      edits: [
        { type: 'setKeyForm', surfaceId: panel.id, keyId: item.id, form: form as PanelKey['form'] },
        { type: 'moveKey', surfaceId: panel.id, keyId: item.id, box: roomy(box) },
      ],
    }
  }
  // Parts of other forms hold other things: one goes, the other comes in its place.
  const sensor = design.sensors.find(s => 'sensorId' in item && s.id === item.sensorId)
  const made = sensor
    ? {
        ...readingPart(sensor, item.id, form as ReturnType<typeof readingForms>[number]),
        page: item.page,
        ...roomy(snap({ ...item, ...sizeFor(form) }, glass)),
      }
    : item
  return {
    type: 'together',
    words,
    edits: [
      { type: 'removeKey', surfaceId: panel.id, keyId: item.id },
      { type: 'placePart', surfaceId: panel.id, part: made as PanelPart },
    ],
  }
}
