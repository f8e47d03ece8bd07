/**
 * Bluetooth of the chip itself: the program of a board with Wi-Fi beside `step`, with doubles of
 * the radio. Phones join, ask to hear, say whole and cut commands, and leave.
 */
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { compileController } from '../../../core/controller/program'
import { startController, step, type ControllerEvent } from '../../../core/controller/step'
import { onChip } from '../../../core/design/links/traits'
import type { Design, Link } from '../../../core/design/schema'
import { wireOf } from '../../../core/design/wire'
import { engineFile } from '../../../core/sides/program/engine-files'
import { canProgram } from '../../../core/sides/program/can-program'
import { portsOf } from '../../../core/sides/program/carried'
import { programLacks } from '../../../core/sides/program/lacks'
import { onBoard } from '../../../core/sides/program/on-computer'
import { DIALECTS, edited, fanDesign, glazeRoom, over, speaking } from '../../fixtures/designs'
import { WifiProgram, type HostBoard } from '../../fixtures/network-board/program'
import { onItsChip } from '../../fixtures/phones'
import { canRun, has } from '../../fixtures/tools'

/** What came from the board since it was asked last, a word for each packet. */
async function heard(board: HostBoard): Promise<string[]> {
  return (await board.told('heard')).split(' ').slice(1)
}
const textsOf = (words: readonly string[], radio: string) =>
  words.flatMap(w =>
    w.startsWith(`${radio}:`) ? [bytesText(Buffer.from(w.slice(radio.length + 1), 'hex'))] : [],
  )
const hex = (said: string) => Buffer.from(textBytes(said)).toString('hex')

/** The same events through `step`: what it sends on the link. */
class Oracle {
  private readonly program
  private state
  private readonly link: number
  private now = 0

  constructor(part: Design, linkId: string) {
    this.program = compileController(part)
    this.link = part.links.findIndex(l => l.id === linkId)
    this.state = startController(this.program)
    this.does({ kind: 'boot', now: 0, levels: this.program.inputs.map(() => 1) })
  }

  does(event: ControllerEvent): string {
    const { state, effects } = step(this.program, this.state, event)
    this.state = state
    const said = effects.flatMap(e =>
      (e.kind === 'send' || e.kind === 'reply') && e.link === this.link ? [e.text] : [],
    )
    if (effects.some(e => e.kind === 'save')) this.does({ kind: 'memoryDone', now: this.now })
    return said.join('')
  }

  up = () => this.does({ kind: 'linkUp', now: this.now, link: this.link })
  down = () => this.does({ kind: 'linkDown', now: this.now, link: this.link })
  hears = (text: string) => this.does({ kind: 'received', now: this.now, link: this.link, text })
}

/** Small wrongs: file, what stands there, and what instead. */
const WRONGS = [
  ['bluetooth.cpp', 'if (is != isThere) {', 'if (is && !isThere) {'],
  ['bluetooth.cpp', 'if (isThere) stream.write', 'if (!isThere) stream.write'],
  ['bluetooth.cpp', 'controller.linkUp(now, own);', '{}'],
  ['low-energy.cpp', 'if (listening) controller', 'if (listening || comes) controller'],
  ['low-energy.cpp', 'said.take(bytes, packet())', 'said.take(bytes, sizeof bytes)'],
  ['low-energy.cpp', 'if ((comes || goes) &&', 'if (comes &&'],
  ['low-energy.cpp', 'packet() + 3', 'packet()'],
  ['low-energy.cpp', 'i < value.length(); i++)', 'i + 1 < value.length(); i++)'],
] as const

const lowEnergy = (): Design => over(speaking(glazeRoom(), DIALECTS.lines!), 'low-energy')
const chosen = (part: Design): Link => part.links.find(onChip) as Link
const commands = (link: Link) =>
  link.messages.flatMap(m => Object.values(m.codes)).filter(code => code !== '')

