/**
 * Boards that have loads of their own and ask others too: an engine for each, in one program on a
 * board with Wi-Fi, as services of their own on a computer.
 */
import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { partOf } from '../../../core/design/part'
import type { Edit } from '../../../core/design/edits/edits'
import type { Design } from '../../../core/design/schema'
import { check } from '../../../core/checks/check'
import { practiceSecret } from '../../../core/messages/sealing'
import { buildFiles } from '../../../core/sides/files'
import { flashingSteps } from '../../../core/sides/wiring-sheet'
import { wifiFolder } from '../../../core/sides/program/wifi'
import { StandIn } from '../../../server/live/stand-in'
import {
  askingAt,
  BOX_LINK,
  boxedOver,
  named,
  SIGNS,
  theBox,
  withoutBoxes,
} from '../../fixtures/boxed'
import { ASKS_A_THIRD, beside, enginesOn, SENSES, SHOWS } from '../../fixtures/beside'
import { edited } from '../../fixtures/designs'
import { isNamed } from '../../../core/design/links/host'
import { ask, until } from '../../fixtures/network-board/client'
import { Names } from '../../fixtures/network-board/names'
import { HostBoard } from '../../fixtures/network-board/program'
import { canRun, has, putFiles } from '../../fixtures/tools'

const ENVIRONMENT = join(import.meta.dirname, '../../fixtures/wifi-environment')
const there = canRun('several engines on one board', {
  'g++': has('g++'),
  make: has('make'),
  nm: has('nm'),
})

let place = ''
beforeAll(() => {
  place = mkdtempSync(join(tmpdir(), 'nolvi-beside-'))
})
afterAll(() => rmSync(place, { recursive: true, force: true }))

/** Compiles a folder, each file by itself; returns where the objects are. */
function compiled(name: string, engines: [Design, ...Design[]], flags: string) {
  const [part, ...besides] = engines
  const folder = join(place, name)
  const files = wifiFolder(part, 'board', {}, besides)
  putFiles(folder, files)
  const sources = files.map(f => f.path).filter(p => /\.(cpp|ino)$/.test(p))
  const objects = sources.map((_, i) => `o/${i}.o`)
  const common = `-std=gnu++11 -Wall -Wextra -Wconversion -Wshadow -Werror -Wno-cpp -DPRACTICE ${flags}`
  writeFileSync(
    join(folder, 'Makefile'),
    [
      `all: ${objects.join(' ')}`,
      ...sources.map(
        (s, i) => `o/${i}.o: ${s}\n\tg++ ${common} -I ${ENVIRONMENT} -c -x c++ $< -o $@`,
      ),
      '',
    ].join('\n'),
  )
  mkdirSync(join(folder, 'o'))
  run('make', ['-j2', 'all'], folder)
  return { folder, objects }
}

function run(program: string, args: readonly string[], cwd: string): string {
  const { status, stderr, stdout } = spawnSync(program, args, { cwd, encoding: 'utf8' })
  expect(stderr.split('\n').filter(l => /: (error|warning)|undefined/.test(l))).toEqual([])
  expect(status).toBe(0)
  return stdout
}

describe.skipIf(!there)('compiled as they are given away, with no name left open', () => {
  const [SMALL, DUAL] = ['-DESP8266', '-DESP32 -DESP_IDF_VERSION_MAJOR=5'] as const
  const bell: Edit = {
    type: 'setRule',
    ruleId: 'door-open',
    patch: { sets: ['spot', 'fan', 'bell'].map(loadId => ({ loadId, value: 'on' })) },
  }
  it.each([
    ['small, by radio', beside('peer', 'board-wifi-full'), SMALL, [['spot'], ['fan', 'lamp']]],
    ['dual, by routes', beside('http', 'board-dual-radio'), DUAL, [['spot'], ['fan']]],
    ['dual, by a wire', beside('wire', 'board-dual-radio'), DUAL, [['spot'], ['fan', 'lamp']]],
    [
      'small, two others, told by one door',
      edited(beside('udp', 'board-wifi-full'), ...ASKS_A_THIRD, ...SENSES, bell),
      SMALL,
      [['spot'], ['fan', 'lamp'], ['bell']],
    ],
    [
      'dual, two others and nothing of its own',
      edited(boxedOver('peer', 'board-dual-radio'), ...ASKS_A_THIRD),
      DUAL,
      [['fan', 'lamp'], ['bell']],
    ],
  ])('%s', (name, design, flags, loads) => {
    const engines = enginesOn(design)
    expect(engines.map(e => e.loads.map(l => l.id))).toEqual(loads)
    const { folder, objects } = compiled(name.replace(/\W/g, '-'), engines, `-O0 ${flags}`)
    run('ld', ['-r', ...objects, '-o', 'all.o'], folder)
    const open = run('nm', ['-uC', 'all.o'], folder).split('\n')
    expect(open.filter(l => /\b(nolvi|asks\d)::/.test(l))).toEqual([])
  })
})

