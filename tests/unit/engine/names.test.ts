/** Where the board is that a box asks by its name: answers of any kind, what is made of them. */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { addressBytes, hostOf, isHostName, isNearby } from '../../../core/design/links/host'
import { onNetwork } from '../../../core/design/links/traits'
import { partOf } from '../../../core/design/part'
import { programmed, whyNoBox } from '../../../core/sides/program/can-program'
import { serviceFolder } from '../../../core/sides/program/service'
import { wifiFolder } from '../../../core/sides/program/wifi'
import type { Edit } from '../../../core/design/edits/edits'
import type { Design } from '../../../core/design/schema'
import { boxedByRoutes, boxedOver, named, theBox } from '../../fixtures/boxed'
import { edited, fanDesign } from '../../fixtures/designs'
import { answered, aRecord, lies, nameIn, record } from '../../fixtures/network-board/names'
import { seededRandom } from '../../../core/units/random'
import { canRun, has, putFiles } from '../../fixtures/tools'

const partOfBox = (design: Design): Design =>
  programmed(partOf(design, theBox(design).boardId ?? '')) as Design

/** A box, and the board that it asks by datagrams, of one class. */
const bothOn = (board: string, address: string): Design =>
  edited(boxedOver('udp', board, named(address)), { type: 'setBoard', board })

describe('an address', () => {
  it('is four bytes, or a name', () => {
    expect(hostOf('http://kiln.local:8080')).toBe('kiln.local')
    expect(hostOf('192.168.4.1')).toBe('192.168.4.1')
    expect(addressBytes('192.168.4.1')).toEqual([192, 168, 4, 1])
    for (const no of ['192.168.4', '192.168.4.256', '192.168.4.1.1', 'kiln', '1.2.3.x', '1.2..3'])
      expect(addressBytes(no), no).toBeNull()
    for (const name of ['kiln', 'Kiln-2.local', '4kilns.example', 'a'.repeat(63)])
      expect(isHostName(name), name).toBe(true)
    for (const no of [
      '',
      'kiln.',
      '.local',
      'a..b',
      '-kiln',
      'kiln-',
      '192.168.4.256',
      'a'.repeat(64),
    ])
      expect(isHostName(no), no).toBe(false)
    expect(['kiln.local', 'KILN.LOCAL', 'kiln', 'local'].map(isNearby)).toEqual([
      true,
      true,
      false,
      false,
    ])
  })

  it('that is neither is said, and gets no program', () => {
    const design = boxedOver('udp', 'board-linux-header', named('192.168.4.256'))
    expect(whyNoBox(design, theBox(design))).toContain('"192.168.4.256" of Knob box link')
    const found = boxedOver('udp', 'board-linux-header', named('kiln.local'))
    expect(whyNoBox(found, theBox(found))).toBeNull()
    // Nobody knows other names in a network that the board opens itself.
    const over = (network: 'own' | 'router', address: string) =>
      edited(found, {
        type: 'setLink',
        linkId: found.links.find(onNetwork)?.id ?? '',
        patch: { network, address },
      } as Edit)
    const why = (design: Design) => whyNoBox(design, theBox(design))
    expect(why(over('own', 'kiln'))).toContain('nobody knows "kiln"')
    expect(why(over('own', 'kiln.local'))).toBeNull()
    expect(why(over('router', 'kiln'))).toBeNull()
  })
})

it('a board with Wi-Fi calls itself by the name of its links, a box by none', () => {
  const called = (design = fanDesign(), boardId = 'board') => {
    const part = programmed(partOf(design, boardId))!
    const file = wifiFolder(part, 'board').find(f => f.path === 'src/design.cpp')
    return /HOST_NAME\[\] = (".*");/.exec(file?.text ?? '')?.[1]
  }
  const over = (address: string) => bothOn('board-wifi-full', address)
  expect(called(over('Kiln.local'))).toBe('"kiln"')
  expect(called(over('kiln.example'))).toBe('"kiln"')
  expect(called(over('192.168.4.7'))).toBe('""')
  expect(called(over('kiln.local'), theBox(over('kiln.local')).boardId!)).toBe('""')
})

