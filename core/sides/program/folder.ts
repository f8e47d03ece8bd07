/**
 * The program of an 8-bit board as a folder of the usual sketch environment: a few lines of its
 * own, the table and the pins of the design, and the engine.
 */
import { fingerprint } from '../../design/fingerprint'
import { isLowEnergy, onNetwork } from '../../design/links/traits'
import { LINK_WORDS } from '../../design/links/rows'
import type { Design, Link } from '../../design/schema'
import { practiceSecret } from '../../messages/sealing'
import { fingerprintMark } from '../../boards/upload-record'
import { FRONT_WIRE } from '../front-wire'
import { cppComment, cppString } from '../escape'
import { roleOf } from './box'
import { carriedLinks, secretLinks } from './carried'
import { CAUTION, engineFiles, type ProgramFile } from './engine-files'
import { programLacks } from './lacks'
import { engineSizes, sizesHeader } from './sizes'
import { partTable } from './part-table'
import { byteLines } from './byte-lines'
import { SECRET_ROOM, type SharedTable } from './tables'
import { boardDefines, boardUses } from './wiring'

/** The folder; its first file has the name of the folder itself. */
export function programFolder(part: Design, name: string): ProgramFile[] {
  const { program, carried, table } = partTable(part)
  const called = secretNames(part)
  const names = table.secret.map(l => called.get(l.id) ?? '')
  return [
    { path: `${name}.ino`, text: sketchText(part) },
    {
      path: 'src/sizes.h',
      text: sizesHeader(engineSizes(program), boardDefines(boardUses(part, carried))),
    },
    {
      path: 'src/design.cpp',
      text: [
        ...head(part),
        '#include <avr/pgmspace.h>',
        '',
        '#include "table.h"',
        ...secretLines(table.secret, names),
        '',
        'namespace nolvi {',
        '',
        ...tableLines(table, names, fingerprintMark(fingerprint(part))),
        '',
        '}  // namespace nolvi',
        '',
      ].join('\n'),
    },
    ...engineFiles('avr8'),
  ]
}

/** By link: what its secret is called in secrets.h, where all engines of a board find theirs. */
export function secretNames(...engines: Design[]): Map<string, string> {
  const links = engines.flatMap(secretLinks)
  return new Map(links.map((l, i) => [l.id, links.length > 1 ? `SECRET_${i + 1}` : 'SECRET']))
}

/** The comment at the top of a board's file: of which design it was made, and its fingerprint. */
export function head(part: Design): string[] {
  return [
    `// ${cppComment(part.name)}: what its controller knows. Made from the design: change that, not this.`,
    `// Fingerprint ${fingerprint(part)}: the panels of this design carry the same one.`,
  ]
}

function sketchText(part: Design): string {
  const carried = carriedLinks(part)
  const there = new Set(carried.map(c => c.link.id))
  const ahead = there.has(FRONT_WIRE)
  return [
    `// ${cppComment(part.name)}: ${roleOf(part)} for the 8-bit 5 V board, made by Nolvi.`,
    `// Fingerprint ${fingerprint(part)}: the panels of this design carry the same one.`,
    '//',
    '// src/design.cpp is the design as a table, src/board.cpp the board, everything else in src is',
    '// what a controller does, the same on every board.',
    '//',
    ...carried.map(({ link, port }) => `// ${portWords(link, port)}`),
    ...part.links
      .filter(l => !there.has(l.id))
      .map(l => {
        const how = ahead && onNetwork(l) ? 'comes by the board in front' : 'is not carried by it'
        return `// Link "${cppComment(l.name)}" (${LINK_WORDS[l.kind]}) ${how}.`
      }),
    ...programLacks(part).map(l => `// Not done by it yet: ${cppComment(l.words)}.`),
    ...sketchEnd(),
  ].join('\n')
}

/** A sketch is a few lines, all else stands in src. `besides`: engines more, by namespace. */
export function sketchEnd(besides: readonly string[] = []): string[] {
  const calls = (what: string) => ['nolvi', ...besides].map(n => `${n}::${what}();`)
  const body = (name: string, lines: readonly string[]) =>
    lines.length === 1
      ? [`void ${name}() { ${lines[0]} }`]
      : [`void ${name}() {`, ...lines.map(l => `  ${l}`), '}']
  return [
    `// ${CAUTION}`,
    '#include <Arduino.h>',
    '',
    '#include "src/board.h"',
    '',
    ...besides.flatMap(n => [
      `namespace ${n} {`,
      'void setupBoard();',
      'void loopBoard();',
      '}',
      '',
    ]),
    ...body('setup', calls('setupBoard')),
    ...body('loop', calls('loopBoard')),
    '',
  ]
}

function portWords(link: Link, port: 'own' | 'soft'): string {
  const name = cppComment(link.name)
  if (port === 'soft') return `The wire "${name}" is on ordinary pins: its bits are counted out.`
  return 'radio' in link && !isLowEnergy(link)
    ? `The Bluetooth module of "${name}" sits on pins 0 and 1: unplug it while uploading.`
    : `The wire "${name}" is on the serial port of the board: unplug it while uploading.`
}

/**
 * Secrets are taken from a file beside the sketch, or are those that everybody knows. `file`: where
 * that is, seen from whatever asks for it.
 */
export function secretLines(
  links: readonly Link[],
  names: readonly string[],
  file = '../secrets.h',
): string[] {
  const [first] = names
  if (first === undefined) return []
  return [
    '',
    '// Secrets stand in secrets.h beside the sketch. To try the program on the bench, where nothing',
    '// is guarded, write #define PRACTICE above this line: everybody knows the practice secret.',
    `#if __has_include("${file}")`,
    `#include "${file}"`,
    '#endif',
    `#ifndef ${first}`,
    '#ifdef PRACTICE',
    '#warning "PRACTICE BUILD: the secret is public and protects nothing. Never leave it on a board that guards something."',
    ...links.map((link, i) => `#define ${names[i]} ${cppString(practiceSecret(link))}`),
    '#else',
    '#error "No secret: take secrets.h from Build (tick the secret in) and put it beside the sketch, or #define PRACTICE to try it without protection."',
    '#endif',
    '#endif',
  ]
}

/** The table byte by byte, with what stands where; then room for each secret. */
export function tableLines(
  { bytes, notes, secret }: SharedTable,
  names: readonly string[],
  made: string,
): string[] {
  const lines = byteLines(bytes, notes)
  return [
    ...(secret.length
      ? [
          'struct Secret {',
          '  uint8_t length;',
          `  char text[${SECRET_ROOM - 1}];`,
          '};',
          ...names.map(
            n =>
              `static_assert(sizeof ${n} <= ${SECRET_ROOM - 1}, "a secret has at most ${SECRET_ROOM - 2} characters");`,
          ),
        ]
      : []),
    'struct Table {',
    `  uint8_t bytes[${bytes.length}];`,
    ...(secret.length ? [`  Secret secrets[${secret.length}];`] : []),
    `  char made[${made.length + 1}];`,
    '};',
    'static const Table TABLE PROGMEM = {',
    '    {',
    ...lines,
    '    },',
    ...(secret.length
      ? ['    {', ...names.map(n => `        {sizeof ${n} - 1, ${n}},`), '    },']
      : []),
    '    // Whoever writes it onto a board can tell of which design it was made.',
    `    ${cppString(made)},`,
    '};',
    '',
    'uint8_t tableByte(Place at) {',
    '  return pgm_read_byte(reinterpret_cast<const uint8_t *>(&TABLE) + at);',
    '}',
  ]
}
