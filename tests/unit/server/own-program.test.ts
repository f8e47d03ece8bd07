/** The program itself in the place of a stand-in: made, run, pressed, asked, cut and ended. */
import { createSocket } from 'node:dgram'
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { partOf } from '../../../core/design/part'
import type { Edit } from '../../../core/design/edits/edits'
import type { Design } from '../../../core/design/schema'
import { wireOf } from '../../../core/design/wire'
import { onComputer, whyNotHere } from '../../../core/sides/program/on-computer'
import { serviceFolder } from '../../../core/sides/program/service'
import { Maker } from '../../../server/live/maker'
import { OwnProgram } from '../../../server/live/own-program'
import { OPEN } from '../../../server/live/front'
import { edited, fanDesign, glazeRoom, kilnCorridor, over, starter } from '../../fixtures/designs'
import { canRun, has } from '../../fixtures/tools'

const root = mkdtempSync(join(tmpdir(), 'nolvi-own-'))
const maker = new Maker(join(root, 'programs'))
const running: OwnProgram[] = []
let many = 0

afterEach(async () => {
  for (const program of running.splice(0)) await program.close()
})
afterAll(() => rmSync(root, { recursive: true, force: true }))

async function started(part: Design, by = maker): Promise<OwnProgram> {
  const program = new OwnProgram(`own-${process.pid}-${++many}`, part, 1, {}, OPEN, by)
  running.push(program)
  await program.listen('127.0.0.1', [])
  return program
}
async function run(part: Design): Promise<OwnProgram> {
  const program = await started(part)
  await until(() => program.info().phase !== 'making')
  expect(program.info().phase, program.info().words).toBe('running')
  return program
}
const get = async (program: OwnProgram, path: string) => {
  const response = await fetch(program.info().address + path)
  return `${response.status} ${(await response.text()).trim()}`
}
const wall = async (program: OwnProgram, deed: object) => {
  const response = await fetch(`${program.info().address}/_wall`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(deed),
  })
  return `${response.status} ${(await response.text()).trim()}`.trim()
}
const value = (program: OwnProgram, load: string) => program.info().values[load]
/** Its browser alone, so that it needs no terminal. */
function room(): Design {
  const design = glazeRoom()
  const links = design.links
    .filter(l => l.kind === 'http')
    .map(l => ({ ...l, onConnect: true, messages: l.messages.map(m => ({ ...m, change: true })) }))
  const surfaces = design.surfaces.filter(
    s => !('linkId' in s) || links.some(l => l.id === s.linkId),
  )
  return { ...design, links, surfaces }
}
/** Boxes over HTTP, datagrams and a wire, with lamps of their links, and a remote. */
function boxed(): Design {
  const box = (name: string, kind: 'http' | 'udp' | 'wire', to: string): Edit[] => {
    const id = `${name.toLowerCase()}-box`
    const codes = { on: `${to}on`, off: `${to}off`, toggle: `${to}flip` }
    return [
      { type: 'addPeer', name: `${name} box`, over: kind },
      { type: 'addMessage', linkId: `${id}-link`, loadId: 'fan', codes },
      { type: 'setBoxBoard', surfaceId: id, board: 'board-wifi-full' },
      { type: 'addControl', surfaceId: id, loadId: 'fan', kind: 'push' },
      // Of a wire nothing tells whether somebody is there.
      ...(kind === 'wire'
        ? []
        : [{ type: 'addLamp', name: `${name} link`, shows: 'link', controllerId: id } as const]),
    ]
  }
  const levels = ['0', '25', '50', '75', '100']
  const steps = Object.fromEntries([...levels, 'up', 'down'].map(v => [v, `lamp ${v}`]))
  const design = edited(
    fanDesign(),
    { type: 'addLoad', name: 'Lamp' },
    { type: 'setKind', loadId: 'lamp', kind: 'level' },
    ...box('Web', 'http', '/box/'),
    ...box('Air', 'udp', 'udp '),
    ...box('Cable', 'wire', 'wire '),
    { type: 'addMessage', linkId: 'air-box-link', loadId: 'lamp', codes: steps },
    { type: 'addSensor', kind: 'knob', name: 'Knob', loadId: 'lamp', controllerId: 'air-box' },
    { type: 'addSensor', kind: 'infrared', name: 'Eye' },
    {
      type: 'setSensor',
      sensorId: 'eye',
      patch: { keys: [{ address: 1, command: 2, loadId: 'fan', asks: 'toggle' }] },
    } as never,
  )
  return partOf(design, design.controllers[0]?.id ?? '')
}
/** A compiler takes its time on a machine that others use. */
async function until(so: () => boolean | Promise<boolean>): Promise<void> {
  for (let n = 0; n < 12_000; n++) {
    if (await so()) return
    await new Promise(done => setTimeout(done, 25))
  }
  throw new Error(`in vain: ${so.toString()}`)
}

