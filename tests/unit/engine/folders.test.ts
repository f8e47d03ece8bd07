/**
 * Programs of computers and of boards with Wi-Fi as they are given away: nothing to warn of, and
 * with room for one design and no more the one of a computer does as the stand-in does.
 */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { partOf } from '../../../core/design/part'
import type { Design } from '../../../core/design/schema'
import type { ProgramFile } from '../../../core/sides/program/engine-files'
import { frontPart } from '../../../core/sides/program/front'
import { programmed } from '../../../core/sides/program/can-program'
import { portsOf } from '../../../core/sides/program/carried'
import { programLacks } from '../../../core/sides/program/lacks'
import { serviceFolder } from '../../../core/sides/program/service'
import { wifiFolder } from '../../../core/sides/program/wifi'
import { WIFI_OFF, wifiRoom } from '../../../core/sides/program/wifi-room'
import { servedPages } from '../../../core/sides/program/served-pages'
import type { Edit } from '../../../core/design/edits/edits'
import { beside, enginesOn } from '../../fixtures/beside'
import { BOX_LINK, boxedByRoutes, boxedOver, named } from '../../fixtures/boxed'
import { fanDesign, glazeRoom, kilnCorridor, over, showroom } from '../../fixtures/designs'
import { CORES } from '../../fixtures/engine-board/core'
import { ask } from '../../fixtures/network-board/client'
import { onBoard, onComputer } from '../../../core/sides/program/on-computer'
import { onItsChip } from '../../fixtures/phones'
import { canRun, has, putFiles } from '../../fixtures/tools'

const there = canRun('programs of computers and Wi-Fi boards', { 'g++': has('g++') })
const WARNED = ['-Wall', '-Wextra', '-Wconversion', '-Wshadow', '-Werror', '-Wno-cpp']
const ENVIRONMENT = join(import.meta.dirname, '../../fixtures/wifi-environment')

let place = ''
beforeAll(() => {
  place = mkdtempSync(join(tmpdir(), 'nolvi-folders-'))
})
afterAll(() => rmSync(place, { recursive: true, force: true }))

function written(name: string, files: readonly ProgramFile[]): string {
  const folder = join(place, name)
  putFiles(folder, files)
  return folder
}

function run(program: string, args: readonly string[], cwd: string): void {
  const { status, stderr, stdout } = spawnSync(program, args, { cwd, encoding: 'utf8' })
  expect(`${stdout}${stderr}`.split('\n').filter(l => /: (error|warning)/.test(l))).toEqual([])
  expect(status).toBe(0)
}

const on = (design: Design, board: string, nth = 0): Design =>
  onBoard(partOf(design, design.controllers[nth]?.id ?? ''), board)

const boxOn = (over: string, board: string, ...more: Edit[]): Design =>
  programmed(partOf(boxedOver(over, board, ...more), 'knob-box')) as Design

const boxByRoutes = (board: string, ...more: Edit[]): Design =>
  programmed(partOf(boxedByRoutes(board, ...more), 'knob-box')) as Design

/** Bytes of a board's program, linked without its environment; pages and tables are no memory. */
function taken(core: 'lx106' | 'rv32', name: string, engines: [Design, ...Design[]]) {
  const small = core === 'lx106'
  const { tools, target } = CORES[core]
  const [part, ...besides] = engines
  const files = wifiFolder(part, 'board', {}, besides)
  const folder = written(`measured ${name}`, files)
  const sources = files.map(f => f.path).filter(p => /\.(cpp|ino)$/.test(p))
  const flags = [
    ...target.filter(t => t !== '-Wconversion'),
    ...['-std=gnu++11', '-Os', '-fno-exceptions', '-fno-rtti', '-Wall', '-Wextra', '-Werror'],
    ...['-ffunction-sections', '-fdata-sections'],
    ...['-Wno-cpp', '-Wno-type-limits', '-DPRACTICE', '-I', ENVIRONMENT],
    ...(small
      ? ['-DESP8266']
      : ['-DESP32', '-DESP_IDF_VERSION_MAJOR=5', '-I', join(ENVIRONMENT, 'sockets')]),
  ]
  const objects = sources.map((source, i) => {
    run(`${tools}-g++`, [...flags, '-c', '-x', 'c++', source, '-o', `${i}.o`], folder)
    return `${i}.o`
  })
  const roots = ['-u', '_Z5setupv', '-u', '_Z4loopv', '-e', '_Z4loopv']
  const machine = small ? [] : ['-m', 'elf32lriscv']
  run(`${tools}-ld`, [...machine, '-r', '--gc-sections', ...roots, ...objects, '-o', 'all'], folder)
  const { stdout } = spawnSync(`${tools}-size`, ['-A', 'all'], { cwd: folder, encoding: 'utf8' })
  const bytes = (begins: RegExp) =>
    stdout
      .split('\n')
      .map(l => l.split(/\s+/))
      .reduce((sum, [of = '', size]) => (begins.test(of) ? sum + Number(size) : sum), 0)
  const { table, pages } = wifiRoom(engines)!
  const constants = bytes(/^\.s?rodata/) - table - pages
  return {
    code: bytes(/^\.(text|literal)/) + constants,
    memory: bytes(/^\.s?(data|bss)/) + (small ? constants : 0),
  }
}

