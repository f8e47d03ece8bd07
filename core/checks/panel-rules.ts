/**
 * Panels, checked for hands and eyes: what is too small, too near, not guarded, not shown, not
 * readable, too large to keep.
 */
import { pageLength } from '../sides/panel-html'
import { linkOf, loadOf, maybeMessage, panels } from '../design/find'
import type { Edit } from '../design/edits/edits'
import { GUARD_WORDS, isKey, itemPath, itemsOf, itemTitle } from '../design/items'
import { boardOf, frontOf } from '../design/pins'
import type { Design, Guard, PanelItem, PanelSurface } from '../design/schema'
import { themeTroubles } from '../panels/colour'
import { guardedDangers, wantsGuard } from '../panels/danger'
import { DANGER_GAP_MM, deviceOf, MIN_KEY_MM, WCAG_TARGET_MM } from '../panels/devices'
import {
  comfortable,
  firstKey,
  freePlace,
  gapMm,
  isTouched,
  keyCount,
  lockMm,
  maybeFreePlace,
  offGlass,
  othersOn,
  overlaps,
  smallestSideMm,
  snap,
  without,
} from '../panels/layout'
import { placeInReach, zoneOf } from '../panels/reach'
import { LONGER, roomFor, troubledTexts } from '../panels/texts'
import { classOf } from '../boards/classes'
import { readingClashes } from '../messages/readings'
import { reportBody, rows } from '../messages/table'
import { spokenValues } from '../design/values'
import { finding, type Finding, type Rule } from './finding'
import { speaksBytes } from '../design/links/traits'
import { kilobytes } from '../units/format'

interface Where {
  path: string
  surfaceId: string
  loadId: string | null
}

function eachItem(
  design: Design,
  look: (panel: PanelSurface, item: PanelItem, where: Where) => Finding[],
): Finding[] {
  return panels(design).flatMap(panel =>
    itemsOf(panel).flatMap(item => look(panel, item, whereIs(design, panel, item))),
  )
}

function whereIs(design: Design, panel: PanelSurface, item: PanelItem): Where {
  return {
    path: itemPath(design, panel, item),
    surfaceId: panel.id,
    loadId: isKey(item) ? item.loadId : null,
  }
}

const unplaced: Rule = design =>
  panels(design).flatMap(panel => {
    const at = `/surfaces/${design.surfaces.indexOf(panel)}/keys`
    const link = linkOf(design, panel.linkId)
    return link.messages
      .filter(m => !panel.keys.some(k => k.loadId === m.loadId))
      .map(m =>
        finding({
          code: 'key-unplaced',
          severity: 'note',
          path: at,
          loadId: m.loadId,
          surfaceId: panel.id,
          title: `${loadOf(design, m.loadId).name} is on no key of ${panel.name}`,
          reason: 'Its codes are there, but the panel has no key for it.',
          fixes: [
            {
              words: 'Place a key',
              edit: {
                type: 'placeKey',
                surfaceId: panel.id,
                key: firstKey(panel, loadOf(design, m.loadId), roomyPage(panel)),
              },
            },
          ],
        }),
      )
  })

/** The first page with room for a key, else the first. */
function roomyPage(panel: PanelSurface): number {
  const page = panel.pages.findIndex((_, i) =>
    maybeFreePlace(panel, { widthMm: 28, heightMm: 18 }, i),
  )
  return Math.max(0, page)
}

const placing: Rule = design =>
  eachItem(design, (panel, item, where) => {
    const device = deviceOf(panel)
    const name = itemTitle(design, item)
    const keys = isKey(item) ? keyCount(loadOf(design, item.loadId).output, item.form) : 1
    const side = isTouched(item) ? smallestSideMm(item, keys) : Infinity
    const others = othersOn(panel, item)
    const move = (box: object) => ({
      type: 'moveKey' as const,
      surfaceId: panel.id,
      keyId: item.id,
      box,
    })
    const elsewhere = () => move(freePlace(without(panel, item), item, item.page))
    const before = itemsOf(panel).slice(0, itemsOf(panel).indexOf(item))
    const over = before.find(o => o.page === item.page && overlaps(o, item))
    // What is smaller than 24 CSS pixels may stand alone: WCAG 2.2 then asks that circles of that
    // size do not meet.
    const tight =
      side < WCAG_TARGET_MM
        ? others.find(
            o => isTouched(o) && !overlaps(o, item) && gapMm(o, item) < WCAG_TARGET_MM - side,
          )
        : undefined
    return [
      ...(side < MIN_KEY_MM
        ? [
            finding({
              ...where,
              code: 'key-small',
              severity: 'warn',
              title: `${name} is too small for a thumb`,
              reason: `Its smallest side is ${side.toFixed(1)} mm; from ${MIN_KEY_MM} mm on, thumbs miss no more often than on larger keys.`,
              fixes: [
                { words: 'Make it large enough', edit: move(comfortable(item, device, keys)) },
              ],
            }),
          ]
        : []),
      ...(tight
        ? [
            finding({
              ...where,
              code: 'key-tight',
              severity: 'warn',
              title: `${name} is small and stands close to ${itemTitle(design, tight)}`,
              reason: `Their gap is ${gapMm(tight, item).toFixed(1)} mm. WCAG 2.2 (2.5.8) asks of a target below ${WCAG_TARGET_MM.toFixed(1)} mm that nothing else lies within that distance.`,
              fixes: [
                { words: 'Make it large enough', edit: move(comfortable(item, device, keys)) },
              ],
            }),
          ]
        : []),
      ...(over
        ? [
            finding({
              ...where,
              code: 'key-overlap',
              severity: 'warn',
              title: `${name} lies over ${itemTitle(design, over)}`,
              reason: `Both cover the same ${panel.name} glass.`,
              fixes: [{ words: 'Move to a free place', edit: elsewhere() }],
            }),
          ]
        : []),
      ...(offGlass(item, device)
        ? [
            finding({
              ...where,
              code: 'key-off-glass',
              severity: 'warn',
              title: `${name} hangs over the edge`,
              reason: `${panel.name} is ${device.widthMm} x ${device.heightMm} mm.`,
              fixes: [{ words: 'Move to a free place', edit: elsewhere() }],
            }),
          ]
        : []),
    ]
  })

