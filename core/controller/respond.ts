/**
 * What a controller would do and answer when it receives a text on a link, everything off before.
 * For the try-box.
 */
import { linkOf } from '../design/find'
import { partOf } from '../design/part'
import { fullOf, linesOf } from '../design/values'
import type { Design, Output } from '../design/schema'
import { compileController } from './program'
import { startController, step, type Effect } from './step'
import { isLevel, isStepper } from '../design/outputs/traits'

export interface Response {
  does: string[]
  answers: { linkId: string; text: string; status?: number }[]
}

/** `on` names the loads that are fully on beforehand. */
export function respond(
  design: Design,
  linkId: string,
  text: string,
  on: readonly string[] = [],
): Response {
  const part = partOf(design, linkOf(design, linkId).controllerId)
  const program = compileController(part)
  const link = program.linkIndex.get(linkId) as number
  let { state } = step(program, startController(program), {
    kind: 'boot',
    now: 0,
    levels: program.inputs.map(() => 1),
  })
  state = {
    ...state,
    value: program.loads.map((l, i) =>
      on.includes(l.id) ? fullOf(l.output) : (state.value[i] as string),
    ),
  }
  for (const [i] of program.links.entries())
    state = step(program, state, { kind: 'linkUp', now: 1, link: i }).state
  const { effects } = step(program, state, { kind: 'received', now: 2, link, text })
  return {
    does: effects.flatMap(e => (e.kind === 'pin' ? [doesWords(part, e)] : [])),
    answers: effects.flatMap(e =>
      e.kind === 'send' || e.kind === 'reply'
        ? [
            {
              linkId: program.links[e.link]?.link.id ?? '',
              text: e.text,
              ...(e.kind === 'reply' ? { status: e.status } : {}),
            },
          ]
        : [],
    ),
  }
}

function doesWords(design: Design, effect: Extract<Effect, { kind: 'pin' }>): string {
  const load = design.loads[effect.load]
  const line = load && linesOf(load.output)[effect.line]
  if (!load || !line) return ''
  const { output } = load
  const on = effect.level > 0 === (line.use.as !== 'output' || line.use.activeLevel === 'high')
  const what = isLevel(output)
    ? `puts out ${effect.level} of 255`
    : `${line.name ? `${line.name} ` : ''}switches ${on ? 'on' : 'off'}`
  return `${load.name}${line.name ? ':' : ''} ${what}: pin ${line.pin} ${pinDoes(output, effect)}`
}

function pinDoes(output: Output, { line, level }: { line: number; level: number }): string {
  if (isLevel(output)) return 'dims'
  if (isStepper(output) && line === 0) return `steps at ${level} Hz`
  return `goes ${level ? 'high' : 'low'}`
}