const BESIDE = '-O1 -g -DESP8266 -DOWN_DESIGN -fsanitize=address,undefined'
/** What it has on comes back after a cut. */
const LASTS = {
  type: 'setOutput',
  loadId: 'spot',
  patch: { powerUp: 'last' },
} as unknown as Edit

describe.skipIf(!there).each([
  [
    'datagrams, signed',
    () => edited(beside('udp', 'board-wifi-full'), SIGNS, LASTS, ...SENSES, ...SHOWS),
  ],
  [
    'routes of a board with a name',
    () =>
      edited(
        beside('http', 'board-wifi-full'),
        named('http://kiln.local'),
        LASTS,
        ...SENSES,
        ...SHOWS,
      ),
  ],
])('running, asking by %s', (name, make) => {
  const design = make()
  let asked: StandIn
  let board: HostBoard
  const names = new Names()
  let now = 0
  beforeAll(async () => {
    asked = new StandIn('asked', withoutBoxes(partOf(design, 'board')), 1)
    await asked.listen('127.0.0.1', [])
    const { datagramPorts, address } = asked.info()
    const namesAt = await names.listen()
    const [own, ...besides] = enginesOn(design)
    const there = besides.map(b => askingAt(b, datagramPorts[BOX_LINK] ?? 0, address))
    const doubles = join(ENVIRONMENT, 'doubles.cpp')
    const flags = `${BESIDE} -Isrc`
    const { folder, objects } = compiled(name.replace(/\W/g, '-'), [own, ...there], flags)
    const rest = '-std=gnu++17 -w'.split(' ')
    run(
      'g++',
      [...rest, ...flags.split(' '), `-I${ENVIRONMENT}`, '-c', doubles, '-o', 'd.o'],
      folder,
    )
    run('g++', [...flags.split(' '), ...objects, 'd.o', '-o', 'program'], folder)
    board = new HostBoard({
      folder,
      command: (_, http) => ({
        program: join(folder, 'program'),
        args: [folder],
        env: { http: String(http), udp: '0', names: String(namesAt) },
      }),
    })
    await begin()
  })
  let isThere = true
  const close = async () => {
    if (isThere) await asked?.close()
    isThere = false
  }
  afterAll(async () => {
    await board?.kill()
    names.close()
    await close()
    expect(board?.complaint).toBe('')
  })

  const begin = async () => {
    now = 0
    await board.start(0, { http: true, udp: design.links.some(l => l.kind === 'udp') ? 1 : 0 })
    await pass(1000)
  }
  const pass = (ms: number) => board.to((now += ms))
  const pin = theBox(design).controls[0]?.pin ?? -1
  const press = async () => {
    for (const level of [0, 1]) {
      await board.told(`pin ${pin} ${level}`)
      await pass(150)
    }
  }
  const fan = () => asked.info().values.fan
  const isFan = (value: string) =>
    expect
      .poll(async () => {
        await pass(20)
        return fan()
      })
      .toBe(value)
  const own = async (route: string) =>
    (await ask(board.http, `GET ${route} HTTP/1.0\r\nhost: 127.0.0.1\r\n\r\n`)).body.trim()

  it('switches what it has, and asks for what it has not', async () => {
    expect(await own('/spot/on')).toBe('spot=1')
    expect(fan()).toBe('off')
    await press()
    await isFan('on')
    await press()
    await isFan('off')
    expect(await own('/state')).toBe('spot=1')
  })

  it.skipIf(!design.links.some(isNamed))('asks once a minute where that board is', async () => {
    expect(names.asked).toEqual(['kiln.local'])
    await pass(50_000)
    expect(names.asked.length).toBe(1)
    await pass(15_000)
    await until(() => names.asked.length === 2)
  })

  it('does both by a door and a remote that it reads once', async () => {
    const pinOf = (id: string) => (design.sensors.find(s => s.id === id) as { pin: number }).pin
    const spot = async (value: 0 | 1) => expect(await own('/state')).toBe(`spot=${value}`)
    const key = async (command: number) => {
      await board.told(`fall ${pinOf('remote')} ${frame(7, command).join(' ')}`)
      await pass(400)
    }
    await key(1)
    await spot(0)
    await key(2)
    await isFan('on')
    await key(2)
    await isFan('off')
    for (const [level, value] of [
      [0, 'off'],
      [1, 'on'],
      [0, 'off'],
      [1, 'on'],
    ] as const) {
      await board.told(`pin ${pinOf('door')} ${level}`)
      await pass(1000)
      await isFan(value)
      await spot(value === 'on' ? 1 : 0)
    }
    await key(2)
    await isFan('off')
  })

  it('has kept both after a cut', async () => {
    // It is written when it has stood for a while.
    await pass(20_000)
    // What the other engine keeps goes elsewhere.
    await press()
    await isFan('on')
    await board.kill()
    await begin()
    expect(await own('/state')).toBe('spot=1')
    // A count that was said before is refused.
    await press()
    await isFan('off')
  })

  it('lights its lamps while one of its engines does', async () => {
    const lamps = design.controllers.flatMap(c => c.lamps)
    const level = async (name: string) => {
      const lamp = lamps.find(l => l.name === name)
      return (await board.told(`level ${lamp?.pin}`)).endsWith(' 1') ? 'high' : 'low'
    }
    // Where a board is whose name was asked is told when it is.
    await expect
      .poll(async () => {
        await pass(20)
        return [await level('Heard'), await level('Asks')]
      })
      .toEqual(['high', 'high'])
    // Nobody answers: it waits, and gives up.
    await close()
    for (const at of [0, 1]) {
      await board.told(`pin ${pin} ${at}`)
      await pass(60)
    }
    expect(await level('Asks')).toBe('low')
    await pass(20_000)
    expect(await level('Asks')).toBe('high')
  })
})