/** A guard, with the room that it takes. */
export function guardEdit(
  design: Design,
  panel: PanelSurface,
  item: PanelItem,
  guard: Guard,
): Edit {
  const box = snap(
    { ...item, heightMm: item.heightMm - lockMm(item) + lockMm({ guard }) },
    deviceOf(panel),
  )
  return {
    type: 'together',
    words: `${itemTitle(design, item)} on ${panel.name}: ${GUARD_WORDS[guard]}`,
    edits: [
      { type: 'setItem', surfaceId: panel.id, keyId: item.id, patch: { guard } },
      { type: 'moveKey', surfaceId: panel.id, keyId: item.id, box },
    ],
  }
}

const danger: Rule = design =>
  eachItem(design, (panel, item, where) => {
    if (!isKey(item)) return []
    const load = loadOf(design, item.loadId)
    const dangers = guardedDangers(load)
    if (!dangers.length) return []
    const near = othersOn(panel, item).find(
      o => isTouched(o) && !overlaps(o, item) && gapMm(o, item) < DANGER_GAP_MM,
    )
    return [
      ...(wantsGuard(load, item)
        ? [
            finding({
              ...where,
              code: 'key-unguarded',
              severity: 'warn',
              title: `${load.name} has no guard on ${panel.name}`,
              reason: `It is marked: ${dangers.join(', ')}. One tap beside another key sets it going. Ending it stays free of any guard.`,
              fixes: [
                { words: 'Slide a lock first', edit: guardEdit(design, panel, item, 'slide') },
                {
                  words: 'Hold to confirm',
                  edit: {
                    type: 'setItem',
                    surfaceId: panel.id,
                    keyId: item.id,
                    patch: { guard: 'hold' },
                  },
                },
              ],
            }),
          ]
        : []),
      ...(near
        ? [
            finding({
              ...where,
              code: 'key-danger-near',
              severity: 'warn',
              title: `${load.name} stands close to ${itemTitle(design, near)}`,
              reason: `${gapMm(near, item).toFixed(1)} mm lie between them; what is marked ${dangers.join(', ')} keeps ${DANGER_GAP_MM} mm.`,
            }),
          ]
        : []),
    ]
  })

/** Keys that never learn what they switched, and scenes whose loads nobody sees there. */
const blind: Rule = design =>
  eachItem(design, (panel, item, where) => {
    const link = linkOf(design, panel.linkId)
    if (isKey(item)) {
      const message = maybeMessage(link, item.loadId)
      if (!message || message.ack || message.change || link.onConnect || panel.pollMs > 0) return []
      return [
        finding({
          ...where,
          code: 'key-blind',
          severity: 'warn',
          title: `${itemTitle(design, item)} on ${panel.name} shows no state`,
          reason:
            'Nothing on this link tells what the load does: the key stays at what was asked, or not known.',
          fixes: [
            {
              words: 'Answer each command',
              edit: { type: 'setReport', linkId: link.id, loadId: item.loadId, ack: true },
            },
            {
              words: 'Report on change',
              edit: { type: 'setReport', linkId: link.id, loadId: item.loadId, change: true },
            },
          ],
        }),
      ]
    }
    if (!('sceneId' in item)) return []
    const unseen =
      design.scenes
        .find(s => s.id === item.sceneId)
        ?.sets.filter(x => !panel.keys.some(k => k.loadId === x.loadId)) ?? []
    return unseen.length
      ? [
          finding({
            ...where,
            code: 'scene-blind',
            severity: 'note',
            title: `${itemTitle(design, item)} moves what ${panel.name} does not show`,
            reason: `No key there shows ${unseen.map(x => loadOf(design, x.loadId).name).join(', ')}.`,
          }),
        ]
      : []
  })

