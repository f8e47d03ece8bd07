/** Gives codes to all actions of a link, as its dialect makes them. */
import { dialectRow, wireRow } from '../design/dialects/rows'
import type { Edit } from '../design/edits/edits'
import { linkOf } from '../design/find'
import { speaksBytes, speaksRoutes } from '../design/links/traits'
import { PLACE } from '../design/dialects/place'
import { hasBareCodes } from '../design/wire'
import type { ByteLink, Codes, Design, Dialect, Link, Load, Message, Scene } from '../design/schema'
import { isFine, NUMBER, relativeOf, spokenValues } from '../design/values'
import { digitCodes } from './dialects/codes'
import type { School } from './dialects/facet'
import { makerOf, makerOn } from './dialects/makers'
import { parameterCode, parameterCodes } from './dialects/routes'
import { claim, loadWords, named } from './dialects/naming'
import { goesByNumber } from './setpoints'
import { commands, RELATIVE, rows } from './table'

/** How codes of a link can be assigned, the usual way first. */
export function schoolsOf(link: Link): readonly [School, ...School[]] {
  return makerOn(link)[0].schools
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
  const codesFor = (load: Load): Codes => {
    if (school === 'digits') return named(load, digits.splice(0, spokenValues(load.output).length))
    return school === 'parameters'
      ? parameterCodes(load)
      : valueCodes(design, link, load, taken, words)
  }
  const codes = all.map(({ load }) => [load.id, codesFor(load)] as const)
  for (const [, given] of codes) claim(given, taken)
  return Object.fromEntries(
    codes.map(([loadId, given], i) => {
      const { load, message } = all[i] as { load: Load; message: { codes: Codes } }
      return [
        loadId,
        {
          ...(allByNumber(link, load) ? nameless(load) : given),
          ...relativeCodes(
            design,
            link,
            load,
            [...RELATIVE, NUMBER].filter(r => r in message.codes),
            taken,
            words,
          ),
        },
      ]
    }),
  )
}

/** Whether a link has room for numbers: short codes have none. */
export function saysNumbers(link: Link): boolean {
  return !hasBareCodes(link)
}

/** One code for all numbers of a load, in place of those for its named values. */
export function numberCodesFor(design: Design, link: Link, load: Load, codes: Codes): Codes {
  return {
    ...Object.fromEntries(Object.entries(codes).filter(([which]) => RELATIVE.includes(which))),
    ...nameless(load),
    [NUMBER]: relativeCode(design, link, load, NUMBER),
  }
}

/** Codes for the named values in place of the one for numbers. */
export function namedCodesFor(design: Design, link: Link, load: Load, codes: Codes): Codes {
  const words = loadWords(rows(design, link).map(r => r.load))
  // Its codes of before are free.
  const others = (link.messages as Message[]).filter(m => m.loadId !== load.id)
  const taken = takenOn(design, { ...link, messages: others } as Link)
  return {
    ...valueCodes(design, link, load, taken, words),
    ...Object.fromEntries(Object.entries(codes).filter(([which]) => RELATIVE.includes(which))),
  }
}

/** No named value has a code of its own: a number says them all. */
function allByNumber(link: Link, load: Load): boolean {
  return (
    saysNumbers(link)
    && spokenValues(load.output).every(value => goesByNumber(link, load.id, value))
  )
}

function nameless(load: Load): Codes {
  return named(load, [])
}

/** Codes for one more load, clear of everything the link uses already. */
export function nextCodes(design: Design, link: Link, load: Load): Codes {
  if (isFine(load.output) && saysNumbers(link)) return numberCodesFor(design, link, load, {})
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
  const index = design.scenes.findIndex(s => s.id === scene.id)
  const at = index < 0 ? design.scenes.length : index
  const making = { design, taken: takenOn(design, link), words: new Map() }
  const [maker, dialect] = makerOn(link)
  return maker.scene(dialect, scene.id, at, making)
}

/** Another dialect for a link: its codes, question and mark follow. */
export function dialectEdit(design: Design, linkId: string, dialect: Dialect): Edit {
  const old = linkOf(design, linkId) as ByteLink
  const maker = makerOf(dialect)
  const link: ByteLink = {
    ...old,
    dialect,
    askCode: maker.ask(dialect),
    reportMark: dialectRow(dialect).marked ? old.reportMark || '+' : '',
  }
  const sameTexts = old.dialect.kind === dialect.kind && !maker.codesVary
  return {
    type: 'together',
    words: `${old.name} speaks ${dialectRow(dialect).name}`,
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
              ...(wireRow(dialect).readable
                ? { helloCode: maker.hello }
                : { helloCode: '', errorText: '' }),
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

function takenOn(design: Design, link: Link): Set<string> {
  return new Set([...reserved(link), ...commands(design, link).map(c => c.code)])
}

function reserved(link: Link): string[] {
  const own = speaksBytes(link)
    ? [link.askCode, link.helloCode, link.reportMark]
    : [link.askRoute, link.eventsRoute, link.helloRoute]
  return [...own, ...Object.values(link.scenes)].filter(Boolean)
}

function valueCodes(
  design: Design,
  link: Link,
  load: Load,
  taken: Set<string>,
  words: ReadonlyMap<string, string>,
): Codes {
  const [maker, dialect] = makerOn(link)
  return maker.values(dialect, load, { design, taken, words })
}

function relativeCodes(
  design: Design,
  link: Link,
  load: Load,
  wishes: readonly string[],
  taken: Set<string>,
  words: ReadonlyMap<string, string>,
): Codes {
  const making = { design, taken, words }
  const [maker, dialect] = makerOn(link)
  return Object.fromEntries(
    wishes
      .filter(w => relativeOf(load.output).includes(w) && (w !== NUMBER || saysNumbers(link)))
      .map(wish => [
        wish,
        wish === NUMBER && asksInParameters(link)
          ? parameterCode(load, PLACE)
          : maker.wish(dialect, load, wish === NUMBER ? PLACE : wish, making),
      ]),
  )
}

/** The routes of a link tell their loads apart by parameters. */
function asksInParameters(link: Link): boolean {
  return (
    speaksRoutes(link)
    && link.messages.some(m => Object.values(m.codes).some(code => code?.includes('?')))
  )
}
