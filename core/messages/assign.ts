/**
 * Gives codes to all actions of a link, as its dialect has them. Short codes have two schools:
 * letters (on and off as capital and small of a letter of the load's name; more values as that
 * letter with a digit) and digits (consecutive, of one width so that none is the start of another).
 * Routes are /load/value; lines follow their template; structures hold numbers.
 */
import { fill, parseTemplate } from '../bytes/template'
import type { Edit } from '../design/edits'
import { linkOf } from '../design/find'
import type { ByteLink, Codes, Design, Link, Load, Scene } from '../design/schema'
import { relativeOf, spokenValues, valuesOf } from '../design/values'
import { KINDS, packedCode, type Dialect } from '../design/wire'
import { commands, RELATIVE, rows } from './table'

export type School = 'letters' | 'digits' | 'routes' | 'template' | 'numbers'

/** How codes of a link can be assigned, the usual way first. */
export function schoolsOf(link: Link): readonly [School, ...School[]] {
  if (link.kind === 'http') return ['routes']
  return link.dialect.kind === 'codes'
    ? ['letters', 'digits']
    : link.dialect.kind === 'packed'
      ? ['numbers']
      : ['template']
}

/**
 * Codes by load for all loads of the link: distinct, and none mistaken for another. Relative codes
 * that are there are kept up.
 */
export function assign(design: Design, link: Link, school: School): Record<string, Codes> {
  const all = rows(design, link)
  const digits =
    school === 'digits'
      ? digitCodes(all.reduce((n, r) => n + spokenValues(r.load.output).length, 0))
      : []
  const taken = new Set(reserved(link))
  const words = loadWords(all.map(r => r.load))
  const codes = all.map(
    ({ load }) =>
      [
        load.id,
        school === 'digits'
          ? named(load, digits.splice(0, spokenValues(load.output).length))
          : valueCodes(design, link, load, taken, words),
      ] as const,
  )
  for (const [, given] of codes) claim(given, taken)
  return Object.fromEntries(
    codes.map(([loadId, given], i) => {
      const { load, message } = all[i] as { load: Load; message: { codes: Codes } }
      return [
        loadId,
        {
          ...given,
          ...relativeCodes(
            design,
            link,
            load,
            RELATIVE.filter(r => r in message.codes),
            taken,
            words,
          ),
        },
      ]
    }),
  )
}

/** Codes for one more load, clear of everything the link uses already. */
export function nextCodes(design: Design, link: Link, load: Load): Codes {
  return valueCodes(
    design,
    link,
    load,
    takenOn(design, link),
    loadWords([
      ...rows(design, link)
        .map(r => r.load)
        .filter(l => l.id !== load.id),
      load,
    ]),
  )
}

/** A code for one relative wish of a load, such as "toggle". */
export function relativeCode(design: Design, link: Link, load: Load, wish: string): string {
  return (
    relativeCodes(
      design,
      link,
      load,
      [wish],
      takenOn(design, link),
      loadWords(rows(design, link).map(r => r.load)),
    )[wish] ?? ''
  )
}

/** A code for a scene, clear of everything the link uses already. */
export function sceneCode(design: Design, link: Link, scene: Scene): string {
  if (link.kind === 'http') return `/scene/${scene.id}`
  const { dialect } = link
  switch (dialect.kind) {
    case 'codes':
      return spareCode(takenOn(design, link))
    case 'packed': {
      const at = design.scenes.findIndex(s => s.id === scene.id)
      return packedCode(dialect, 0, 1 + (at < 0 ? design.scenes.length : at))
    }
    default:
      return lineOf(dialect, 'scene', scene.id)
  }
}