describe.runIf(
  canRun('the program in the place of a stand-in', { 'g++': has('g++'), make: has('make') }),
)('the program itself', () => {
  let browser: Design
  beforeAll(() => {
    browser = room()
  })

  it('answers by its own server, and is seen on its wall', async () => {
    const program = await run(browser)
    expect(await get(program, '/extractor/on')).toBe('200 booth-extractor=1')
    await until(() => value(program, 'booth-extractor') === 'on')
    expect(await get(program, '/nowhere')).toMatch(/^404 /)
    const said = program.traffic.map(t => `${t.dir} ${t.text}`)
    expect(said).toContain('up /extractor/on')
    expect(said).toContain('down booth-extractor=1')
    // What nobody can hear as a message is none.
    expect(said.some(t => t.includes('nowhere'))).toBe(false)
  })

  it('is pressed by hand, and told to whoever listens', async () => {
    const program = await run(browser)
    const link = browser.links[0]
    const events = link?.kind === 'http' ? link.eventsRoute : ''
    const stream = await fetch(program.info().address + events)
    let heard = ''
    const reading = (async () => {
      for await (const piece of stream.body as unknown as AsyncIterable<Uint8Array>)
        heard += Buffer.from(piece).toString()
    })().catch(() => undefined)
    await until(() => heard.includes('booth-extractor=0'))
    const control = browser.surfaces.flatMap(s =>
      s.kind === 'hand' ? s.controls.filter(c => c.loadId === 'booth-extractor') : [],
    )[0]
    expect(await wall(program, { controlId: control?.id })).toBe('204')
    await until(() => heard.includes('booth-extractor=1'))
    await until(() => value(program, 'booth-extractor') === 'on')
    expect(program.traffic.some(t => t.dir === 'down' && t.text === 'booth-extractor=1')).toBe(true)
    expect(await wall(program, { controlId: 'nothing' })).toMatch(/^404 no such hand control/)
    await program.close()
    await reading
  })

  it('says nothing without power, and keeps what it has to', async () => {
    const program = await run(browser)
    await get(program, '/extractor/on')
    await until(() => value(program, 'booth-extractor') === 'on')
    expect(await wall(program, { power: 'cut' })).toBe('204')
    expect(await get(program, '/state')).toBe('503 the board does not answer')
    expect(value(program, 'booth-extractor')).toBeUndefined()
    expect(await wall(program, { power: 'back' })).toBe('204')
    await until(() => value(program, 'booth-extractor') !== undefined)
    const powerUp = (browser.loads[0]?.output as { powerUp?: string }).powerUp
    expect(value(program, 'booth-extractor')).toBe(powerUp === 'last' ? 'on' : powerUp)
  })

  it('is told what its sensors give', async () => {
    const whole = kilnCorridor()
    const part = partOf(whole, whole.controllers[0]?.id ?? '')
    const program = await run(part)
    const link = part.links.find(l => l.kind === 'http' && l.readings.length > 0)
    const reading = link?.readings.find(r =>
      ['thermometer', 'thermistor', 'analog'].includes(
        part.sensors.find(s => s.id === r.sensorId)?.kind ?? '',
      ),
    )
    if (link?.kind !== 'http' || !reading) throw new Error('the kiln corridor reads nothing')
    const before = await get(program, link.askRoute)
    expect(await wall(program, { sensorId: reading.sensorId, raw: [412] })).toBe('204')
    await until(async () => (await get(program, link.askRoute)) !== before)
    expect(await wall(program, { sensorId: reading.sensorId, raw: ['x'] })).toMatch(/^404 /)
  })

  it('passes datagrams on, each to who asked', async () => {
    const part = over(glazeRoom(), 'udp')
    const program = await run(part)
    const [link] = part.links
    if (link?.kind !== 'udp') throw new Error('no datagrams')
    const socket = createSocket('udp4')
    const heard: string[] = []
    socket.on('message', bytes => heard.push(bytes.toString('latin1')))
    const say = (code: string) =>
      socket.send(wireOf(link, code, 'command'), program.info().datagramPorts[link.id], '127.0.0.1')
    try {
      const on = Object.values(link.messages[0]?.codes ?? {})[0] ?? ''
      await until(() => {
        if (!heard.length) say(on)
        return heard.length > 0
      })
      const loadId = link.messages[0]?.loadId ?? ''
      await until(() => value(program, loadId) === 'on')
      expect(program.traffic.some(t => t.linkId === link.id && t.dir === 'down')).toBe(true)
    } finally {
      socket.close()
    }
  })

  it.runIf(canRun('a terminal for the program', { socat: has('socat') }))(
    'opens a terminal as its serial port, and passes it on',
    async () => {
      const part = glazeRoom()
      const program = await run(part)
      const [link] = part.links
      const serial = program.info().serialPorts[link?.id ?? '']
      if (!link || !serial) throw new Error('no serial link')
      const socket = connect(serial.port, '127.0.0.1')
      let heard = ''
      socket.on('data', bytes => (heard += bytes.toString('latin1')))
      const { loadId, codes } = link.messages[0] ?? { loadId: '', codes: {} }
      const on = wireOf(link, Object.values(codes)[0] ?? '', 'command')
      socket.write(on, 'latin1')
      await until(() => value(program, loadId) === 'on')
      await until(() => heard !== '')
      // Its module falls with its power.
      await wall(program, { power: 'cut' })
      await wall(program, { power: 'back' })
      await until(() => value(program, loadId) !== undefined)
      const again = connect(serial.port, '127.0.0.1')
      const off = wireOf(link, Object.values(codes)[1] ?? '', 'command')
      heard = ''
      again.on('data', bytes => (heard += bytes.toString('latin1')))
      await until(() => {
        again.write(off, 'latin1')
        return heard !== '' && value(program, loadId) === 'off'
      })
      again.destroy()
    },
  )

  it.runIf(canRun('a terminal for the program and a box', { socat: has('socat') }))(
    'boxes beside it ask over its own ports, a remote is heard',
    async () => {
      const program = await run(boxed())
      const is = (load: string, to: string) => until(() => value(program, load) === to)
      const lamps = async () => {
        const stream = await fetch(`${program.info().address}/_wall/events`)
        for await (const piece of stream.body as unknown as AsyncIterable<Uint8Array>)
          return JSON.parse(Buffer.from(piece).toString().slice(5)).lamps as Record<string, boolean>
        return {}
      }
      const [http, udp, wire] = ['fan-button-2', 'fan-button-3', 'fan-button-4']
      const linked = () => until(async () => Object.values(await lamps()).every(Boolean))
      await is('fan', 'off')
      await linked()
      expect(await wall(program, { controlId: http })).toBe('204')
      await is('fan', 'on')
      expect(await wall(program, { controlId: udp })).toBe('204')
      await is('fan', 'off')
      expect(await wall(program, { controlId: wire })).toBe('204')
      await is('fan', 'on')
      expect(await wall(program, { sensorId: 'knob', detents: 2 })).toBe('204')
      await is('lamp', '50')
      expect(await wall(program, { sensorId: 'eye', key: 0 })).toBe('204')
      await is('fan', 'off')
      const said = program.traffic.map(t => `${t.linkId} ${t.dir} ${t.text.trim()}`)
      expect(said).toEqual(
        expect.arrayContaining([
          'web-box-link up /box/flip',
          'air-box-link up udp flip',
          'cable-box-link up wire flip',
        ]),
      )
      for (const [deed, words] of [
        [{ controlId: 'nothing' }, 'no such hand control'],
        [{ sensorId: 'eye', key: 7 }, 'no such remote, or no such key'],
        [{ sensorId: 'knob', detents: 99 }, 'no such knob, or no such turn'],
      ] as const)
        expect(await wall(program, deed)).toBe(`404 ${words}`)

      await wall(program, { power: 'cut' })
      await until(async () => !Object.values(await lamps()).some(Boolean))
      for (const controlId of [http, udp, wire]) await wall(program, { controlId })
      await wall(program, { power: 'back' })
      await is('fan', 'off')
      await linked()
      // What was asked of nobody is not asked late.
      expect(value(program, 'fan')).toBe('off')
      await wall(program, { controlId: wire })
      await is('fan', 'on')
      await wall(program, { controlId: http })
      await is('fan', 'off')
    },
  )

  it('is called off while it is made, and says what the compiler says', async () => {
    const other = new Maker(join(root, 'called-off'))
    const program = await started(browser, other)
    expect(program.info().phase).toBe('making')
    expect(await get(program, '/state')).toBe('503 the board does not answer')
    await program.close()
    // Nobody waited until it was made.
    expect((program as unknown as { phase: string }).phase).toBe('making')
    const files = serviceFolder(onComputer(browser), 'nolvi').map(f =>
      f.path === 'src/design.cpp' ? { ...f, text: `${f.text}\nnot a program` } : f,
    )
    const signal = new AbortController().signal
    await expect(maker.make(files, 'nolvi', signal, () => 1)).rejects.toThrow(/design\.cpp/)
  })

  it('is made anew where only the design differs, with what was compiled before', async () => {
    const signal = new AbortController().signal
    const files = (design: Design) => serviceFolder(onComputer(design), 'nolvi')
    const renamed = { ...browser, name: 'Another room' }
    const mine = new Maker(join(root, 'twice'))
    await mine.make(files(browser), 'nolvi', signal, path => expect(existsSync(path)).toBe(true))
    await mine.make(files(renamed), 'nolvi', signal, path => expect(existsSync(path)).toBe(true))
    expect(readdirSync(join(root, 'twice'))).toHaveLength(1)
  })

  it('that ends by itself says why', async () => {
    const program = await run(browser)
    const pid = (program as unknown as { running: { child: { pid: number } } }).running.child.pid
    process.kill(pid, 'SIGKILL')
    await until(() => program.info().phase === 'ended')
    expect(program.info().words).not.toBe('')
    expect(await get(program, '/state')).toBe('503 the board does not answer')
  })
})

describe('what cannot be run here', () => {
  it('says why', () => {
    expect(whyNotHere(starter())).toMatch(/emulated board/)
    const corridor = kilnCorridor()
    expect(whyNotHere(partOf(corridor, corridor.controllers[0]?.id ?? ''))).toBeNull()
  })
})
