/**
 * Scripts as plain text: a line for each thing that is done and each that is expected. What is
 * written is read back equal.
 */
import { actionIn, actionText } from './actions'
import { actionSchema, scriptSchema, type BenchScript, type Expectation } from './script'

export class BadScript extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(`line ${line}: ${message}`)
  }
}

/** A script as text that `readScript` reads back equal. */
export function scriptText(script: BenchScript, title = ''): string {
  const lines = title ? [`# ${title.replaceAll('\n', ' ')}`] : []
  lines.push(`seed ${script.seed}`)
  for (const [key, fate] of Object.entries(script.fates ?? {}))
    lines.push(
      `fate ${key} ${fate === 'lost' ? 'lost' : `arrives ${[fate].flat().map(time).join(' and ')}`}`,
    )
  const expects = (script.expects ?? []).map(e => ({
    at: e.kind === 'stays' ? e.fromMs : e.atMs,
    text: expectationText(e),
  }))
  let next = 0
  script.steps.forEach(({ atMs, action }, i) => {
    lines.push(`at ${time(atMs)} ${actionText(action)}`)
    const after = script.steps[i + 1]
    // What is expected stands where its moment is.
    if (after === undefined || after.atMs > atMs)
      for (; next < expects.length && (expects[next]?.at ?? 0) < (after?.atMs ?? Infinity); next++)
        lines.push(expects[next]?.text ?? '')
  })
  for (; next < expects.length; next++) lines.push(expects[next]?.text ?? '')
  if (script.untilMs !== undefined) lines.push(`until ${time(script.untilMs)}`)
  return lines.join('\n') + '\n'
}

function time(ms: number): string {
  return `${Number((ms / 1000).toFixed(3))} s`
}

/** An expectation as its line of a script. */
export function expectationText(e: Expectation): string {
  switch (e.kind) {
    case 'shows':
      return `at ${time(e.atMs)} within ${e.withinMs} ms ${e.surfaces.length ? `${e.surfaces.join(', ')} ${e.surfaces.length > 1 ? 'show' : 'shows'}` : 'everybody shows'} ${e.loadId} ${e.value}`
    case 'is':
      return `at ${time(e.atMs)} within ${e.withinMs} ms ${e.loadId} is ${e.value}`
    case 'stays':
      return `from ${time(e.fromMs)} to ${time(e.toMs)} ${e.loadId} stays`
  }
}

/** Reads a script; throws with the line and the way out. */
export function readScript(text: string): BenchScript {
  const script: BenchScript = { seed: 1, steps: [] }
  const expects: Expectation[] = []
  const fates: NonNullable<BenchScript['fates']> = {}
  text.split('\n').forEach((given, i) => {
    const line = given.trim()
    if (line === '' || line.startsWith('#')) return
    const bad = (message: string): never => {
      throw new BadScript(i + 1, message)
    }
    const [, seed] = /^seed (\d+)$/.exec(line) ?? []
    if (seed !== undefined) return void (script.seed = Number(seed))
    const [, until] = /^until (\S+) s$/.exec(line) ?? []
    if (until !== undefined)
      return void (script.untilMs = ms(until) ?? bad(`"${until}" is no time in seconds`))
    const fate = fateIn(line, bad)
    if (fate) return void (fates[fate.of] = fate.is)
    const stays = staysIn(line, bad)
    if (stays) return void expects.push(stays)
    const [, at = '', rest = ''] = /^at (\S+) s (.+)$/.exec(line) ?? []
    const atMs =
      ms(at) ?? bad('a line is "at 1.5 s ...", "from ... to ... stays", "seed", "fate" or "until"')
    const expected = expectationIn(rest, atMs)
    if (expected) return void expects.push(expected)
    const action = actionIn(rest)
    const checked = actionSchema.safeParse(action)
    if (!checked.success)
      return bad(
        action
          ? `"${rest}": ${checked.error.issues[0]?.message ?? ''}`
          : `"${rest}" is nothing that can be done; such as: press ID, key SURFACE LOAD on, link ID down, power off`,
      )
    script.steps.push({ atMs, action: checked.data })
  })
  if (expects.length) script.expects = expects
  if (Object.keys(fates).length) script.fates = fates
  script.steps = script.steps
    .map((s, i) => ({ s, i }))
    .sort((a, b) => a.s.atMs - b.s.atMs || a.i - b.i)
    .map(x => x.s)
  const checked = scriptSchema.safeParse(script)
  if (!checked.success)
    throw new BadScript(
      1,
      `${checked.error.issues[0]?.path.join('/') ?? ''}: ${checked.error.issues[0]?.message ?? ''}`,
    )
  return checked.data
}

function ms(text: string): number | null {
  return /^\d+(\.\d{1,3})?$/.test(text) ? Math.round(Number(text) * 1000) : null
}

type Fate = NonNullable<BenchScript['fates']>[string]
type Bad = (message: string) => never

function fateIn(line: string, bad: Bad): { of: string; is: Fate } | null {
  const [whole, of = '', lost, arrives = ''] =
    /^fate (\S+ (?:up|down) \d+) (?:(lost)|arrives (\S+ s(?: and \S+ s)*))$/.exec(line) ?? []
  if (whole === undefined) return null
  if (lost) return { of, is: 'lost' }
  const times = arrives
    .split(' and ')
    .map(t => ms(t.slice(0, -2)) ?? bad('when it arrives is a time in seconds'))
  const [only = 0, ...more] = times
  return { of, is: more.length ? times : only }
}

function staysIn(line: string, bad: Bad): Expectation | null {
  const [whole, from = '', to = '', loadId = ''] =
    /^from (\S+) s to (\S+) s (\S+) stays$/.exec(line) ?? []
  if (whole === undefined) return null
  const time = (text: string) => ms(text) ?? bad('a time is missing')
  return { kind: 'stays', fromMs: time(from), toMs: time(to), loadId }
}

function expectationIn(text: string, atMs: number): Expectation | null {
  const [, within = '', who = '', loadId = '', value = ''] =
    /^within (\d+) ms (.+?) (?:shows|show) (\S+) (\S+)$/.exec(text) ?? []
  if (value)
    return {
      kind: 'shows',
      atMs,
      withinMs: Number(within),
      surfaces: who === 'everybody' ? [] : who.split(/, */),
      loadId,
      value,
    }
  const is = /^within (\d+) ms (\S+) is (\S+)$/.exec(text)
  return is
    ? { kind: 'is', atMs, withinMs: Number(is[1]), loadId: is[2] ?? '', value: is[3] ?? '' }
    : null
}
