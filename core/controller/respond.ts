/** What a controller would do and answer when it receives a text on a link, everything off before. For the try-box. */
import { linkOf } from '../design/find'
import type { Design } from '../design/schema'
import { compileController } from './program'
import { startController, step, type Effect } from './step'

export interface Response { does: string[], answers: { linkId: string, text: string, status?: number }[] }

/** `on` names the loads that are on beforehand. */
export function respond(design: Design, linkId: string, text: string, on: readonly string[] = []): Response {
  const program = compileController(design)
  const link = program.linkIndex.get(linkOf(design, linkId).id) as number
  let { state } = step(program, startController(program), { kind: 'boot', now: 0, levels: program.inputs.map(() => 1) })
  state = { ...state, on: program.loads.map(l => on.includes(l.id)) }
  for (const [i] of program.links.entries()) state = step(program, state, { kind: 'linkUp', now: 1, link: i }).state
  const { effects } = step(program, state, { kind: 'received', now: 2, link, text })
  return {
    does: effects.flatMap(e => e.kind === 'pin' ? [doesWords(design, e)] : []),
    answers: effects.flatMap(e => e.kind === 'send' || e.kind === 'reply'
      ? [{ linkId: program.links[e.link]?.link.id ?? '', text: e.text, ...(e.kind === 'reply' ? { status: e.status } : {}) }]
      : []),
  }
}

function doesWords(design: Design, effect: Extract<Effect, { kind: 'pin' }>): string {
  const load = design.loads[effect.load]
  if (!load) return ''
  const on = (effect.level === 1) === (load.output.activeLevel === 'high')
  return `${load.name} switches ${on ? 'on' : 'off'}: pin ${load.output.pin} goes ${effect.level ? 'high' : 'low'}`
}