const ASKING = join(import.meta.dirname, '../../fixtures/network-board/asking.cpp')
// What a wrong one does not use any more is no matter here: the folders are compiled with warnings.
const FLAGS = '-std=c++11 -O1 -g -w -fsanitize=address,undefined'.split(' ')
const KILN = 'http://kiln.example:8080'
it('whoever sets up a computer is told how it has to be called', () => {
  const told = (address: string, boardId: string) => {
    const design = bothOn('board-linux-header', address)
    const files = serviceFolder(programmed(partOf(design, boardId)) as Design, 'kiln')
    return files.find(f => f.path === 'INSTALL.txt')?.text ?? ''
  }
  expect(told('kiln.local', 'board')).toContain('hostnamectl set-hostname kiln), and install')
  expect(told('kiln.example', 'board')).toContain('hostnamectl set-hostname kiln).')
  expect(told('192.168.4.7', 'board')).not.toContain('hostnamectl')
  expect(told('kiln.local', 'knob-box')).not.toContain('hostnamectl')
})

const there = canRun('a box that asks for a name', { 'g++': has('g++') })
describe.skipIf(!there)('what is answered', () => {
  const place = mkdtempSync(join(tmpdir(), 'nolvi-names-'))
  afterAll(() => rmSync(place, { recursive: true, force: true }))
  /** A box that asks at an address; `change`: of the file that looks for it. */
  const compiled = (name: string, address: string, change: (text: string) => string = t => t) => {
    const design = boxedByRoutes('board-linux-header', named(address))
    const folder = join(place, name)
    putFiles(folder, serviceFolder(partOfBox(design), 'box'))
    const [asking, table] = ['src/names.cpp', 'src/design.cpp'].map(f => join(folder, f)) as [
      string,
      string,
    ]
    writeFileSync(asking, change(readFileSync(asking, 'utf8')))
    const made = spawnSync(
      'g++',
      [...FLAGS, '-I', join(folder, 'src'), asking, table, ASKING, '-o', join(folder, 'box')],
      { encoding: 'utf8' },
    )
    expect(made.stderr).toBe('')
    return join(folder, 'box')
  }
  /** What is asked, and where the board is taken to be after each answer. */
  const play = (program: string, answers: readonly Answer[]) => {
    const { stdout, stderr } = spawnSync(program, {
      input: answers.map(a => `${a.from} ${a.port} ${a.bytes.toString('hex')}\n`).join(''),
      encoding: 'utf8',
      maxBuffer: 1 << 26,
    })
    expect(stderr).toBe('')
    const [question = '', ...told] = stdout.trim().split('\n')
    const [address, port, hex = ''] = question.split(' ')
    return {
      asked: [Number(address), Number(port)],
      question: Buffer.from(hex, 'hex'),
      told: told.map(Number),
    }
  }
  let program = ''
  beforeAll(() => {
    program = compiled('box', KILN)
  })

  it('is asked for as the standard says', () => {
    const { question, asked } = play(program, [])
    expect(asked).toEqual([SERVER, 53])
    expect(nameIn(question)).toBe('kiln.example')
    // One question, to be asked on: a name, type A, class IN (RFC 1035, 4.1).
    expect(question.subarray(2).toString('hex')).toBe(
      '01000001000000000000' + '046b696c6e' + '076578616d706c65' + '00' + '0001' + '0001',
    )
  })

  it('is asked of everybody nearby where its name ends so', () => {
    const { question, asked } = play(compiled('nearby', 'http://Kiln.local'), [])
    // 224.0.0.251 (RFC 6762, 3).
    expect(asked).toEqual([0xe00000fb, 5353])
    expect(nameIn(question)).toBe('kiln.local')
  })

  const QUESTION = Buffer.from(
    '000001000001000000000000046b696c6e076578616d706c650000010001',
    'hex',
  )
  it('tells where it is, also by another name for the same', () => {
    const alias = record(5, Buffer.from('\x05store\x00', 'latin1'))
    const { told } = play(program, [
      toldOnce(answered(QUESTION, [aRecord('192.168.4.7')])),
      toldOnce(answered(QUESTION, [alias, aRecord('10.0.0.9'), aRecord('10.0.0.8')])),
      // As everybody nearby says it: mine alone (RFC 6762, 10.2).
      toldOnce(answered(QUESTION, [aRecord('192.168.4.8', 0x8001)])),
    ])
    expect(told).toEqual([0xc0a80407, 0x0a000009, 0xc0a80408])
  })

  it('by somebody else is not heard', () => {
    const answer = answered(QUESTION, [aRecord('192.168.4.7')])
    const { told } = play(program, [
      { ...toldOnce(answer), from: SERVER + 1 },
      { ...toldOnce(answer), port: 54 },
      toldOnce(answer),
    ])
    expect(told).toEqual([0, 0, 0xc0a80407])
  })

  const answers = [...lies(QUESTION), ...wild(20_000)].map(toldOnce)
  it('is believed where another reader of the standard reads an address', () => {
    const should = answers.map(a => addressIn(a.bytes))
    expect(should.filter(s => s !== 0).length).toBeGreaterThan(1000)
    expect(
      lies(QUESTION)
        .map(addressIn)
        .filter(s => s !== 0),
    ).toEqual([])
    expect(play(program, answers).told).toEqual(should)
  })

  it.each([
    ['is.number(0) == id', 'true'],
    ['(is.byte(2) & 0x80) != 0', 'true'],
    ['(is.byte(3) & 0x0f) != 0', 'false'],
    ['is.behindName(at) + 4', 'is.behindName(at) + 3'],
    ['size >= 0xc0', 'size == 0xc0'],
    ['at >= is.length || size > is.length - at', 'false'],
    ['type == ADDRESS_TYPE && ', ''],
    [' && kind == INTERNET', ''],
    [' && size == 4', ''],
    ['& 0x7fff', '& 0xffff'],
    ['address >> 24 && ', ''],
    ['address >> 24 < 224', 'true'],
    ['from.port == asked.port && ', ''],
    ['isAnyone || ', 'true || '],
  ])('and a wrong one is found: %s', (is, wrong) => {
    const mutant = compiled('mutant', KILN, text => {
      expect(text.split(is).length, 'stands there once').toBe(2)
      return text.replace(is, wrong)
    })
    const answer = answered(QUESTION, [aRecord('192.168.4.8', 0x8001)])
    const all = [
      ...answers,
      toldOnce(answer),
      { ...toldOnce(answer), from: SERVER + 1 },
      { ...toldOnce(answer), port: 54 },
    ]
    expect(play(mutant, all).told).not.toEqual(play(program, all).told)
  })

  /** Answers that are right, with a few bytes changed, cut off, or drawn out. */
  function wild(count: number): Buffer[] {
    const { next } = seededRandom(7)
    const any = (below: number) => Math.floor(below * next())
    const good = [
      answered(QUESTION, [aRecord('192.168.4.7')]),
      answered(QUESTION, [
        record(5, Buffer.from([5, 115, 116, 111, 114, 101, 0])),
        aRecord('10.0.0.9'),
      ]),
      answered(QUESTION, [aRecord('224.0.0.1'), aRecord('10.0.0.9')]),
    ]
    return Array.from({ length: count }, () => {
      const is = Buffer.concat([
        good[any(good.length)]!,
        Buffer.alloc(any(4) ? 0 : any(600), any(256)),
      ])
      for (let n = any(4); n > 0; n--) is[any(is.length)] = any(256)
      return is.subarray(0, any(3) ? is.length : any(is.length + 1))
    })
  }
})

