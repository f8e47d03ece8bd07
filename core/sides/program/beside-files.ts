/**
 * An engine more in the program of a board with Wi-Fi, for what the board asks of another one: the
 * same files once more, in a namespace of its own, with another table. The radio and the memory
 * are in common; everything else each has for itself.
 */
import type { Design } from '../../design/schema'
import { portsOf } from './carried'
import { hearsOn, isReadBefore, lampsShared, toldBy } from './beside'
import { engineFiles, type ProgramFile } from './engine-files'
import { fingerprintMark } from '../../boards/upload-record'
import { fingerprint } from '../../design/fingerprint'
import { head, secretLines, tableLines } from './folder'
import { networkHeader } from './network-header'
import { partTable } from './part-table'
import { pagesText } from './served-pages'
import { targetOf } from './can-program'
import { cppComment } from '../escape'
import { isReceiver } from '../../design/sensors/traits'
import { receiverOf } from './wiring'
import { nth as nthOf } from '../../units/lists'

/** It asks, and answers nobody: one connection to ask on, one to hear on. */
export const BESIDE_CLIENTS = { clients: 2, streams: 1, senders: 1 }

/** Memory that outlives a cut, bytes: of all, and what each engine more has of its end. */
const KEPT = 4096
const KEPT_ROOM = 512

/** Whatever there is one of on a board: the others have it in common. */
const SHARED = new Set(['memory', 'radio', 'machine', 'bluetooth', 'low-energy'])

export const spaceOf = (nth: number): string => `asks${nth + 1}`

/** What the engine of the board itself is told of those beside it. `engines`: it, then those. */
export function besideDefines(engines: readonly Design[]): string {
  const has = (port: string) => engines.slice(1).some(b => portsOf(b).some(p => p.port === port))
  return [
    ...(has('peer') ? ['#define NOLVI_PEER_BESIDE 1'] : []),
    ...(has('own') ? ['#define NOLVI_SERIAL_BESIDE 1'] : []),
    ...(toldBy(engines, 0).length ? [TELLS] : []),
    ...(engines.some((_, nth) => lampsShared(engines, nth).length)
      ? [`#define NOLVI_LAMPS_BESIDE ${engines.length - 1}`]
      : []),
    ...(engines.length > 1
      ? [`#define NOLVI_KEPT_ROOM ${KEPT - KEPT_ROOM * (engines.length - 1)}`]
      : []),
  ].join('\n')
}
const TELLS = '#define NOLVI_TELLS 1'

/** Namespaces of engines that are told something, as whoever tells them has to know them. */
export function toldSpaces(engines: readonly Design[], nth: number): string[] {
  const told = new Set(toldBy(engines, nth).flatMap(t => t.to.map(to => spaceOf(to.nth - 1))))
  return [...told].flatMap(space => [
    `namespace ${space} {`,
    'void readElsewhere(uint32_t now, uint8_t sensor, int32_t first, int32_t second);',
    'void keyElsewhere(uint32_t now, uint8_t sensor, uint16_t address, uint16_t command, bool repeats);',
    `}  // namespace ${space}`,
    '',
  ])
}

/** What an engine reads for others: functions that its board calls (engine/boards/board.cpp). */
export function tellingLines(engines: readonly Design[], nth: number): string[] {
  const told = toldBy(engines, nth)
  if (!told.length) return []
  const cases = told.flatMap(({ sensor, at, to }) => [
    `    case ${at}:  // ${cppComment(sensor.name)}`,
    ...to.map(t => `      ${spaceOf(t.nth - 1)}::readElsewhere(now, ${t.at}, first, second);`),
    '      break;',
  ])
  const keys = told
    .filter(t => isReceiver(t.sensor))
    .flatMap(({ to }) =>
      to.map(
        t => `  ${spaceOf(t.nth - 1)}::keyElsewhere(now, ${t.at}, address, command, repeats);`,
      ),
    )
  return [
    '// Read once, told to the engines that ask other boards.',
    'void tellBeside(uint32_t now, uint8_t sensor, int32_t first, int32_t second) {',
    '  switch (sensor) {',
    ...cases,
    '  }',
    '}',
    ...(keys.length
      ? [
          'void tellKeyBeside(uint32_t now, uint16_t address, uint16_t command, bool repeats) {',
          ...keys,
          '}',
        ]
      : ['void tellKeyBeside(uint32_t, uint16_t, uint16_t, bool) {}']),
    '',
  ]
}

/**
 * `nth`: of the engines of a board, from 1 on. `names`: of secrets by link, as they stand in
 * secrets.h.
 */
