/**
 * The program of a board with Wi-Fi as a folder of the usual sketch environment: nothing beyond the
 * board's own package. It was never compiled with that here, and says so.
 */
import { fingerprintMark } from '../../boards/upload-record'
import { fingerprint } from '../../design/fingerprint'
import { onChip, onNetwork } from '../../design/links/traits'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { cppComment, cppString } from '../escape'
import { portsOf } from './carried'
import { targetOf } from './can-program'
import { engineFiles, type ProgramFile } from './engine-files'
import { head, secretLines, secretNames, sketchEnd, tableLines } from './folder'
import { programLacks } from './lacks'
import { bareName, ownName } from './network'
import { besideDefines, besideFiles, spaceOf, tellingLines, toldSpaces } from './beside-files'
import { isBoxPart, roleOf } from './box'
import { isInFront } from './front'
import { networkHeader } from './network-header'
import { partTable, type PartTable } from './part-table'
import { pagesText } from './served-pages'

/** What the smallest of them has room for beside its radio. */
export const WIFI_CLIENTS = { clients: 5, streams: 3, senders: 8 }

/**
 * `secrets` by link; left out, they are to be filled in, as passwords of networks always are.
 * `besides`: what the board asks of others, an engine more for each.
 */
export function wifiFolder(
  part: Design,
  name: string,
  secrets: Readonly<Record<string, string>> = {},
  besides: readonly Design[] = [],
): ProgramFile[] {
  const of = partTable(part)
  const small = targetOf(part) === 'wifi-small'
  const all: Engines = [part, ...besides]
  const header = networkHeader(part, of, WIFI_CLIENTS, besideDefines(all))
  return [
    { path: `${name}.ino`, text: sketchText(all) },
    ...(isFilledIn(all) ? [{ path: 'secrets-to-fill-in.h', text: secretsText(all, secrets) }] : []),
    { path: 'src/sizes.h', text: header },
    { path: 'src/design.cpp', text: designText(all, of) },
    { path: 'src/pages.cpp', text: pagesText(part, 'PROGMEM') },
    ...engineFiles(small ? 'wifi-small' : 'wifi-sockets'),
    ...besides.flatMap((_, nth) => besideFiles(all, nth + 1, secretNames(...all))),
  ]
}

/** Of one board, the first with its own loads, if it has any. */
type Engines = [Design, ...Design[]]

/**
 * Networks of a part: its own, where a link is on that, and those that it joins; "" = one whose
 * name the design does not say.
 */
function networksOf(engines: Engines): { own: string; joined: string[] } {
  const each = engines.map(networksOfOne)
  return {
    own: each.find(n => n.own !== '')?.own ?? '',
    joined: [...new Set(each.flatMap(n => n.joined))],
  }
}

function networksOfOne(part: Design): { own: string; joined: string[] } {
  const on = portsOf(part).flatMap(({ link }) => (onNetwork(link) ? [link.network] : []))
  const own = on.includes('own')
  const [first = part.id, ...others] = part.networks
  const named = own ? others : part.networks
  const tried = named.length ? named : ['']
  // The board that a box asks opens it.
  if (own && isBoxPart(part)) return { own: '', joined: [first] }
  return { own: own ? first : '', joined: on.includes('router') ? tried : [] }
}

/** Whether something is to be filled in: a password, or a secret. */
function isFilledIn(all: Engines): boolean {
  const { own, joined } = networksOf(all)
  return own !== '' || joined.length > 0 || secretNames(...all).size > 0
}

const passwordOf = (i: number) => `NETWORK_PASSWORD_${i + 1}`
const NAME = 'NETWORK_NAME'
const OWN_PASSWORD = 'OWN_NETWORK_PASSWORD'

function secretsText(all: Engines, secrets: Readonly<Record<string, string>>): string {
  const { own, joined } = networksOf(all)
  const lines = [
    ...(own === ''
      ? []
      : [
          `// Of the board's own network "${cppComment(own)}": at least 8 characters.`,
          `#define ${OWN_PASSWORD} ""`,
        ]),
    ...joined.flatMap((name, i) => [
      ...(name === ''
        ? [
            '// The network that it joins, letter by letter, and its password.',
            `#define ${NAME} ""`,
          ]
        : [`// Of the network "${cppComment(name)}".`]),
      `#define ${passwordOf(i)} ""`,
    ]),
    ...[...secretNames(...all)].flatMap(([linkId, called]) => [
      '// What proves a command: the same as in your panels.',
      `#define ${called} ${cppString(secrets[linkId] ?? '')}`,
    ]),
  ]
  return [
    '// Fill in, and save as secrets.h. It opens what it guards: keep it out of what you share.',
    ...lines,
    '',
  ].join('\n')
}

