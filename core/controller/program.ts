/** A design compiled for one controller: indexes instead of ids, so that a step is table look-ups only. */
import { handSurfaces, sensesPanel } from '../design/find'
import type { Control, Design, Link, Load, OnOff } from '../design/schema'
import { commands, rows, streams } from '../messages/table'

export interface ProgramMessage { load: number, ack: boolean, change: boolean, on: string, off: string }
export type Meaning = { kind: 'set', load: number, value: boolean } | { kind: 'ask' }
export interface ProgramLink {
  link: Link
  streams: boolean
  /** Knows when a panel connects; a serial module without its connected line does not. */
  senses: boolean
  meanings: Map<string, Meaning>
  codes: ReadonlySet<string>
  messages: (ProgramMessage | undefined)[]
}
export interface Program {
  design: Design
  loads: Load[]
  inputs: { control: Control, load: number }[]
  links: ProgramLink[]
  loadIndex: Map<string, number>
  linkIndex: Map<string, number>
  inputIndex: Map<string, number>
}

export function compileController(design: Design): Program {
  const loadIndex = indexBy(design.loads)
  const controls = handSurfaces(design).flatMap(s => s.controls)
  return {
    design,
    loads: design.loads,
    inputs: controls.map(control => ({ control, load: loadIndex.get(control.loadId) as number })),
    links: design.links.map(link => compileLink(design, link, loadIndex)),
    loadIndex,
    linkIndex: indexBy(design.links),
    inputIndex: indexBy(controls),
  }
}

function compileLink(design: Design, link: Link, loadIndex: Map<string, number>): ProgramLink {
  const meanings = new Map<string, Meaning>()
  // The first entry of a duplicate wins, as the first branch does in a program.
  for (const c of commands(design, link)) if (!meanings.has(c.code)) meanings.set(c.code, { kind: 'set', load: loadIndex.get(c.loadId) as number, value: isOn(c.value) })
  const ask = link.kind === 'http' ? link.askRoute : link.askCode
  if (!meanings.has(ask)) meanings.set(ask, { kind: 'ask' })
  const messages: ProgramLink['messages'] = design.loads.map(() => undefined)
  for (const { load, message } of rows(design, link)) {
    const index = loadIndex.get(load.id) as number
    messages[index] = { load: index, ack: message.ack, change: message.change, on: reportOf(link, load.id, message.on, 1), off: reportOf(link, load.id, message.off, 0) }
  }
  return { link, streams: streams(link), senses: sensesPanel(link), meanings, codes: new Set(meanings.keys()), messages }
}

function reportOf(link: Link, loadId: string, code: string, bit: 0 | 1): string {
  return link.kind === 'http' ? `${loadId}=${bit}` : link.reportMark + code
}

function isOn(value: OnOff): boolean {
  return value === 'on'
}

function indexBy(list: readonly { id: string }[]): Map<string, number> {
  return new Map(list.map((item, i) => [item.id, i]))
}