/** Another dialect for a link: its codes, question and mark follow. */
export function dialectEdit(design: Design, linkId: string, dialect: Dialect): Edit {
  const old = linkOf(design, linkId) as ByteLink
  const bare = dialect.kind === 'codes'
  const link: ByteLink = {
    ...old,
    dialect,
    askCode: askCodeOf(dialect),
    reportMark: dialect.kind === 'json' || dialect.kind === 'packed' ? '' : old.reportMark || '+',
  }
  const sameTexts =
    old.dialect.kind === dialect.kind
    && (bare || (dialect.kind !== 'packed' && dialect.kind !== 'lines'))
  return {
    type: 'together',
    words: `${old.name} speaks ${DIALECTS[dialect.kind]}`,
    edits: [
      // The old codes of scenes go first: they are none in the new dialect.
      ...(sameTexts
        ? []
        : Object.keys(old.scenes).map(sceneId => ({
            type: 'setSceneCode' as const,
            linkId,
            sceneId,
            code: '',
          }))),
      {
        type: 'setLink',
        linkId,
        patch: sameTexts
          ? { dialect }
          : {
              dialect,
              askCode: link.askCode,
              reportMark: link.reportMark,
              ...(bare || dialect.kind === 'packed'
                ? { helloCode: '', errorText: '' }
                : { helloCode: helloOf(dialect) }),
            },
      },
      ...(sameTexts
        ? []
        : design.scenes
            .filter(s => s.id in old.scenes)
            .map(s => ({
              type: 'setSceneCode' as const,
              linkId,
              sceneId: s.id,
              code: sceneCode(design, { ...link, scenes: {} }, s),
            }))),
      ...(sameTexts || !old.messages.length
        ? []
        : [
            {
              type: 'assignCodes' as const,
              linkId,
              codes: assign(design, link, schoolsOf(link)[0]),
            },
          ]),
    ],
  }
}

export const DIALECTS: Record<Dialect['kind'], string> = {
  codes: 'short codes',
  lines: 'lines of text',
  pairs: 'load=value',
  json: 'JSON lines',
  packed: 'packed structures',
}

/** What a link starts with in each dialect. */
export const NEW_DIALECTS: { [K in Dialect['kind']]: Extract<Dialect, { kind: K }> } = {
  codes: { kind: 'codes' },
  lines: { kind: 'lines', template: '{load} {value}', terminator: 'lf' },
  pairs: { kind: 'pairs', terminator: 'lf' },
  json: { kind: 'json', terminator: 'lf' },
  packed: {
    kind: 'packed',
    framing: 'cobs',
    crc: 'CRC-8/SMBUS',
    endian: 'little',
    packed: true,
    fields: [
      { name: 'kind', type: 'u8', is: 'kind' },
      { name: 'load', type: 'u8', is: 'load' },
      { name: 'value', type: 'u8', is: 'value' },
    ],
  },
}

function askCodeOf(dialect: Dialect): string {
  return dialect.kind === 'json'
    ? '{"ask":1}'
    : dialect.kind === 'packed'
      ? packedCode(dialect, 0, 0, KINDS.ask)
      : '?'
}

function helloOf(dialect: Dialect): string {
  return dialect.kind === 'json' ? '{"hello":1}' : 'hello'
}

function takenOn(design: Design, link: Link): Set<string> {
  return new Set([...reserved(link), ...commands(design, link).map(c => c.code)])
}

function reserved(link: Link): string[] {
  const own =
    link.kind === 'http'
      ? [link.askRoute, link.eventsRoute, link.helloRoute]
      : [link.askCode, link.helloCode, link.reportMark]
  return [...own, ...Object.values(link.scenes)].filter(Boolean)
}

function valueCodes(
  design: Design,
  link: Link,
  load: Load,
  taken: Set<string>,
  words: ReadonlyMap<string, string>,
): Codes {
  if (link.kind === 'http') return routeCodes(load, taken)
  const { dialect } = link
  if (dialect.kind === 'codes') return letterCodes(load, taken)
  return Object.fromEntries(
    spokenValues(load.output).map(value => [value, madeCode(design, dialect, load, value, words)]),
  )
}

function relativeCodes(
  design: Design,
  link: Link,
  load: Load,
  wishes: readonly string[],
  taken: Set<string>,
  words: ReadonlyMap<string, string>,
): Codes {
  return Object.fromEntries(
    wishes
      .filter(w => relativeOf(load.output).includes(w))
      .map(wish => {
        if (link.kind === 'http')
          return [
            wish,
            (Object.values(routeCodes(load, new Set()))[0] ?? '').replace(/[^/]*$/, wish),
          ]
        if (link.dialect.kind !== 'codes')
          return [wish, madeCode(design, link.dialect, load, wish, words)]
        const code = spareCode(taken)
        taken.add(code)
        return [wish, code]
      }),
  )
}