describe.skipIf(!there)('a board with Wi-Fi', () => {
  const cases: [string, Design][] = [
    ['small: routes, sensors', on(kilnCorridor(), 'board-wifi-full')],
    ['small: radio from board to board', on(showroom(), 'board-wifi-small')],
    ['small: datagrams', on(over(fanDesign(), 'udp'), 'board-wifi-small')],
    ['dual: module and routes', on(glazeRoom(), 'board-dual-radio')],
    ['dual: radio from board to board', on(showroom(), 'board-dual-radio')],
    ['dual: a wire', on(showroom(), 'board-dual-radio', 1)],
    ['single core: routes', on(kilnCorridor(), 'board-single-core')],
    ['dual: low-energy Bluetooth', on(over(glazeRoom(), 'low-energy'), 'board-dual-radio')],
    ['dual: serial Bluetooth of the chip', on(onItsChip(glazeRoom()), 'board-dual-radio')],
    ['single core: low-energy Bluetooth', on(over(glazeRoom(), 'low-energy'), 'board-single-core')],
    ['small: in front of another board', frontPart(partOf(glazeRoom(), 'board')) as Design],
    ['small: a box, by radio from board to board', boxOn('peer', 'board-wifi-full')],
    ['dual: a box, by datagrams', boxOn('udp', 'board-dual-radio')],
    ['small: a box, by routes', boxByRoutes('board-wifi-full')],
    ['dual: a box, by routes', boxByRoutes('board-dual-radio')],
  ]
  it.each(cases)('%s', (name, part) => {
    const small = name.startsWith('small')
    const folder = written(name.replace(/\W/g, '-'), wifiFolder(part, 'board'))
    const files = wifiFolder(part, 'board')
      .map(f => f.path)
      .filter(p => /\.(cpp|ino)$/.test(p))
    const defines = small ? ['-DESP8266'] : ['-DESP32', '-DESP_IDF_VERSION_MAJOR=5']
    for (const f of files)
      run(
        'g++',
        [
          '-std=gnu++11',
          '-fsyntax-only',
          '-x',
          'c++',
          ...WARNED,
          ...defines,
          '-DPRACTICE',
          '-I',
          ENVIRONMENT,
          f,
        ],
        folder,
      )
    expect(portsOf(part).length).toBeGreaterThan(0)
  })

  const measured: [string, 'lx106' | 'rv32', [Design, ...Design[]]][] = [
    ['small', 'lx106', [on(kilnCorridor(), 'board-wifi-full')]],
    ['small, by radio from board to board', 'lx106', [on(showroom(), 'board-wifi-small')]],
    ['small, a box by routes', 'lx106', [boxByRoutes('board-wifi-full')]],
    [
      'small, a box by routes of a name',
      'lx106',
      [boxByRoutes('board-wifi-full', named('http://kiln.local'))],
    ],
    ['small, with loads and asking', 'lx106', enginesOn(beside('udp', 'board-wifi-full'))],
    ['sockets', 'rv32', [on(kilnCorridor(), 'board-single-core')]],
    ['sockets, a box by datagrams', 'rv32', [boxOn('udp', 'board-single-core')]],
    [
      'sockets, a box by datagrams to a name',
      'rv32',
      [boxOn('udp', 'board-single-core', named('kiln'))],
    ],
    ['sockets, with loads and asking', 'rv32', enginesOn(beside('http', 'board-single-core'))],
  ]
  it
    .skipIf(!canRun('cores of Wi-Fi boards', { ...CORES.lx106.needs(), ...CORES.rv32.needs() }))
    .each(measured)('%s: takes of its core what Build says', (name, core, engines) => {
    const { code, memory } = taken(core, name, engines)
    const room = wifiRoom(engines)!
    console.info(`${name}, on ${core}: ${code} bytes of code, ${memory} of memory`)
    expect(Math.abs(code - room.code)).toBeLessThan(code * WIFI_OFF.code)
    expect(Math.abs(memory - room.memory)).toBeLessThan(memory * WIFI_OFF.memory)
    // A megabyte, and what is left of 80 kB beside the radio.
    expect(code + room.table + room.pages).toBeLessThan(150_000)
    expect(memory).toBeLessThan(30_000)
  })

  it('joins the network that the board opens which it asks', () => {
    const design = boxedByRoutes('board-wifi-full', {
      type: 'setLink',
      linkId: BOX_LINK,
      patch: { network: 'own' },
    } as Edit)
    const files = wifiFolder(programmed(partOf(design, 'knob-box')) as Design, 'box')
    const text = (path: string) => files.find(f => f.path === path)?.text ?? ''
    expect(text('src/design.cpp')).toContain('const Network OWN_NETWORK = {"", ""}')
    expect(text('src/design.cpp')).toContain(
      `{"${design.networks[0] ?? design.id}", NETWORK_PASSWORD_1}`,
    )
  })

  it('says who it was never compiled by, and asks for its passwords', () => {
    const files = wifiFolder(on(kilnCorridor(), 'board-wifi-full'), 'board')
    const text = (path: string) => files.find(f => f.path === path)?.text ?? ''
    expect(text('board.ino')).toContain("NOT COMPILED WITH THE VENDOR'S TOOLS YET")
    expect(text('src/design.cpp')).toContain('#error "No password of a network')
    expect(text('secrets-to-fill-in.h')).toContain('NETWORK_PASSWORD')
    const part = on(kilnCorridor(), 'board-wifi-full')
    const [link] = part.links
    const proved = {
      ...part,
      links: [{ ...link, auth: { kind: 'word' } }, ...part.links.slice(1)],
    } as Design
    const filled = wifiFolder(proved, 'board', { [link!.id]: 'open "it"' })
    expect(filled.find(f => f.path === 'secrets-to-fill-in.h')?.text).toContain(
      '#define SECRET "open \\042it\\042"',
    )
    // Of a network that the design does not name.
    const front = wifiFolder(frontPart(partOf(glazeRoom(), 'board')) as Design, 'front')
    const secrets = front.find(f => f.path === 'secrets-to-fill-in.h')?.text
    expect(secrets).toContain('#define NETWORK_NAME ""\n#define NETWORK_PASSWORD_1 ""')
  })
})