function designText(all: Engines, { program, table }: PartTable): string {
  const [part] = all
  const called = secretNames(...all)
  const names = table.secret.map(l => called.get(l.id) ?? '')
  const { own, joined } = networksOf(all)
  const password = (name: string) => [
    `#ifndef ${name}`,
    '#ifdef PRACTICE',
    `#define ${name} ""`,
    '#else',
    '#error "No password of a network: fill in secrets-to-fill-in.h and save it as secrets.h beside the sketch."',
    '#endif',
    '#endif',
  ]
  const passwords = [
    ...(joined.includes('') ? [NAME] : []),
    ...(own === '' ? [] : [OWN_PASSWORD]),
    ...joined.map((_, i) => passwordOf(i)),
  ]
  return [
    ...head(part),
    '#include <Arduino.h>',
    '',
    '#include "radio.h"',
    '#include "table.h"',
    '',
    '#if __has_include("../secrets.h")',
    '#include "../secrets.h"',
    '#endif',
    ...passwords.flatMap(password),
    ...secretLines(table.secret, names),
    '',
    ...toldSpaces(all, 0),
    'namespace nolvi {',
    '',
    `const Network OWN_NETWORK = {${cppString(own)}, ${own === '' ? '""' : OWN_PASSWORD}};`,
    'const Network NETWORKS[] = {',
    ...joined.map((name, i) => `    {${name === '' ? NAME : cppString(name)}, ${passwordOf(i)}},`),
    ...(joined.length ? [] : ['    {"", ""},']),
    '};',
    `const uint8_t NETWORK_COUNT = ${joined.length};`,
    `const char HOST_NAME[] = ${cppString(bareName(ownName(program)))};`,
    '',
    ...tellingLines(all, 0),
    ...tableLines(table, names, fingerprintMark(fingerprint(part))),
    '',
    '}  // namespace nolvi',
    '',
  ].join('\n')
}

const FILL_IN = [
  '// Fill in secrets-to-fill-in.h and save it as secrets.h beside this file: without, it does not',
  '// compile.',
  '//',
]
const ADDRESS = '// Its address is told on the serial port, 115200 baud, where no link has that.'

const BLUETOOTH = [
  '// Bluetooth takes much of the flash: choose a scheme of partitions with one large application.',
]

/** Of a board in front. */
const FRONT = [
  '// It switches nothing: what comes over the network it passes on over its serial port, a line',
  '// each, and what the board behind tells it tells on. Both have to be of the same design.',
  '// Pull the wire between them while either is uploaded.',
  '//',
]

const BOX = [
  '// It switches nothing: what is wired to it is asked of another board. Both have to be of the',
  '// same design.',
  '//',
]

function sketchText(all: Engines): string {
  const [part, ...besides] = all
  const { own, joined } = networksOf(all)
  const board = boardOf(part)
  return [
    `// ${cppComment(part.name)}: ${roleOf(part)}, for: ${cppComment(board.name)}. Made by Nolvi.`,
    `// Fingerprint ${fingerprint(part)}: the panels of this design carry the same one.`,
    '//',
    '// src/design.cpp is the design as a table, src/pages.cpp its pages, everything else in src is',
    '// what a controller does, the same on every board.',
    '//',
    ...besides.map(
      (b, nth) =>
        `// src/${spaceOf(nth)} is what it asks over ${cppComment(b.links[0]?.name ?? '')}, by the same engine once more.`,
    ),
    ...(besides.length ? ['//'] : []),
    ...(isFilledIn(all) ? FILL_IN : []),
    "// NOT COMPILED WITH THE VENDOR'S TOOLS YET. What calls them stands in chip, memory, serial,",
    '// radio, net, peer and Bluetooth; all else was held against the controller of the bench on a computer.',
    '//',
    ...(isInFront(part) ? FRONT : []),
    ...(isBoxPart(part) ? BOX : []),
    ...(own === '' ? [] : [`// It opens the network "${cppComment(own)}".`]),
    ...joined.map((name, i) =>
      name === ''
        ? '// The network that it joins is filled in there too.'
        : `// Network ${i + 1} that it tries: "${cppComment(name)}".`,
    ),
    ...(own !== '' || joined.length ? [ADDRESS] : []),
    ...(portsOf(part).some(({ link }) => onChip(link)) ? BLUETOOTH : []),
    ...all.flatMap(programLacks).map(l => `// Not done by it yet: ${cppComment(l.words)}.`),
    ...sketchEnd(besides.map((_, nth) => spaceOf(nth))),
  ].join('\n')
}