/** A sign or letter that nothing starts with. */
function spareCode(taken: ReadonlySet<string>): string {
  return [...'#%&*=@^~!$', ...ALPHABET, ...ALPHABET.toUpperCase()].find(c => clear(c, taken)) ?? ''
}

/** Numbers of relative wishes in structures, above those of values. */
const WISH_NUMBERS: Record<string, number> = {
  toggle: 101,
  up: 102,
  down: 103,
  next: 104,
  after: 105,
  for: 106,
  blink: 107,
}

function madeCode(
  design: Design,
  dialect: Exclude<Dialect, { kind: 'codes' }>,
  load: Load,
  value: string,
  words: ReadonlyMap<string, string>,
): string {
  if (dialect.kind === 'packed')
    return packedCode(
      dialect,
      design.loads.findIndex(l => l.id === load.id) + 1,
      WISH_NUMBERS[value] ?? valuesOf(load.output).indexOf(value),
    )
  return lineOf(dialect, words.get(load.id) ?? load.id, value)
}

function lineOf(
  dialect: Exclude<Dialect, { kind: 'codes' | 'packed' }>,
  word: string,
  value: string,
): string {
  switch (dialect.kind) {
    case 'pairs':
      return `${word}=${value}`
    case 'json':
      return `{"${word}":${/^\d+$/.test(value) ? value : `"${value}"`}}`
    case 'lines': {
      const parsed = parseTemplate(dialect.template)
      return parsed.ok ? fill(parsed.parts, { load: word, value }) : `${word} ${value}`
    }
  }
}

/** The first part of each load's id where no other has the same, else the whole of it. */
function loadWords(loads: readonly Load[]): Map<string, string> {
  const short = (l: Load) => l.id.split('-')[0] ?? l.id
  return new Map(
    loads.map(l => [
      l.id,
      loads.some(o => o !== l && o.id !== l.id && (short(o) === short(l) || o.id === short(l)))
        ? l.id
        : short(l),
    ]),
  )
}

function named(load: Load, codes: readonly string[]): Codes {
  return Object.fromEntries(spokenValues(load.output).map((value, i) => [value, codes[i] ?? '']))
}

const ALPHABET = 'abcdefghijklmnopqrstuvwxyz'
const COUNTERS = `0123456789${ALPHABET}`

/**
 * First free letter of the name, then of the alphabet; with all letters taken, two characters
 * starting with a spare sign.
 */
function letterCodes(load: Load, taken: Set<string>): Codes {
  const count = spokenValues(load.output).length
  const letters = [...load.name.toLowerCase().replace(/[^a-z]/g, ''), ...ALPHABET]
  const codesOf = (lead: string) =>
    count === 2
      ? [lead.slice(0, -1) + lead.slice(-1).toUpperCase(), lead]
      : [...COUNTERS].slice(0, count).map(c => lead + c)
  for (const lead of [
    ...letters,
    ...[...'#%&*=@^~!$'].flatMap(sign => [...ALPHABET].map(c => sign + c)),
  ]) {
    const codes = codesOf(lead)
    if (codes.every(code => clear(code, taken))) return claim(named(load, codes), taken)
  }
  throw new RangeError('no free code is left on this link')
}

/** 1 to 9 fit nine values; more take two digits each, so that "1" is never the start of "10". */
function digitCodes(count: number): string[] {
  const width = count <= 9 ? 1 : count <= 99 ? 2 : 3
  return Array.from({ length: count }, (_, i) => String(i + 1).padStart(width, '0'))
}

function routeCodes(load: Load, taken: Set<string>): Codes {
  const short = load.id.split('-')[0] ?? load.id
  const values = spokenValues(load.output)
  const bases = [short, load.id, ...Array.from({ length: 40 }, (_, i) => `${load.id}-${i + 2}`)]
  const base = bases.find(b => values.every(v => !taken.has(`/${b}/${v}`))) ?? load.id
  return claim(
    named(
      load,
      values.map(v => `/${base}/${v}`),
    ),
    taken,
  )
}

function claim(codes: Codes, taken: Set<string>): Codes {
  for (const code of Object.values(codes)) taken.add(code)
  return codes
}

function clear(code: string, taken: ReadonlySet<string>): boolean {
  for (const other of taken) if (other.startsWith(code) || code.startsWith(other)) return false
  return true
}
