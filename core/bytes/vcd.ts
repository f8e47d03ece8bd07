/**
 * Value change dumps (IEEE 1364-2005, clause 18): four-state signals over time. Written with a
 * timescale, scopes and one-bit or wider variables; read with all that other tools write, reals and
 * events included.
 */
export interface Signal {
  /** Where it belongs, outermost first. */
  scope: readonly string[]
  name: string
  /** Bits; 1 for a wire. */
  width: number
  /**
   * In time steps of the dump, rising. A value is of 0, 1, x (not known) and z (not driven), most
   * significant bit first; an event is "1".
   */
  changes: { t: number; value: string }[]
  kind: 'wire' | 'event' | 'real'
}
export interface Dump {
  stepSeconds: number
  signals: Signal[]
}

export class BadDump extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(`line ${line}: ${message}`)
  }
}

const NO_SCALE = 'this dump has no $timescale, so its times mean nothing'
const UNITS: Record<string, number> = { s: 1, ms: 1e-3, us: 1e-6, ns: 1e-9, ps: 1e-12, fs: 1e-15 }

/** Names in a dump hold no spaces and no brackets. */
export function vcdName(text: string): string {
  return text.replaceAll(/[^A-Za-z0-9_-]/g, '_').replace(/^(?=\d)/, '_') || '_'
}

/**
 * `timescale`: as it stands in the dump, "10 us". `header`: what made it. The same signals give the
 * same text.
 */
export function vcdText(
  signals: readonly Signal[],
  timescale: string,
  header: string,
  endStep: number,
): string {
  const out = [`$version ${header.replaceAll('$', '')} $end`, `$timescale ${timescale} $end`]
  let open: readonly string[] = []
  signals.forEach(({ scope, name, width, kind }, i) => {
    let same = 0
    while (same < open.length && same < scope.length && open[same] === scope[same]) same++
    for (let n = open.length; n > same; n--) out.push('$upscope $end')
    for (const inner of scope.slice(same)) out.push(`$scope module ${vcdName(inner)} $end`)
    open = scope
    out.push(`$var ${kind} ${kind === 'event' ? 1 : width} ${codeOf(i)} ${vcdName(name)} $end`)
  })
  for (let n = open.length; n > 0; n--) out.push('$upscope $end')
  out.push('$enddefinitions $end')
  const changes = signals
    .flatMap((s, i) => s.changes.map(c => ({ ...c, i, s })))
    .sort((a, b) => a.t - b.t || a.i - b.i)
  const first = changes.filter(c => c.t === 0 && c.s.kind !== 'event')
  out.push('#0', '$dumpvars')
  const known = new Set(first.map(c => c.i))
  signals.forEach((s, i) => {
    if (s.kind !== 'event' && !known.has(i)) out.push(changeText(s, 'x'.repeat(s.width), i))
  })
  for (const c of first) out.push(changeText(c.s, c.value, c.i))
  out.push('$end')
  let t = 0
  for (const c of changes) {
    if (c.t === 0 && c.s.kind !== 'event') continue
    if (c.t !== t) out.push(`#${c.t}`)
    t = c.t
    out.push(changeText(c.s, c.value, c.i))
  }
  if (endStep > t) out.push(`#${endStep}`)
  return out.join('\n') + '\n'
}

/** Kinds of variables that are no wires (IEEE 1364-2001, 18.2). */
const READ_AS: Readonly<Record<string, Signal['kind']>> = {
  event: 'event',
  real: 'real',
  realtime: 'real',
}

function changeText({ width, kind }: Signal, value: string, i: number): string {
  if (kind === 'real') return `r${value} ${codeOf(i)}`
  return width === 1 || kind === 'event' ? `${value}${codeOf(i)}` : `b${value} ${codeOf(i)}`
}

/** Identifier codes of printable characters. */
function codeOf(i: number): string {
  let code = ''
  for (let n = i; ; n = Math.floor(n / 94) - 1) {
    code += String.fromCharCode(33 + (n % 94))
    if (n < 94) return code
  }
}

/** Reads a value change dump (IEEE 1364). Throws `BadDump` with the line. */
export function readVcd(text: string): Dump {
  if (!text.includes('$timescale')) throw new BadDump(1, NO_SCALE)
  return new DumpReader(tokensOf(text)).read()
}

