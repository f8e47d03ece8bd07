/** Every side of a design as files. Same design, same bytes; each file carries the fingerprint. */
import { zipSync } from 'fflate'
import { utf8ToBytes } from '@noble/hashes/utils.js'
import { panels } from '../design/find'
import type { Target } from '../boards/classes'
import { fingerprint } from '../design/fingerprint'
import { parts } from '../design/part'
import type { Design } from '../design/schema'
import { designText, inOrder } from '../design/validate'
import { wallCards } from './wall-cards'
import { messageCsv, messageHtml } from './message-sheet'
import { openApi } from './openapi'
import { panelPage } from './panel-page'
import { siteFiles } from './panel-site'
import { cppComment, cppString } from './escape'
import { canProgram, enginesOf, isSmall, programmedFront, targetOf } from './program/can-program'
import { hearsOn } from './program/beside'
import type { ProgramFile } from './program/engine-files'
import { programFolder, secretNames } from './program/folder'
import { routerFolder } from './program/router'
import { serviceFolder } from './program/service'
import { wifiFolder } from './program/wifi'
import { programHex } from './program/image'
import { signatureVectors } from './signature-vectors'
import { structureHeader, structureVectors } from './structure-files'
import { circuitHtml } from './circuit/draw'
import { connectionsCsv, netlistText } from './circuit/netlist'
import { partsCsv } from './parts-list'
import { flashingText, wiringCsv } from './wiring-sheet'
import { speaksBytes, speaksRoutes, structureOn, isSigned } from '../design/links/traits'

/** Where a side goes: onto a board, a phone or into a browser, to the wall, to the papers. */
export const PLACES = ['board', 'screen', 'wall', 'papers'] as const
export type Place = (typeof PLACES)[number]

export interface BuiltFile {
  name: string
  /** Where it lies in the ZIP, where that is not its name. */
  inZip?: string
  /** Media type. */
  type: string
  /** Which side it is, in words. */
  side: string
  /** Where it goes. */
  goes: Place
  text: string
  surfaceId: string | null
  /** The board that it belongs to; null where it belongs to none. */
  boardId: string | null
  /** Of a program: the board that it is for. */
  controllerId?: string
  /** It is for the board in front of that one. */
  ahead?: true
  /** The file that stands for the folder in which it lies, where it is one of several. */
  within?: string
}

/** `secrets` by link: left out, nothing that is built holds one. */
export function buildFiles(
  given: Design,
  secrets: Readonly<Record<string, string>> = {},
): BuiltFile[] {
  const design = inOrder(given)
  const several = design.controllers.length > 1
  const boards = parts(design).map(({ controller, part }) => ({
    id: controller.id,
    part,
    of: several ? ` of ${controller.name}` : '',
    suffix: several ? `-${controller.id}` : '',
  }))
  const programs = boards.flatMap(asProgrammed)
  const ofEach = <B extends OfBoard>(all: readonly B[], files: (board: B) => Sided[]) =>
    all.flatMap(b => files(b).map(f => ({ ...f, boardId: b.id })))
  return [
    ...to('board', [
      ...ofEach(programs, board => imageFiles(design, board, secrets)),
      ...ofEach(programs, board => programFiles(design, board, secrets)),
      ...ofEach(boards, board => aheadOf(board).flatMap(b => programFiles(design, b, secrets))),
      ...ofEach(programs, board => secretFiles(design, board, secrets)),
      ...ofEach(boards, wiringFiles),
    ]),
    ...to('screen', [
      ...boards.flatMap(({ part }) => panelFiles(part, secrets)),
      ...siteOf(design),
    ]),
    ...to(
      'wall',
      boards.flatMap(({ part }) => cardFiles(part)),
    ),
    ...to('papers', papers(design)),
  ]
}

/** What is read and kept by people, and by whoever writes the other side of a link. */
function papers(design: Design): Sided[] {
  return [
    file('messages.html', 'text/html', 'Message sheet, to print', messageHtml(design)),
    file('messages.csv', 'text/csv', 'Message sheet, CSV', messageCsv(design)),
    ...linkFiles(design),
    file('design.json', 'application/json', 'The design', designText(design)),
    file('fingerprint.txt', 'text/plain', FINGERPRINT, `${fingerprint(design)}\n`),
  ]
}

/** A folder to be put on a phone or a server; its first page stands for it. */
function siteOf(design: Design): Sided[] {
  return siteFiles(design).map(f => ({
    ...file(`site-${f.name}`, f.type, f.side, f.text),
    inZip: `site/${f.name}`,
    ...(f.name === 'index.html' ? {} : { within: 'site-index.html' }),
  }))
}