/** First in the sheet is used most. */
const reach: Rule = design =>
  panels(design).flatMap(panel => {
    const device = deviceOf(panel)
    const often = panel.keys.filter(
      k =>
        design.loads.findIndex(l => l.id === k.loadId) < 2
        && !guardedDangers(loadOf(design, k.loadId)).length,
    )
    return often
      .filter(
        k =>
          k.page === 0
          && zoneOf(device, 'right', k) === 'far'
          && zoneOf(device, 'left', k) === 'far',
      )
      .map(k =>
        finding({
          ...whereIs(design, panel, k),
          code: 'key-far',
          severity: 'note',
          title: `${loadOf(design, k.loadId).name} is out of reach of a thumb on ${panel.name}`,
          reason:
            'It stands first in the sheet, and neither hand reaches it without changing its grip.',
          fixes: [placeInReach(panel, k)].flatMap(box =>
            box
              ? [
                  {
                    words: 'Move it into reach',
                    edit: { type: 'moveKey' as const, surfaceId: panel.id, keyId: k.id, box },
                  },
                ]
              : [],
          ),
        }),
      )
  })

const readable: Rule = design =>
  panels(design).flatMap(panel => {
    const at = `/surfaces/${design.surfaces.indexOf(panel)}`
    const colours = themeTroubles(panel.theme).map(t =>
      finding({
        code: 'theme-contrast',
        severity: 'warn',
        path: `${at}/theme`,
        surfaceId: panel.id,
        title: `${panel.name} by ${t.look}: ${t.what} can hardly be read`,
        reason: `Their contrast is ${t.contrast.toFixed(1)} : 1; WCAG 2.2 (1.4.3) asks for ${t.least} : 1.`,
        fixes: [
          {
            words: t.look === 'day' ? 'Ink on paper' : 'Paper on ink',
            edit: {
              type: 'setPanel',
              surfaceId: panel.id,
              patch: {
                theme:
                  t.look === 'day'
                    ? { paper: '#fcfaf5', ink: '#24211d' }
                    : { nightPaper: '#262320', nightInk: '#f0eadd' },
              },
            },
          },
        ],
      }),
    )
    const texts = troubledTexts(design, panel).map(({ item, text, longer }) =>
      finding({
        code: longer ? 'text-tight' : 'text-cut',
        severity: longer ? 'note' : 'warn',
        ...whereIs(design, panel, item),
        title: longer
          ? `"${text}" would not fit on ${panel.name} if it were longer`
          : `"${text}" does not fit on ${panel.name}`,
        reason: longer
          ? `It fits now; a translation is often a third longer (counted with ${Math.round(LONGER * 100)} %).`
          : `The text is wider or higher than its place, at ${panel.theme.textMm} mm type.`,
        fixes: (longer ? [] : [roomFor(design, panel, item)]).flatMap(box =>
          box
            ? [
                {
                  words: 'Give it the room',
                  edit: { type: 'moveKey' as const, surfaceId: panel.id, keyId: item.id, box },
                },
              ]
            : [],
        ),
      }),
    )
    return [...colours, ...texts]
  })

/** Only what a board hands out itself has to fit into it. */
const weight: Rule = design =>
  panels(design).flatMap(panel => {
    const link = linkOf(design, panel.linkId)
    if (speaksBytes(link)) return []
    const board = frontOf(design) ?? boardOf(design)
    const room = classOf(board).page
    const bytes = pageLength(design, panel.id)
    return bytes <= room.bytes
      ? []
      : [
          finding({
            code: 'page-heavy',
            severity: 'warn',
            path: `/surfaces/${design.surfaces.indexOf(panel)}`,
            surfaceId: panel.id,
            title: `The page of ${panel.name} is too large for ${board.name}`,
            reason: `It has ${kilobytes(bytes)} as it is; ${room.why}. Way out: ${panel.pages.some(p => p.picture) ? 'leave the picture out, ' : ''}hand the page out compressed, from another device, or open it as a file.`,
          }),
        ]
  })

const clashingReadings: Rule = design =>
  design.links.flatMap((link, i) =>
    readingClashes(
      link,
      rows(design, link).flatMap(({ load, message }) =>
        spokenValues(load.output).map(v => reportBody(link, load, message, v)),
      ),
    ).map(c =>
      finding({
        code: 'reading-clash',
        severity: 'stop',
        path: `/links/${i}/readings/${link.readings.findIndex(r => r.sensorId === c.sensorId)}/code`,
        surfaceId: panels(design).find(p => p.linkId === link.id)?.id ?? null,
        title: `The code of a reading on ${link.name} starts like something else`,
        reason: `Without ends nobody can tell it from "${c.with}": give it a code of its own.`,
      }),
    ),
  )

export const PANEL_RULES: readonly Rule[] = [
  unplaced,
  placing,
  danger,
  blind,
  reach,
  readable,
  weight,
  clashingReadings,
]