const TELLING: ReadonlySet<string> = new Set(['$timescale', '$scope', '$upscope', '$var'])
const PASSED: ReadonlySet<string> = new Set(['$date', '$version', '$comment', '$enddefinitions'])
const MARKS: ReadonlySet<string> = new Set(['$dumpvars', '$dumpall', '$dumpon', '$dumpoff', '$end'])

class DumpReader {
  private readonly scope: string[] = []
  private readonly signals: Signal[] = []
  private readonly byCode = new Map<string, Signal[]>()
  private stepSeconds = 0
  private t = 0
  private at = 0

  constructor(private readonly tokens: readonly Token[]) {}

  read(): Dump {
    while (this.at < this.tokens.length) {
      const token = this.tokens[this.at++] as Token
      if (token.text.startsWith('$')) this.section(token)
      else if (token.text.startsWith('#')) this.time(token)
      else this.changed(token)
    }
    if (this.stepSeconds === 0) throw new BadDump(1, NO_SCALE)
    return { stepSeconds: this.stepSeconds, signals: this.signals }
  }

  private section({ text, line }: Token): void {
    if (MARKS.has(text)) return
    if (!TELLING.has(text) && !PASSED.has(text))
      throw new BadDump(line, `"${text}" is no section of a dump`)
    const words = this.upToEnd(line)
    if (text === '$timescale') this.timescale(words, line)
    else if (text === '$scope') this.scope.push(words[1] ?? '')
    else if (text === '$upscope') this.scope.pop()
    else if (text === '$var') this.variable(words, line)
  }

  private upToEnd(line: number): string[] {
    const end = this.tokens.findIndex((token, i) => i >= this.at && token.text === '$end')
    if (end < 0) throw new BadDump(line, 'a section of the head has no $end')
    const words = this.tokens.slice(this.at, end).map(token => token.text)
    this.at = end + 1
    return words
  }

  private timescale(words: readonly string[], line: number): void {
    const [, number = '', unit = ''] = /^(\d+)(s|ms|us|ns|ps|fs)$/.exec(words.join('')) ?? []
    if (number === '')
      throw new BadDump(line, 'the $timescale is a number and one of s, ms, us, ns, ps, fs')
    this.stepSeconds = Number(number) * (UNITS[unit] as number)
  }

  private variable(words: readonly string[], line: number): void {
    const [kind = '', width = '', code = '', name = ''] = words
    if (code === '' || name === '' || !(Number(width) >= 1))
      throw new BadDump(line, 'a $var has a kind, a width, a code and a name')
    const signal: Signal = {
      scope: [...this.scope],
      name,
      width: Number(width),
      kind: READ_AS[kind] ?? 'wire',
      changes: [],
    }
    this.signals.push(signal)
    this.byCode.set(code, [...(this.byCode.get(code) ?? []), signal])
  }

  private time({ text, line }: Token): void {
    const next = Number(text.slice(1))
    if (!Number.isFinite(next) || next < this.t)
      throw new BadDump(line, `the times go back or are none: "${text}"`)
    this.t = next
  }

  private changed({ text, line }: Token): void {
    const [, wide, value = ''] = /^([bBrR]?)(.*)$/.exec(text) ?? []
    const code = wide ? (this.tokens[this.at++]?.text ?? '') : value.slice(1)
    const found = this.byCode.get(code)
    if (!found) throw new BadDump(line, `"${text}" changes "${code}", which no $var tells of`)
    const read = (wide ? value : value.slice(0, 1)).toLowerCase()
    for (const signal of found) change(signal, this.t, read, line)
  }
}

function change(signal: Signal, t: number, value: string, line: number): void {
  const { kind, width, changes } = signal
  if (kind === 'real' ? Number.isNaN(Number(value)) : !/^[01xz]+$/.test(value))
    throw new BadDump(line, `"${value}" is no value of ${signal.name}`)
  // Left out are leading bits that repeat: 0 before 0 and 1, else the first itself (18.2.1).
  const full =
    kind === 'wire' && value.length < width
      ? (/^[xz]/.test(value) ? (value[0] as string) : '0').repeat(width - value.length) + value
      : value
  const last = changes.at(-1)
  if (kind !== 'event' && last?.t === t) last.value = full
  else if (kind === 'event' || last?.value !== full) changes.push({ t, value: full })
}

interface Token {
  text: string
  line: number
}
function tokensOf(text: string): Token[] {
  return text.split('\n').flatMap((line, i) =>
    line
      .split(/\s+/)
      .filter(Boolean)
      .map(word => ({ text: word, line: i + 1 })),
  )
}