export function besideFiles(
  engines: readonly Design[],
  nth: number,
  names: ReadonlyMap<string, string>,
): ProgramFile[] {
  const part = nthOf(engines, nth)
  const of = partTable(part)
  const space = spaceOf(nth - 1)
  const called = of.table.secret.map(l => names.get(l.id) ?? '')
  const target = targetOf(part) === 'wifi-small' ? 'wifi-small' : 'wifi-sockets'
  const again = engineFiles(target)
    .map(f => f.path.replace('src/', ''))
    .filter(f => f.endsWith('.cpp') && !SHARED.has(f.replace('.cpp', '')))
  const heard = hearsOn(part, engines.slice(0, nth))
  const elsewhere = part.sensors.flatMap((s, i) => (isReadBefore(engines, nth, s) ? [i] : []))
  const lamps = lampsShared(engines, nth)
  const more = [
    `#define NOLVI_KEPT_FROM ${KEPT - KEPT_ROOM * nth}`,
    `#define NOLVI_KEPT_ROOM ${KEPT_ROOM}`,
    ...(heard === null ? [] : [`#define NOLVI_HEARS_ON ${heard}`]),
    ...(toldBy(engines, nth).length ? [TELLS] : []),
    ...(elsewhere.length ? ['#define NOLVI_IS_TOLD 1'] : []),
    ...(lamps.length ? ['#define NOLVI_LAMPS_ELSEWHERE 1'] : []),
    // Its marks come by the interrupt of the engine that reads it.
    ...(elsewhere.includes(receiverOf(part))
      ? ['#undef NOLVI_RECEIVER', '#define NOLVI_RECEIVER 0']
      : []),
  ].join('\n')
  const at = (name: string) => `src/${space}/${name}`
  return [
    { path: at('sizes.h'), text: networkHeader(part, of, BESIDE_CLIENTS, more) },
    { path: at('asks.h'), text: commonText(part, space, target === 'wifi-sockets') },
    {
      path: at('design.cpp'),
      text: [
        ...head(part),
        '#include "asks.h"',
        '',
        '#include <Arduino.h>',
        '',
        '#include "../net.h"',
        '#include "../table.h"',
        ...secretLines(of.table.secret, called, '../../secrets.h'),
        '',
        ...toldSpaces(engines, nth),
        'namespace nolvi {',
        '',
        'bool net::isUp() { return radio::isUp(); }',
        'void net::nameServer(Sender &is) {',
        '  if (!is.address) is.address = radio::nameServer();',
        '}',
        '',
        ...(elsewhere.length
          ? [
              'bool isReadElsewhere(uint8_t sensor) {',
              `  return ${elsewhere.map(i => `sensor == ${i}`).join(' || ')};`,
              '}',
              '',
            ]
          : []),
        ...(lamps.length
          ? [
              'bool lampElsewhere(uint8_t lamp, uint8_t level) {',
              '  switch (lamp) {',
              ...lamps.map(
                ({ at, of }) => `    case ${at}: return lampOf(${nth}, ${of}, level), true;`,
              ),
              '    default: return false;',
              '  }',
              '}',
              '',
            ]
          : []),
        ...tellingLines(engines, nth),
        ...tableLines(of.table, called, fingerprintMark(fingerprint(part))),
        '',
        '}  // namespace nolvi',
        '',
      ].join('\n'),
    },
    {
      path: at('pages.cpp'),
      text: `#include "asks.h"\n\n${pagesText(part).replace('"site.h"', '"../site.h"')}`,
    },
    ...again.map(f => ({ path: at(f), text: `#include "asks.h"\n\n#include "../${f}"\n` })),
  ]
}

/** What stands before each of its files: from here on "nolvi" is a name of its own. */
function commonText(part: Design, space: string, sockets: boolean): string {
  const [link] = part.links
  return [
    `// What is asked over ${cppComment(link?.name ?? '')}: the engine once more, under another name, with a table`,
    '// and with room of its own. Memory and radio it has in common with the one of the board.',
    '#ifndef NOLVI_ASKS_H',
    '#define NOLVI_ASKS_H',
    '',
    '#include "../memory.h"',
    '#include "../radio.h"',
    ...(sockets ? ['#include "../sockets.h"'] : []),
    '',
    'namespace nolvi {',
    'void lampOf(uint8_t engine, uint8_t lamp, uint8_t level);',
    '}  // namespace nolvi',
    '',
    `namespace ${space} {`,
    'using nolvi::NETWORK_COUNT;',
    'using nolvi::lampOf;',
    'using nolvi::readKept;',
    'using nolvi::settleKept;',
    'using nolvi::writeKept;',
    'namespace radio = nolvi::radio;',
    ...(sockets ? ['namespace sockets = nolvi::sockets;'] : []),
    `}  // namespace ${space}`,
    '',
    `#define nolvi ${space}`,
    '',
    '#include "sizes.h"',
    '',
    '#endif',
    '',
  ].join('\n')
}
