/**
 * Where the sides of a design go: each board, each panel, the wall, the papers; with what has to be
 * done there, in order, and the files that are for it.
 */
import { panels } from '../design/find'
import { speaksRoutes } from '../design/links/traits'
import { parts } from '../design/part'
import { boardOf, frontOf } from '../design/pins'
import { boxesOf } from '../design/boxes'
import type { Design, PanelSurface } from '../design/schema'
import { LINK_WORDS } from '../design/links/rows'
import { reach } from '../links/reach'
import type { BuiltFile } from './files'
import { canProgram, programmedFront, targetOf } from './program/can-program'
import { panelRoute } from './program/served-pages'
import { flashingSteps, frontSteps } from './wiring-sheet'

export interface Destination {
  id: string
  name: string
  /** What it is, in words. */
  what: string
  /** The board that is written to. */
  controllerId?: string
  /** It is in front of that one. */
  ahead?: true
  /** Those that are shown by themselves: what lies within another one is left out. */
  files: BuiltFile[]
  steps: string[]
  /** From where it works, and from where it does not. */
  reach: string[]
}

/** `files`: as `buildFiles` makes them of the design. Each lies with one destination. */
export function destinations(design: Design, files: readonly BuiltFile[]): Destination[] {
  const listed = files.filter(f => !f.within)
  const boards = parts(design).flatMap(({ controller, part }): Destination[] => {
    const own = listed.filter(f => f.goes === 'board' && f.boardId === controller.id)
    const front = frontOf(part)
    const board: Destination = {
      id: `board-${controller.id}`,
      name: controller.name,
      what: boardWords(design, part),
      controllerId: controller.id,
      files: own.filter(f => !f.ahead),
      steps: flashingSteps(part, 'alone'),
      reach: [],
    }
    if (!front || !part.front) return [board]
    const ahead: Destination = {
      id: `front-${controller.id}`,
      name: part.front.name,
      what: `in front of ${controller.name}, ${front.name}`,
      controllerId: controller.id,
      ahead: true,
      files: own.filter(f => f.ahead),
      steps: frontSteps(part),
      reach: [],
    }
    return [board, ahead]
  })
  const pages = panels(design).map((panel): Destination => ({
    id: `panel-${panel.id}`,
    name: panel.name,
    what: pageWords(design, panel),
    files: listed.filter(f => f.goes === 'screen' && f.surfaceId === panel.id),
    steps: pageSteps(design, panel),
    reach: pageReach(design, panel),
  }))
  const rest = (goes: BuiltFile['goes']) =>
    listed.filter(f => f.goes === goes && (goes !== 'screen' || f.surfaceId === null))
  return [
    ...boards,
    ...pages,
    {
      id: 'site',
      name: 'A place in your network',
      what: 'all panels, to be installed',
      files: rest('screen'),
      steps: [
        'Put the folder onto a server of your house, or into one of the phone.',
        'Open its first page, and keep it on the home screen: it works without the internet.',
      ],
      reach: [],
    },
    {
      id: 'wall',
      name: 'The wall',
      what: 'cards to print',
      files: rest('wall'),
      steps: [
        'Print the cards at their real size and cut them out.',
        'Hang each where its load is: its code opens the panel at that key.',
      ],
      reach: [],
    },
    {
      id: 'papers',
      name: 'Your papers',
      what: 'messages, design, vectors',
      files: rest('papers'),
      steps: [],
      reach: [],
    },
  ].filter(d => d.files.length)
}

function boardWords(design: Design, part: Design): string {
  const { name } = boardOf(part)
  if (!boxesOf(design, part.controllers[0]?.id ?? '').length) return name
  return part.loads.length ? `${name}, asks other boards too` : `box, ${name}`
}

function pageWords(design: Design, panel: PanelSurface): string {
  const link = design.links.find(l => l.id === panel.linkId)
  return link ? `page, ${LINK_WORDS[link.kind]}` : 'page'
}

/** How a panel comes onto its screen: from its board where that serves it, or as a file. */
function pageSteps(design: Design, panel: PanelSurface): string[] {
  const link = design.links.find(l => l.id === panel.linkId)
  const of = parts(design).find(p => p.controller.id === link?.controllerId)
  const server = of ? serverOf(of.part) : null
  return [
    ...(server && speaksRoutes(link)
      ? [`It comes with the program of ${server}: open ${link.address}${panelRoute(panel.id)}.`]
      : []),
    `${server && speaksRoutes(link) ? 'Or take' : 'Take'} panel-${panel.id}.html onto the device, and open it there.`,
    'Press a key: its load moves, and the page shows what the board says.',
  ]
}

function pageReach(design: Design, panel: PanelSurface): string[] {
  return reach(design)
    .filter(r => r.surfaceId === panel.id)
    .map(({ from, works, why, instead }) => {
      const so = { yes: 'works', no: 'does not work', sometimes: 'works at times' }[works]
      return `${from}: ${so}, ${why}${instead ? `; ${instead}` : ''}`
    })
}

/** The name of the board whose program serves pages; null where none does. */
function serverOf(part: Design): string | null {
  const front = programmedFront(part)
  if (front) return part.front?.name ?? null
  const target = targetOf(part)
  const serves = target === 'linux' || target === 'wifi-small' || target === 'wifi-sockets'
  return serves && canProgram(part) ? (part.controllers[0]?.name ?? null) : null
}