describe.skipIf(!there)('a computer', () => {
  it('runs what it is given, with its pages', async () => {
    const part = onComputer(partOf(kilnCorridor(), kilnCorridor().controllers[0]?.id ?? ''))
    const folder = written('computer', serviceFolder(part, 'kiln'))
    run('make', ['-j2', `CXXFLAGS=-O1 -Wconversion -Wshadow -Werror`], folder)
    writeFileSync(
      join(folder, 'test.conf'),
      'tree = .\nstate = state\naddress = 127.0.0.1\nhttp = 0\ncontrol = 1\n',
    )
    const { spawn } = await import('node:child_process')
    const child = spawn(join(folder, 'build/kiln'), ['test.conf'], { cwd: folder })
    try {
      const port = await new Promise<number>(resolve =>
        child.stdout.once('data', text => resolve(Number(String(text).split(/\s/)[1]))),
      )
      const get = (path: string) => ask(port, `GET ${path} HTTP/1.0\r\nhost: 127.0.0.1\r\n\r\n`)
      expect((await get('/humidifier/on')).body).toBe('humidifier=1\n')
      const { pages, first } = servedPages(part)
      expect(first).toBe('/panels')
      for (const { route, zipped } of pages) {
        const answer = await get(route)
        expect(answer.headers['content-encoding']).toBe('gzip')
        expect(Buffer.from(answer.body, 'latin1').equals(zipped), route).toBe(true)
      }
      expect((await get('/')).headers['content-type']).toBe('text/html; charset=utf-8')
    } finally {
      child.kill()
    }
  })

  it('refuses to start without what only it can know', () => {
    const folder = join(place, 'computer')
    const started = (conf: string) => {
      writeFileSync(join(folder, 'bad.conf'), conf)
      return spawnSync(join(folder, 'build/kiln'), ['bad.conf'], { cwd: folder, encoding: 'utf8' })
    }
    expect(started('nonsense\n').stderr).toContain('line 1: a line is "key = value"')
    expect(started('tree = .\n').stderr).toContain('does not say where state is kept')
    expect(started('chip = nowhere\nstate = state\n').stderr).toContain('nowhere: No such file')
  })

  it('says what it cannot read', () => {
    const part = onComputer(partOf(kilnCorridor(), kilnCorridor().controllers[0]?.id ?? ''))
    expect(programLacks(part).map(l => l.words)).toEqual(['reading Kiln room', 'reading Corridor'])
  })
})
