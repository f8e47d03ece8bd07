/**
 * Scripts as plain text: a line for each thing that is done and each that is expected. What is
 * written is read back equal.
 */
import {
  actionSchema,
  scriptSchema,
  type Action,
  type BenchScript,
  type Expectation,
} from './script'

export class BadScript extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(`line ${line}: ${message}`)
  }
}

/** By the word after "link ID": what is done to the link. */
const LINK_WORDS: Record<string, Extract<Action, { linkId: string }>['do']> = {
  down: 'linkDown',
  up: 'linkUp',
  'loses next': 'loseNext',
  'doubles next': 'doubleNext',
  replays: 'replay',
  'is taken': 'strangerOn',
  'is free': 'strangerOff',
}
const BARE: Record<string, Action> = {
  'router down': { do: 'routerDown' },
  'router up': { do: 'routerUp' },
  'power off': { do: 'powerOff' },
  'power on': { do: 'powerOn' },
  'board restarts': { do: 'restart' },
  'front down': { do: 'frontDown' },
  'front up': { do: 'frontUp' },
  'contacts bounce': { do: 'contacts', bounce: true },
  'contacts clean': { do: 'contacts', bounce: false },
}

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

function actionText(action: Action): string {
  switch (action.do) {
    case 'press':
      return `press ${action.controlId}${action.gesture && action.gesture !== 'single' ? ` ${action.gesture}` : ''}`
    case 'hold':
      return `hold ${action.controlId}`
    case 'letGo':
      return `let go ${action.controlId}`
    case 'key':
      return `key ${action.surfaceId} ${action.loadId} ${action.want}`
    case 'slide':
      return `slide ${action.surfaceId} ${action.loadId} ${action.want}`
    case 'scene':
      return `scene ${action.surfaceId} ${action.sceneId}`
    case 'sense':
      return `sense ${action.sensorId} ${action.raw.join(' ')}`
    case 'turn':
      return `turn ${action.sensorId} ${action.detents}`
    case 'remote':
      return `remote ${action.sensorId} ${action.key + 1}${action.repeats ? ` repeats ${action.repeats}` : ''}`
    case 'restartBox':
      return `box ${action.surfaceId} restarts`
    case 'replay':
      return `link ${action.linkId} replays${action.back ? ` ${action.back} back` : ''}`
    case 'linkDown':
    case 'linkUp':
    case 'loseNext':
    case 'doubleNext':
    case 'strangerOn':
    case 'strangerOff':
      return `link ${action.linkId} ${Object.keys(LINK_WORDS).find(w => LINK_WORDS[w] === action.do) ?? ''}`
    default:
      return Object.keys(BARE).find(w => JSON.stringify(BARE[w]) === JSON.stringify(action)) ?? ''
  }
}

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
    const seed = /^seed (\d+)$/.exec(line)
    if (seed) return void (script.seed = Number(seed[1]))
    const until = /^until (\S+) s$/.exec(line)
    if (until)
      return void (script.untilMs =
        ms(until[1] ?? '') ?? bad(`"${until[1] ?? ''}" is no time in seconds`))
    const fate = /^fate (\S+ (?:up|down) \d+) (?:(lost)|arrives (\S+ s(?: and \S+ s)*))$/.exec(line)
    if (fate) {
      const times = fate[2]
        ? []
        : (fate[3] ?? '')
            .split(' and ')
            .map(t => ms(t.slice(0, -2)) ?? bad('when it arrives is a time in seconds'))
      return void (fates[fate[1] ?? ''] = fate[2]
        ? 'lost'
        : times.length > 1
          ? times
          : (times[0] as number))
    }
    const stays = /^from (\S+) s to (\S+) s (\S+) stays$/.exec(line)
    if (stays)
      return void expects.push({
        kind: 'stays',
        fromMs: ms(stays[1] ?? '') ?? bad('a time is missing'),
        toMs: ms(stays[2] ?? '') ?? bad('a time is missing'),
        loadId: stays[3] ?? '',
      })
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

function actionIn(text: string): unknown {
  const bare = BARE[text]
  if (bare) return bare
  const [head = '', a = '', b = '', c = '', ...more] = text.split(/\s+/)
  switch (head) {
    case 'press':
      return { do: 'press', controlId: a, ...(b ? { gesture: b } : {}) }
    case 'hold':
      return { do: 'hold', controlId: a }
    case 'let':
      return { do: 'letGo', controlId: b }
    case 'key':
      return { do: 'key', surfaceId: a, loadId: b, want: c }
    case 'slide':
      return { do: 'slide', surfaceId: a, loadId: b, want: c }
    case 'scene':
      return { do: 'scene', surfaceId: a, sceneId: b }
    case 'sense':
      return { do: 'sense', sensorId: a, raw: [b, c, ...more].filter(Boolean).map(Number) }
    case 'turn':
      return { do: 'turn', sensorId: a, detents: Number(b) }
    case 'remote':
      return {
        do: 'remote',
        sensorId: a,
        key: Number(b) - 1,
        repeats: c === 'repeats' ? Number(more[0]) : 0,
      }
    case 'box':
      return b === 'restarts' ? { do: 'restartBox', surfaceId: a } : null
    case 'link': {
      if (b === 'replays' && more[0] === 'back') return { do: 'replay', linkId: a, back: Number(c) }
      const what = LINK_WORDS[[b, c].filter(Boolean).join(' ')]
      return what ? { do: what, linkId: a } : null
    }
    default:
      return null
  }
}