/** A file before it is said where it goes. */
type Sided = Omit<BuiltFile, 'goes'>

function to(goes: Place, files: readonly Sided[]): BuiltFile[] {
  return files.map(f => ({ ...f, goes }))
}

/** Intel HEX is lines of text. */
export const HEX = 'text/x-intel-hex'
const FINGERPRINT = 'Fingerprint of this build'

/** The part of one controller, and what its files are called where there are several. */
interface OfBoard {
  /** Of its controller, as it is in the whole. */
  id: string
  part: Design
  of: string
  suffix: string
  ahead?: true
  /** What else is in the program of its board, and what other programs are on it. */
  besides?: readonly Design[]
  others?: readonly Design[]
}

function file(name: string, type: string, side: string, text: string): Sided {
  return { name, type, side, text, surfaceId: null, boardId: null }
}

function panelFiles(part: Design, secrets: Readonly<Record<string, string>>): Sided[] {
  return panels(part).map(p => {
    const text = panelPage(part, p.id, { secret: secrets[p.linkId] })
    return {
      ...file(`panel-${p.id}.html`, 'text/html', `Panel page ${p.name}`, text),
      surfaceId: p.id,
    }
  })
}

function cardFiles(part: Design): Sided[] {
  return panels(part)
    .filter(p => p.keys.length)
    .map(p => {
      const side = `Wall cards of ${p.name}, to print`
      return file(`wall-cards-${p.id}.html`, 'text/html', side, wallCards(part, p.id))
    })
}

/**
 * A board as its program has it: a box asks for what is wired to another one. Where it does several
 * things, one program does all of them, or on a computer a service each.
 */
function asProgrammed(board: OfBoard): OfBoard[] {
  const [part, ...besides] = enginesOf(board.part)
  if (!part) return [board]
  if (targetOf(part) !== 'linux') return [{ ...board, part, besides }]
  return [
    { ...board, part },
    ...besides.map((asks, nth): OfBoard => {
      const [link] = asks.links
      return {
        ...board,
        part: asks,
        others: [part, ...besides.slice(0, nth)],
        of: `${board.of}, asking over ${link?.name ?? ''}`,
        suffix: `${board.suffix}-${link?.id ?? ''}`,
      }
    }),
  ]
}

/** A program that needs no compiler, where one has room; it holds the secrets of its links. */
function imageFiles(
  { id }: Design,
  { part, of, suffix }: OfBoard,
  secrets: Readonly<Record<string, string>>,
): Sided[] {
  const hex = programHex(part, secrets)
  if (hex === null) return []
  const name = `${id}${suffix}.hex`
  const side = `Ready-made program${of}, 8-bit 5 V board`
  return [{ ...file(name, HEX, side, hex), controllerId: part.controllers[0]?.id ?? '' }]
}

/** The board in front of a board, where there is one and it has a program. */
function aheadOf({ id, part, suffix }: OfBoard): OfBoard[] {
  const front = programmedFront(part)
  if (!front) return []
  const of = ` of ${front.controllers[0]?.name ?? ''}`
  return [{ id, part: front, of, suffix: `${suffix}-front`, ahead: true }]
}

