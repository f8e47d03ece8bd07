/**
 * The sheet as data: for each load and surface what it says, what it hears, its verdict, and what
 * an outage leaves.
 */
import { gestureWords } from '../bench/fingers'
import { linkOf, loadOf, maybeMessage } from '../design/find'
import type { Control, Design, Load, FarSurface, Surface } from '../design/schema'
import { valuesOf, valueWords } from '../design/values'
import { streams, codesShown } from '../messages/table'
import { commandsLoad, outageOf, survives, type Outage } from '../proof/outages'
import type { PromiseState, Verdict } from '../proof/prove'
import { seconds } from '../units/format'
import { isHeld } from '../design/outputs/traits'
import { speaksBytes } from '../design/links/traits'
import { actsOn, targetWords } from '../design/targets'

export type CellState = PromiseState | 'shows nothing'
export interface Cell {
  says: string
  hears: string
  state: CellState
  works: boolean
}
export interface Row {
  load: Load
  cells: (Cell | null)[]
}

/** The sheet: a row for each load, a cell for each surface, in an outage or none. */
export function sheet(design: Design, verdicts: Record<string, Verdict>, outage = 'none'): Row[] {
  const out = outageOf(design, outage)
  return design.loads.map(load => ({
    load,
    cells: design.surfaces.map(surface => cell(design, load, surface, verdicts[load.id], out)),
  }))
}

function cell(
  design: Design,
  load: Load,
  surface: Surface,
  verdict: Verdict | undefined,
  outage: Outage,
): Cell | null {
  if (!commandsLoad(design, surface, load.id)) return null
  const works = survives(design, surface, outage)
  if (surface.kind === 'hand') {
    const says = surface.controls
      .toSorted((a, b) => Number(b.loadId === load.id) - Number(a.loadId === load.id))
      .flatMap(c =>
        actsOn(design, c, load.id).map(({ on, asks }) =>
          on === 'single'
            ? controlSays(design, load, c)
            : `${gestureWords(on)}${c.loadId === load.id ? '' : ` on ${loadOf(design, c.loadId).name}`}: ${asks === 'toggle' ? 'toggles' : askedWords(load, asks)}`,
        ),
      )
    return {
      says: says.join(', '),
      hears: surface.inSight ? 'in sight of it' : 'out of sight',
      state: 'shows nothing',
      works,
    }
  }
  const link = linkOf(design, surface.linkId)
  const message = maybeMessage(link, load.id)
  const state = verdict?.surfaces.find(s => s.surfaceId === surface.id)?.state ?? 'shows nothing'
  return {
    says: message ? saysWords(codesShown(load, message)) : '',
    hears: hearsWords(design, surface, load.id),
    state,
    works,
  }
}

/** What a hand control does to its load, in a word or two. */
function controlSays(design: Design, load: Load, control: Control): string {
  const { sceneId } = control
  if (sceneId !== null) return `asks: ${targetWords(design, { sceneId })}`
  const how = control.kind === 'push' ? 'toggles' : control.acts
  if (control.asks === 'toggle') return how
  const asks = control.kind === 'push' ? 'asks' : how
  return `${isHeld(load.output) ? 'holds' : asks}: ${askedWords(load, control.asks)}`
}

function askedWords(load: Load, asks: string): string {
  return valuesOf(load.output).includes(asks) ? valueWords(load.output, asks) : asks
}

/** "E / e"; routes that differ in their last part only are told once: "/booth/on | off". */
export function saysWords(codes: readonly string[]): string {
  const [first = '', ...rest] = codes
  const cut = first.lastIndexOf('/')
  const stem = first.slice(0, cut + 1)
  const many = manyWords(codes)
  if (many) return many
  return cut > 0
    && rest.every(
      code => code.startsWith(stem) && !code.slice(cut + 1).includes('/') && code.length > cut + 1,
    )
    ? `${first} | ${rest.map(code => code.slice(cut + 1)).join(' | ')}`
    : codes.map(code => code || 'no code').join(' / ')
}

/** More than two codes of one length: what they have in common once, "0101·00 | 01 | 02". */
function manyWords(codes: readonly string[]): string {
  const [first = ''] = codes
  if (codes.length < 3 || codes.some(c => c.length !== first.length)) return ''
  let common = 0
  while (common < first.length && codes.every(c => c[common] === first[common])) common++
  // Two hexadecimal digits stay together.
  if (/^[0-9A-F]+$/.test(first) && first.length % 2 === 0) common -= common % 2
  return common < 3 || first[common - 1] === '/'
    ? ''
    : `${first.slice(0, common)}·${codes.map(c => c.slice(common)).join(' | ')}`
}

function hearsWords(design: Design, surface: FarSurface, loadId: string): string {
  const link = linkOf(design, surface.linkId)
  const message = maybeMessage(link, loadId)
  const pushes = speaksBytes(link) || streams(link)
  const parts = [
    message?.change && pushes ? 'on change' : '',
    message?.ack ? 'answer' : '',
    link.onConnect ? 'on connect' : '',
    surface.pollMs ? `asks every ${seconds(surface.pollMs)}` : '',
  ].filter(Boolean)
  return parts.length ? parts.join(', ') : 'hears nothing'
}