describe.runIf(canRun('Bluetooth of a chip', { 'g++': has('g++') }))('phones of the chip', () => {
  let program: WifiProgram
  beforeAll(() => (program = new WifiProgram(true)))
  afterAll(() => program.dispose())

  async function started(part: Design, on: WifiProgram): Promise<HostBoard> {
    const board = on.board(part)
    const http = portsOf(part).some(p => p.port === 'http')
    await board.start(0, { http, udp: 0 })
    return board
  }

  async function byLowEnergy(on: WifiProgram): Promise<void> {
    const part = onBoard(lowEnergy(), 'board-dual-radio')
    const link = chosen(part)
    if (link.kind !== 'low-energy') throw new Error('no low energy')
    const oracle = new Oracle(part, link.id)
    const board = await started(part, on)
    try {
      const first = await heard(board)
      expect(first).toEqual([
        `mtu:${link.packetBytes + 3}`,
        `service:${link.service}`,
        `has:${link.writeTo}`,
        `has:${link.notifyFrom}`,
        'advertised:1',
      ])
      await board.told('le join')
      // Nobody asked to hear yet.
      expect(textsOf(await heard(board), 'le')).toEqual([])
      await board.told('le listen')
      const state = textsOf(await heard(board), 'le')
      expect(state.join('')).toBe(oracle.up())
      expect(state.join('')).not.toBe('')
      expect(state.every(packet => packet.length <= link.packetBytes)).toBe(true)
      for (const code of commands(link)) {
        const said = wireOf(link, code, 'command')
        // In two packets, as one that is longer than a packet comes.
        await board.told(`le write ${hex(said.slice(0, 1))}`)
        await board.told(`le write ${hex(said.slice(1))}`)
        const [cut, rest] = [oracle.hears(said.slice(0, 1)), oracle.hears(said.slice(1))]
        expect(textsOf(await heard(board), 'le').join(''), code).toBe(cut + rest)
      }
      // It serves one: while it is connected nobody else finds it.
      expect((await heard(board)).at(-1)).toBe('advertised:1')
      await board.told('le leave')
      oracle.down()
      expect((await heard(board)).at(-1)).toBe('advertised:2')
      // What it would say is heard by nobody, and nothing of it comes later.
      await board.told('le join')
      await board.told('le listen')
      expect(textsOf(await heard(board), 'le').join('')).toBe(oracle.up())
    } finally {
      await board.kill()
    }
  }

  async function bySerial(on: WifiProgram): Promise<void> {
    const part = onItsChip(glazeRoom())
    const link = chosen(part)
    const oracle = new Oracle(part, link.id)
    const board = await started(part, on)
    try {
      await heard(board)
      await board.told('bt join')
      expect(textsOf(await heard(board), 'bt').join('')).toBe(oracle.up())
      for (const code of commands(link)) {
        const said = wireOf(link, code, 'command')
        await board.told(`bt write ${hex(said)}`)
        expect(textsOf(await heard(board), 'bt').join(''), code).toBe(oracle.hears(said))
      }
      await board.told('bt leave')
      oracle.down()
      await board.told('bt join')
      expect(textsOf(await heard(board), 'bt').join('')).toBe(oracle.up())
    } finally {
      await board.kill()
    }
  }

  it('of low energy: found, told, heard in packets, found again', () => byLowEnergy(program))
  it('of serial Bluetooth: joins, is told, asks, leaves', () => bySerial(program))

  it.each(WRONGS)('%s: %s is found', async (file, from, to) => {
    const text = engineFile(`boards/wifi/dual/${file}`)
    expect(text.split(from)).toHaveLength(2)
    const wrong = program.changed(file, text.replace(from, to))
    const held = file === 'bluetooth.cpp' ? bySerial(wrong) : byLowEnergy(wrong)
    await expect(held).rejects.toThrow()
  })
})

describe('who carries it', () => {
  it('a board with both radios one link of each, others none', () => {
    const ports = (part: Design) => portsOf(part).map(p => p.port)
    expect(ports(onBoard(over(fanDesign(), 'low-energy'), 'board-dual-radio'))).toContain(
      'low-energy',
    )
    expect(ports(onBoard(over(fanDesign(), 'low-energy'), 'board-single-core'))).toContain(
      'low-energy',
    )
    expect(ports(onBoard(over(fanDesign(), 'low-energy'), 'board-wifi-full'))).not.toContain(
      'low-energy',
    )
    const chip = onItsChip(glazeRoom())
    expect(ports(chip)).toContain('bluetooth')
    expect(ports(onBoard(chip, 'board-single-core'))).not.toContain('bluetooth')
    const two = edited(over(fanDesign(), 'low-energy'), {
      type: 'addPanel',
      name: 'Second phone',
      over: 'low-energy',
    })
    const part = onBoard(two, 'board-dual-radio')
    expect(ports(part).filter(p => p === 'low-energy')).toHaveLength(1)
    expect(programLacks(part).map(l => l.words)).toContainEqual(
      expect.stringContaining('low-energy Bluetooth on'),
    )
    expect(canProgram(part)).toBe(true)
  })
})