/** µs between the beginnings of marks: address and command, each with its complement behind it. */
function frame(address: number, command: number): number[] {
  const bits = [address, ~address, command, ~command].flatMap(byte =>
    Array.from({ length: 8 }, (_, i) => (byte >> i) & 1),
  )
  return [50_000, 13_500, ...bits.map(bit => (bit ? 2250 : 1125))]
}

describe('what is given away', () => {
  const design = beside('udp', 'board-wifi-full')
  const files = (d: Design) =>
    buildFiles(d).filter(f => f.goes === 'board' && f.boardId === 'knob-box')

  it('is one folder on a board with Wi-Fi, and each file has a name of its own', () => {
    const names = files(design).map(f => f.name)
    expect(new Set(names).size).toBe(names.length)
    expect(names.filter(n => n.endsWith('.ino'))).toEqual(['fan-design-knob-box.ino'])
    expect(files(design).map(f => f.inZip)).toContain('fan-design-knob-box/src/asks1/box.cpp')
  })

  it('is a service each on a computer, heard on ports of their own', () => {
    const both = beside('udp', 'board-linux-header', 'udp')
    const port = both.links.flatMap(l => (l.kind === 'udp' ? [l.port] : []))
    const services = files(both).filter(f => f.name.endsWith('.conf') && f.name !== 'try.conf')
    expect(services.map(f => f.inZip)).toContain(
      'fan-design-knob-box-knob-box-link/fan-design-knob-box-knob-box-link.conf',
    )
    const asks = services.find(f => f.name === 'fan-design-knob-box-knob-box-link.conf')
    expect(flashingSteps(partOf(both, 'knob-box')).join(' ')).toContain('It has 2 programs')
    expect(port[0]).toBe(port[1])
    expect(/^udp = (\d+)$/m.exec(asks?.text ?? '')?.[1]).toBe(String((port[0] ?? 0) + 1))
  })

  it('names in secrets.h every secret once', () => {
    const signed = edited(design, SIGNS, {
      type: 'setLink',
      linkId: 'bedside-link',
      patch: { auth: { kind: 'word' } },
    })
    const [part, ...besides] = enginesOn(signed)
    const made = wifiFolder(
      part,
      'board',
      { 'bedside-link': 'mine', [BOX_LINK]: 'theirs' },
      besides,
    )
    const text = (path: string) => made.find(f => f.path === path)?.text ?? ''
    expect(text('secrets-to-fill-in.h')).toContain('#define SECRET_1 "mine"')
    expect(text('secrets-to-fill-in.h')).toContain('#define SECRET_2 "theirs"')
    expect(text('src/design.cpp')).not.toContain('SECRET_2')
    expect(text('src/asks1/design.cpp')).toContain('#include "../../secrets.h"')
    expect(text('src/asks1/design.cpp')).not.toContain('SECRET_1')
    const link = signed.links.find(l => l.id === BOX_LINK)
    expect(link && practiceSecret(link)).toBeTruthy()
  })
})

