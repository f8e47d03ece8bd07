/** Every side of a design as files. Same design, same bytes; each file carries the fingerprint. */
import { zipSync } from 'fflate'
import { utf8ToBytes } from '@noble/hashes/utils.js'
import { panels } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { parts } from '../design/part'
import type { Design } from '../design/schema'
import { designText, inOrder } from '../design/validate'
import { wallCards } from './wall-cards'
import { messageCsv, messageHtml } from './message-sheet'
import { openApi } from './openapi'
import { panelPage } from './panel-page'
import { siteFiles } from './panel-site'
import { cppString } from './escape'
import { carriedLink } from './carried-link'
import { canSketch, sketch } from './sketch'
import { proofVectors } from './proof-vectors'
import { structureHeader, structureVectors } from './structure-files'
import { wiringSvg } from './wiring-drawing'
import { partsCsv } from './parts-list'
import { flashingText, wiringCsv } from './wiring-sheet'

export interface BuiltFile {
  name: string
  /** Where it lies in the ZIP, where that is not its name. */
  inZip?: string
  /** Media type. */
  type: string
  /** Which side it is, in words. */
  side: string
  text: string
  surfaceId: string | null
}

/** `secrets` by link: left out, nothing that is built holds one. */
export function buildFiles(
  given: Design,
  secrets: Readonly<Record<string, string>> = {},
): BuiltFile[] {
  const design = inOrder(given)
  const print = fingerprint(design)
  const several = design.controllers.length > 1
  const each = parts(design).map(({ controller, part }) => ({
    part,
    of: several ? ` of ${controller.name}` : '',
    suffix: several ? `-${controller.id}` : '',
  }))
  return [
    ...each.flatMap(({ part }) =>
      panels(part).map(p => ({
        name: `panel-${p.id}.html`,
        type: 'text/html',
        side: `Panel page ${p.name}`,
        text: panelPage(part, p.id, { secret: secrets[p.linkId] }),
        surfaceId: p.id,
      })),
    ),
    ...each.flatMap(({ part }) =>
      panels(part)
        .filter(p => p.keys.length)
        .map(p => ({
          name: `wall-cards-${p.id}.html`,
          type: 'text/html',
          side: `Wall cards of ${p.name}, to print`,
          text: wallCards(part, p.id),
          surfaceId: null,
        })),
    ),
    ...siteFiles(design).map(f => ({
      name: `site-${f.name}`,
      inZip: `site/${f.name}`,
      type: f.type,
      side: f.side,
      text: f.text,
      surfaceId: null,
    })),
    ...each.flatMap(({ part, of, suffix }) =>
      canSketch(part)
        ? [
            {
              name: `${design.id}${suffix}.ino`,
              type: 'text/x-c++src',
              side: `Controller sketch${of}, 8-bit 5 V board`,
              text: sketch(part),
              surfaceId: null,
            },
          ]
        : [],
    ),
    ...each.flatMap(({ part, of, suffix }) => {
      const link = carriedLink(part)
      const secret =
        link && link.auth.kind !== 'none' && canSketch(part) ? secrets[link.id] : undefined
      return secret === undefined
        ? []
        : [
            {
              name: `secrets${suffix}.h`,
              inZip: `${design.id}${suffix}/secrets.h`,
              type: 'text/x-chdr',
              side: `Secret of the sketch${of}: keep it to yourself`,
              text: `// The secret of ${design.name}. It opens what it guards: keep it out of what you share.\n#define SECRET ${cppString(secret)}\n`,
              surfaceId: null,
            },
          ]
    }),
    {
      name: 'messages.html',
      type: 'text/html',
      side: 'Message sheet, to print',
      text: messageHtml(design),
      surfaceId: null,
    },
    {
      name: 'messages.csv',
      type: 'text/csv',
      side: 'Message sheet, CSV',
      text: messageCsv(design),
      surfaceId: null,
    },
    ...design.links
      .filter(l => l.kind === 'http')
      .map(l => ({
        name: `openapi-${l.id}.json`,
        type: 'application/json',
        side: `OpenAPI 3.1 of ${l.name}`,
        text: openApi(design, l),
        surfaceId: null,
      })),
    ...design.links.flatMap(l =>
      l.kind !== 'http' && l.dialect.kind === 'packed'
        ? [
            {
              name: `${l.id}.h`,
              type: 'text/x-chdr',
              side: `C header of ${l.name}`,
              text: structureHeader(design, l, l.dialect),
              surfaceId: null,
            },
            {
              name: `${l.id}-vectors.csv`,
              type: 'text/csv',
              side: `Test vectors of ${l.name}`,
              text: structureVectors(design, l),
              surfaceId: null,
            },
          ]
        : [],
    ),
    ...design.links
      .filter(l => l.auth.kind === 'counter')
      .map(l => ({
        name: `${l.id}-proofs.csv`,
        type: 'text/csv',
        side: `Test vectors of signed commands on ${l.name}`,
        text: proofVectors(design, l),
        surfaceId: null,
      })),
    ...each.flatMap(({ part, of, suffix }) => [
      {
        name: `wiring${suffix}.svg`,
        type: 'image/svg+xml',
        side: `Wiring drawing${of}`,
        text: wiringSvg(part),
        surfaceId: null,
      },
      {
        name: `wiring${suffix}.csv`,
        type: 'text/csv',
        side: `Wiring table${of}`,
        text: wiringCsv(part),
        surfaceId: null,
      },
      {
        name: `parts${suffix}.csv`,
        type: 'text/csv',
        side: `Parts list${of}`,
        text: partsCsv(part),
        surfaceId: null,
      },
      {
        name: `uploading${suffix}.txt`,
        type: 'text/plain',
        side: `Checklist of uploading${of}`,
        text: flashingText(part),
        surfaceId: null,
      },
    ]),
    {
      name: 'design.json',
      type: 'application/json',
      side: 'The design',
      text: designText(design),
      surfaceId: null,
    },
    {
      name: 'fingerprint.txt',
      type: 'text/plain',
      side: 'Fingerprint of this build',
      text: `${print}\n`,
      surfaceId: null,
    },
  ]
}

/** The oldest date a ZIP can hold: with a fixed date the archive is reproducible. */
const ZIP_DATE = new Date(1980, 0, 1)

/** All files in one ZIP; a sketch lies in a folder of its own name, as its toolchain wants it. */
export function buildZip(
  design: Design,
  secrets: Readonly<Record<string, string>> = {},
): Uint8Array {
  const entries = buildFiles(design, secrets).map(
    f =>
      [
        f.inZip ?? (f.name.endsWith('.ino') ? `${f.name.slice(0, -4)}/${f.name}` : f.name),
        [utf8ToBytes(f.text), { mtime: ZIP_DATE, level: 9 }],
      ] as const,
  )
  return zipSync(Object.fromEntries(entries) as Parameters<typeof zipSync>[0])
}