interface Answer {
  from: number
  port: number
  bytes: Buffer
}
const SERVER = 0x0a000001
const toldOnce = (bytes: Buffer): Answer => ({ from: SERVER, port: 53, bytes })

/** The first address of an answer to a question of the number 0; 0 where there is none. */
function addressIn(whole: Buffer): number {
  const bytes = whole.subarray(0, 512)
  try {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length)
    let at = 12
    const skipName = () => {
      for (;;) {
        const size = view.getUint8(at)
        at += size >= 192 ? 2 : size + 1
        if (size === 0 || size >= 192) return
      }
    }
    if (view.getUint16(0) !== 0 || view.getUint8(2) < 128 || view.getUint8(3) % 16) return 0
    for (let n = view.getUint16(4); n > 0; n--) {
      skipName()
      at += 4
    }
    for (let n = view.getUint16(6); n > 0; n--) {
      skipName()
      const [type, kind, size] = [at, at + 2, at + 8].map(place => view.getUint16(place))
      at += 10 + size!
      if (type !== 1 || kind! % 0x8000 !== 1 || size !== 4) continue
      const address = view.getUint32(at - 4)
      return address >>> 24 > 0 && address >>> 24 < 224 ? address : 0
    }
  } catch (error) {
    // Read behind its end.
    if (!(error instanceof RangeError)) throw error
  }
  return 0
}