describe('what one board cannot be at once is said', () => {
  const why = (design: Design) =>
    check(design)
      .findings.filter(f => f.code === 'no-program' && f.surfaceId === 'knob-box')
      .map(f => f.reason)
  it.each([
    ['an 8-bit board', beside('wire', 'board-8bit-5v', 'bluetooth-serial'), 'does one thing'],
    [
      'two radios from board to board',
      beside('peer', 'board-wifi-full', 'peer'),
      'from board to board to another one already',
    ],
    ['two serial links', beside('wire', 'board-dual-radio', 'wire'), 'another serial link'],
    [
      'networks of one name',
      edited(
        beside('udp', 'board-wifi-full'),
        ...[BOX_LINK, 'bedside-link'].map(
          linkId => ({ type: 'setLink', linkId, patch: { network: 'own' } }) as Edit,
        ),
      ),
      'one of the same name',
    ],
  ])('%s', (_, design, words) => {
    expect(why(design).join(' ')).toContain(words)
  })
  it('lamps on lines of another program', () => {
    const lacks = (board: string) =>
      check(beside('http', board, 'http', ...SHOWS)).findings.filter(
        f => f.code === 'program-lacks' && f.path.startsWith('/controllers/1'),
      )
    expect(lacks('board-wifi-full')).toEqual([])
    const [found] = lacks('board-linux-header')
    expect(found?.reason).toContain('Heard, for what it asks')
    expect(found?.reason).toContain('Asks, for what it asks')
    expect(found?.path).toBe('/controllers/1/lamps')
  })
  it('a sensor that acts on both, on a computer', () => {
    const design = beside('http', 'board-linux-header', 'http', ...SENSES.slice(0, 3))
    expect(why(design).join(' ')).toContain('Door acts on other things too')
  })
  it('pins of an expander', () => {
    const design = beside('udp', 'board-wifi-full', 'http')
    const far = structuredClone(design)
    theBox(far).controls[0]!.pin = 100
    expect(why(far).join(' ')).toContain('on pins of an expander')
  })
  it('and that a small one with Wi-Fi waits while it connects', () => {
    const waits = (design: Design) => check(design).findings.filter(f => f.code === 'program-waits')
    expect(waits(beside('http', 'board-wifi-full'))).toHaveLength(1)
    expect(waits(beside('udp', 'board-wifi-full'))).toEqual([])
    expect(waits(beside('http', 'board-dual-radio'))).toEqual([])
  })
  it('and nothing where it can', () => {
    expect(why(beside('udp', 'board-wifi-full'))).toEqual([])
    expect(why(beside('http', 'board-linux-header'))).toEqual([])
  })
})