/** A folder: its first file stands for it, the others lie within. */
function programFiles(
  { id }: Design,
  { part, of, suffix, ahead, besides = [], others = [] }: OfBoard,
  secrets: Readonly<Record<string, string>>,
): Sided[] {
  const target = targetOf(part)
  if (!canProgram(part) || !target) return []
  const folder = `${id}${suffix}`
  const controllerId = part.controllers[0]?.id ?? ''
  const { what, words, files } = PROGRAMS[target]
  const made = files(part, folder, secrets, { besides, others })
  const nameOf = (path: string) => path.replace(/^src\//, '').replaceAll('/', '-')
  // One that has the name of the folder is told apart by it already.
  const named = (path: string) =>
    nameOf(path).startsWith(folder) ? nameOf(path) : `${folder}-${nameOf(path)}`
  const first = named(made[0]?.path ?? '')
  return made.map(({ path, text }, i) => ({
    ...file(named(path), typeOf(path), `${what}${of}, ${words}`, text),
    inZip: `${folder}/${path}`,
    ...(i === 0 ? { controllerId, ...(ahead && { ahead }) } : { within: first }),
  }))
}

interface Around {
  besides: readonly Design[]
  others: readonly Design[]
}
const wifi = (
  part: Design,
  name: string,
  secrets: Readonly<Record<string, string>>,
  { besides }: Around,
) => wifiFolder(part, name, secrets, besides)
const TO_COMPILE = 'Program to compile'
/** By what a program is made of: what it is and for what, and its folder. */
const PROGRAMS: Record<
  Target,
  {
    what: string
    words: string
    files: (
      part: Design,
      name: string,
      secrets: Readonly<Record<string, string>>,
      around: Around,
    ) => readonly ProgramFile[]
  }
> = {
  avr8: { what: TO_COMPILE, words: '8-bit 5 V board', files: programFolder },
  linux: {
    what: TO_COMPILE,
    words: 'Linux computer',
    files: (part, name, secrets, { others }) =>
      serviceFolder(part, name, secrets, hearsOn(part, others)),
  },
  router: { what: 'Script', words: 'router', files: routerFolder },
  'wifi-small': { what: TO_COMPILE, words: 'board with Wi-Fi', files: wifi },
  'wifi-sockets': { what: TO_COMPILE, words: 'board with Wi-Fi', files: wifi },
}

function typeOf(path: string): string {
  if (path.endsWith('.h')) return 'text/x-chdr'
  return /\.(cpp|ino)$/.test(path) ? 'text/x-c++src' : 'text/plain'
}

function secretFiles(
  { id, name }: Design,
  { part, of, suffix }: OfBoard,
  secrets: Readonly<Record<string, string>>,
): Sided[] {
  const names = isSmall(part) ? [...secretNames(part)] : []
  const lines = names.flatMap(([linkId, called]) => {
    const secret = secrets[linkId]
    return secret === undefined ? [] : [`#define ${called} ${cppString(secret)}\n`]
  })
  if (!lines.length) return []
  const text = `// The secret of ${cppComment(name)}. It opens what it guards: keep it out of what you share.\n${lines.join('')}`
  const side = `Secret of the program${of}: keep it to yourself`
  return [
    {
      ...file(`secrets${suffix}.h`, 'text/x-chdr', side, text),
      inZip: `${id}${suffix}/secrets.h`,
    },
  ]
}

/** What whoever writes the other side of a link needs. */
function linkFiles(design: Design): Sided[] {
  const routes = design.links
    .filter(speaksRoutes)
    .map(l =>
      file(
        `openapi-${l.id}.json`,
        'application/json',
        `OpenAPI 3.1 of ${l.name}`,
        openApi(design, l),
      ),
    )
  const structures = design.links.flatMap(l => {
    const structure = structureOn(l)
    if (!structure || !speaksBytes(l)) return []
    const header = structureHeader(design, l, structure)
    return [
      file(`${l.id}.h`, 'text/x-chdr', `C header of ${l.name}`, header),
      file(
        `${l.id}-vectors.csv`,
        'text/csv',
        `Test vectors of ${l.name}`,
        structureVectors(design, l),
      ),
    ]
  })
  const signed = design.links
    .filter(l => isSigned(l.auth))
    .map(l => {
      const side = `Test vectors of signed commands on ${l.name}`
      return file(`${l.id}-proofs.csv`, 'text/csv', side, signatureVectors(design, l))
    })
  return [...routes, ...structures, ...signed]
}

function wiringFiles({ part, of, suffix }: OfBoard): Sided[] {
  return [
    file(`circuit${suffix}.html`, 'text/html', `Circuit${of}, to print`, circuitHtml(part)),
    file(`wiring${suffix}.csv`, 'text/csv', `Wiring table${of}`, wiringCsv(part)),
    file(`connections${suffix}.csv`, 'text/csv', `Connections${of}, to tick`, connectionsCsv(part)),
    file(`netlist${suffix}.json`, 'application/json', `Netlist${of}`, netlistText(part)),
    file(`parts${suffix}.csv`, 'text/csv', `Parts list${of}`, partsCsv(part)),
    file(`uploading${suffix}.txt`, 'text/plain', `Checklist of uploading${of}`, flashingText(part)),
  ]
}

/** The oldest date a ZIP can hold: with a fixed date the archive is reproducible. */
const ZIP_DATE = new Date(1980, 0, 1)

/** All files in one ZIP. */
export function buildZip(
  design: Design,
  secrets: Readonly<Record<string, string>> = {},
): Uint8Array {
  return zipOf(buildFiles(design, secrets))
}

/** Files as a ZIP; a program lies in a folder of its own name, as its toolchain wants it. */
export function zipOf(files: readonly BuiltFile[]): Uint8Array {
  const entries = files.map(
    f => [f.inZip ?? f.name, [utf8ToBytes(f.text), { mtime: ZIP_DATE, level: 9 }]] as const,
  )
  return zipSync(Object.fromEntries(entries) as Parameters<typeof zipSync>[0])
}
