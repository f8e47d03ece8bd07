/**
 * The program of a board in front before a stand-in of the board behind it, with the wire between
 * them: asked the same as a stand-in that has the network itself, it answers the same.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { createSocket, type Socket } from 'node:dgram'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { handSurfaces } from '../../../core/design/find'
import { speaksRoutes } from '../../../core/design/links/traits'
import { newLink } from '../../../core/design/links/rows'
import { derivedFrom, partOf } from '../../../core/design/part'
import type { Design } from '../../../core/design/schema'
import { frontPart, lampLine, lampsOnWire } from '../../../core/sides/program/front'
import { frontWire, FRONT_WIRE } from '../../../core/sides/front-wire'
import { serviceFolder } from '../../../core/sides/program/service'
import { practiceSecret } from '../../../core/messages/sealing'
import { seededRandom } from '../../../core/units/random'
import { SerialPort } from '../../../server/live/serial-port'
import { StandIn } from '../../../server/live/stand-in'
import { glazeRoom, kilnCorridor } from '../../fixtures/designs'
import { ask, Listening, until, type Answer } from '../../fixtures/network-board/client'
import { onComputer } from '../../../core/sides/program/on-computer'
import { canRun, has, putFiles } from '../../fixtures/tools'

/** Requests at random beside those of the list. */
const ROUNDS = Number(process.env.NOLVI_ROUNDS ?? 150)
const there = canRun('the program of a board in front', {
  'g++': has('g++'),
  make: has('make'),
  socat: has('socat'),
})
const ROUTES = [
  '/state',
  '/fan/on',
  '/fan/on',
  '/fan/toggle',
  '/fan/toggle',
  '/lights?level=37',
  '/lights?level=50',
  '/lights?level=999',
  '/state',
  '/lights/up',
  '/extractor/on',
  '/extractor/off',
  '/extractor/for',
  '/extractor/for?ms=60000',
  '/extractor/for/60000',
  '/all-off',
  '/state',
  '/nothing',
]

/** The glaze room with a dimmed load, limits, times, a scene, and routes that say so. */
function design(): Design {
  const made = partOf(structuredClone(glazeRoom()), 'board')
  const [extractor, lights] = made.loads
  Object.assign(extractor!.output, {
    timers: { onDelayMs: 1000, offDelayMs: 60_000, blinkMs: 500 },
    limits: { minOnMs: 60_000, minOffMs: 0, longestOnMs: 0, tooSoon: 'refuse' },
  })
  lights!.output = {
    kind: 'level',
    pin: 6,
    activeLevel: 'high',
    drive: 'pwm',
    powerUp: 'off',
    saveDelayMs: 2000,
    stops: [0, 50, 100],
    step: 1,
    rampMs: 0,
    minimum: 0,
    below: 'off',
  }
  const scene = 'all-off'
  made.scenes = [
    {
      id: scene,
      name: 'All off',
      sets: [
        { loadId: 'wheel-lights', value: '0' },
        { loadId: 'cupboard-fan', value: 'off' },
      ],
    },
  ]
  const link = made.links.find(speaksRoutes)!
  link.messages = link.messages.map(m => ({ ...m, change: true }))
  const [ofExtractor, ofLights, ofFan] = link.messages
  Object.assign(ofExtractor!.codes, { for: '/extractor/for' })
  ofLights!.codes = { 0: '', 50: '', 100: '', number: '/lights?level={value}', up: '/lights/up' }
  Object.assign(ofFan!.codes, { toggle: '/fan/toggle' })
  link.scenes = { [scene]: '/all-off' }
  link.auth = { kind: 'pin', digits: 4 }
  link.numbered = { windowMs: 20_000 }
  const desk = newLink('udp', 'desk', 'Desk', 'board')
  desk.messages = [
    { loadId: 'cupboard-fan', ack: true, change: true, codes: FAN },
    { loadId: 'booth-extractor', ack: true, change: true, codes: EXTRACTOR },
    { loadId: 'wheel-lights', ack: true, change: false, codes: LIGHTS },
  ]
  Object.assign(desk, { errorText: 'too soon', helloCode: 'hello', restartMark: 'started' })
  made.links = [link, desk]
  made.sensors = kilnCorridor().sensors.filter(s => s.id !== 'corridor')
  const often = { deadBand: 0, leastMs: 0, everyMs: 0 }
  link.readings = [
    { sensorId: 'kiln-room', route: '/kiln', ...often },
    { sensorId: 'water-butt', route: '/water', ...often },
  ]
  const lamp = { pin: 13, activeLevel: 'high' } as const
  made.controllers[0]!.lamps = [
    { id: 'in-net', name: 'In the net', shows: 'network', ...lamp },
    { id: 'waits', name: 'Waits', shows: 'waiting', ...lamp },
    { id: 'office-on', name: 'Office', shows: 'link', linkId: link.id, ...lamp },
    { id: 'desk-on', name: 'Desk', shows: 'link', linkId: desk.id, ...lamp },
  ]
  made.surfaces = made.surfaces.filter(s => s.kind === 'hand')
  for (const { controls } of handSurfaces(made))
    for (const c of controls) if (c.loadId === 'wheel-lights') Object.assign(c, { asks: 'next' })
  return made
}

/** How an answer to "who is there" begins. */
const GREETING = '+hello '

const EXTRACTOR = { on: 'extractor on', off: 'extractor off' }
const LIGHTS = { 0: '', 50: '', 100: '', number: 'lights {value}', up: 'lights up' }
const FAN = { on: 'fan on', off: 'fan off', toggle: 'fan toggle' }

const FLAGS = '-O1 -g -Wconversion -Wshadow -Werror -fsanitize=address,undefined'

/** What stands behind: the wire, and nothing of the network. Lines of lamps do nothing there. */
function behind(part: Design): Design {
  const told = lampsOnWire(part).flatMap(({ lamp }) =>
    [false, true].map(on => ({ id: `${lamp.id}-${on}`, line: lampLine(lamp, on) })),
  )
  const scenes = Object.fromEntries(told.map(t => [t.id, t.line]))
  return derivedFrom(part, {
    ...part,
    front: null,
    controllers: part.controllers.map(c => ({ ...c, lamps: [] })),
    scenes: told.map(({ id }) => ({ id, name: id, sets: [] })),
    links: [{ ...frontWire(part)!, scenes }],
    surfaces: part.surfaces.filter(s => s.kind === 'hand'),
  })
}

describe.skipIf(!there)('a board in front', () => {
  const place = mkdtempSync(join(tmpdir(), 'nolvi-front-'))
  const part = design()
  const PIN = practiceSecret(part.links[0]!)
  const KEY = `key=${PIN}`
  let whole: StandIn
  let relays: StandIn
  let front: ChildProcess
  let port = 0
  let udp = 0
  /** What the board behind was told. */
  const onWire: string[] = []
  const compile = () => {
    const made = spawnSync('make', ['-j2', `CXXFLAGS=${FLAGS}`], { cwd: place, encoding: 'utf8' })
    expect(made.stderr.split('\n').filter(l => /: (error|warning)/.test(l))).toEqual([])
  }
  beforeAll(() => {
    putFiles(place, serviceFolder(onComputer(frontPart(part) as Design), 'front'))
    compile()
  })
  afterAll(() => rmSync(place, { recursive: true, force: true }))

  beforeEach(async () => {
    onWire.length = 0
    const { open } = SerialPort
    vi.spyOn(SerialPort, 'open').mockImplementation((host, name, events, most) => {
      const heard = (text: string) => {
        onWire.push(text)
        events.heard(text)
      }
      return open.call(SerialPort, host, name, { ...events, heard }, most)
    })
    whole = new StandIn('whole', { ...part, front: null }, 1)
    relays = new StandIn('behind', behind(part), 1)
    await whole.listen('127.0.0.1', [])
    await relays.listen('127.0.0.1', [])
    writeFileSync(
      join(place, 'test.conf'),
      `tree = .\nstate = state\naddress = 127.0.0.1\nhttp = 0\nudp = 0\ncontrol = 1\nsecret office-link = ${PIN}\nserial ${FRONT_WIRE} = ${relays.info().serialPorts[FRONT_WIRE]?.path}\n`,
    )
    await start()
  })
  const start = async () => {
    front = spawn(join(place, 'build/front'), ['test.conf'], { cwd: place })
    front.stderr?.on('data', text => console.error(String(text)))
    const lines = createInterface({ input: front.stdout! })[Symbol.asyncIterator]()
    const opened = async () => (await lines.next()).value?.split(' ') ?? []
    for (const [what, at] of [await opened(), await opened()])
      if (what === 'http') port = Number(at)
      else udp = Number(at)
  }
  afterEach(async () => {
    vi.restoreAllMocks()
    front.kill()
    await whole.close()
    await relays.close()
  })

  const request = (path: string) => `GET ${path} HTTP/1.0\r\nhost: 127.0.0.1\r\n\r\n`
  const told = ({ status, headers, body }: Answer) => [status, headers['content-type'], body]
  const both = async (path: string) => {
    const at = Number(new URL(whole.info().address).port)
    return {
      front: told(await ask(port, request(path))),
      whole: told(await ask(at, request(path))),
    }
  }

  /** Asked until it knows how the board behind is. */
  const up = async () => {
    for (let n = 0; n < 100; n++) {
      if ((await ask(port, request('/state'))).status !== 503) return
      await new Promise(done => setTimeout(done, 50))
    }
    throw new Error('the board behind was not heard')
  }
  const wall = (at: number, body: unknown) => {
    const text = JSON.stringify(body)
    return ask(
      at,
      `POST /_wall HTTP/1.1\r\nhost: 127.0.0.1\r\ncontent-type: application/json\r\ncontent-length: ${text.length}\r\nconnection: close\r\n\r\n${text}`,
    )
  }
  const portOf = (standIn: StandIn) => Number(new URL(standIn.info().address).port)

  /** The first request at random that is answered otherwise; null where none is. */
  const difference = async (rounds: number, seen = new Set<unknown>()) => {
    await up()
    const random = seededRandom(1)
    const any = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)] as T
    const routes = [...ROUTES, ...Array.from({ length: rounds }, () => any(ROUTES))]
    for (const route of routes) {
      const number = any(['', '', `no=${1 + Math.floor(random.next() * 4)}`])
      const key = random.next() < 0.97 ? KEY : any(['key=9999', ''])
      const behind = [number, key].filter(Boolean).join('&')
      const path = behind ? `${route}${route.includes('?') ? '&' : '?'}${behind}` : route
      const { front: is, whole: wanted } = await both(path)
      if (JSON.stringify(is) !== JSON.stringify(wanted)) return { path, is, wanted }
      seen.add(wanted[0])
    }
    return null
  }
  /** A program with a wrong in it. */
  const spoilt = async (file: string, is: string, becomes: string, then: () => Promise<void>) => {
    const path = join(place, 'src', file)
    const text = readFileSync(path, 'utf8')
    expect(text.split(is).length, 'stands there once').toBe(2)
    try {
      front.kill()
      writeFileSync(
        path,
        text.replace(is, () => becomes),
      )
      compile()
      await start()
      await then()
    } finally {
      writeFileSync(path, text)
      compile()
    }
  }
  it('answers as whoever has the network itself', async () => {
    const seen = new Set<unknown>()
    expect(await difference(ROUNDS, seen)).toBeNull()
    expect([...seen]).toEqual(expect.arrayContaining([200, 403, 404, 409]))
  })
  it.each([
    ['mirrors.cpp', 'is.refused |= ', 'is.refused &= '],
    ['mirrors.cpp', 'if (isTimer(ask.kind) && ask.ms) {', 'if (isTimer(ask.kind)) {'],
    ['mirrors.cpp', 'if (ask.kind == ASKS_VALUE) passNumber', 'if (!load && !wire) passNumber'],
    ['mirrors.cpp', 'behind().answered - ticket) >= 0', 'behind().answered - ticket) >= -1'],
    ['mirrors.cpp', 'for (Value n = 0; n < times; n++)', 'for (Value n = 1; n < times; n++)'],
    ['hearing.cpp', 'behind().said = true;\n    behind().held', 'behind().held'],
  ])('a wrong in %s is found: %s', async (file, is, becomes) => {
    await spoilt(file, is, becomes, async () => {
      expect(await difference(ROUNDS)).not.toBeNull()
    })
  })

  /** What both tell of the same texts; each is said when the one before had so many answers. */
  const inDatagrams = async (said: readonly (readonly [text: string, answers: number])[]) => {
    await up()
    const heard: string[][] = [[], []]
    const ports = [udp, whole.info().datagramPorts.desk ?? 0]
    const sockets = await Promise.all(ports.map(() => bound()))
    sockets.forEach((s, i) => s.on('message', m => heard[i]?.push(m.toString('latin1'))))
    for (const [text, answers] of said) {
      const had = heard.map(h => h.length)
      sockets.forEach((s, i) => s.send(`${text}\n`, ports[i] ?? 0, '127.0.0.1'))
      await until(() => heard.every((h, i) => h.length >= (had[i] ?? 0) + answers))
    }
    for (const socket of sockets) socket.close()
    const [byFront = [], byWhole = []] = heard
    return { byFront, byWhole }
  }
  it('acknowledges what came in a datagram when it is done', async () => {
    const texts = ['fan on', 'fan on', 'fan toggle', 'fan off', '?', 'hello']
    const { byFront, byWhole } = await inDatagrams([
      ...texts.map(text => [text, 1] as const),
      // Once on it has to stay on for a while: "too soon", and how it is.
      ['extractor on', 1],
      ['extractor off', 2],
      ['nonsense', 1],
    ])
    expect(byFront.join()).toContain('too soon')
    expect(byFront).toEqual(byWhole)
  })

  /** What a sender that has just started says first of a level is where it stands. */
  const STARTED = [
    ['lights 30', 1],
    ['started', 0],
    ['fan on', 1],
    ['lights 80', 1],
    ['?', 1],
    ['lights 80', 1],
    ['started', 0],
    ['lights up', 1],
    ['?', 1],
    ['lights up', 1],
  ] as const
  it('adopts what a sender says first that has just started', async () => {
    const { byFront, byWhole } = await inDatagrams(STARTED)
    expect(byFront).toEqual(byWhole)
    expect(byFront.join('').match(/lights \d+/g)).toEqual(
      [30, 30, 30, 80, 80, 80, 100].map(level => `lights ${level}`),
    )
  })
  it.each([
    ['kind == LEVEL || kind == CHOICE', 'kind == CHOICE'],
    ['!(adopts && standsBehind(load))', '!standsBehind(load)'],
  ])('a wrong in what is adopted is found: %s', async (is, becomes) => {
    await spoilt('hearing.cpp', is, becomes, async () => {
      // What is not told is waited for in vain.
      const same = inDatagrams(STARTED).then(came => came.byFront.join() === came.byWhole.join())
      expect(await same.catch(() => false)).toBe(false)
    })
  })

  it('takes no answer that comes late for that of another question', async () => {
    await up()
    const say = SerialPort.prototype.send
    const late: (() => void)[] = []
    let greetings = 0
    const spy = vi.spyOn(SerialPort.prototype, 'send').mockImplementation(function (
      this: SerialPort,
      text: string,
    ) {
      if (text.startsWith(GREETING)) greetings++
      late.push(() => say.call(this, text))
    })
    const socket = await bound()
    const heard: string[] = []
    socket.on('message', m => heard.push(m.toString('latin1')))
    try {
      await wall(portOf(relays), { power: 'cut' })
      await wall(portOf(relays), { power: 'back' })
      // It asked once more before the first answer came, and asks for all of a board that is new.
      await until(() => greetings >= 2)
      for (const answer of late.splice(0)) answer()
      await until(() => greetings >= 3)
      // Asked before the last answer came, it says that it cannot know.
      const told = late.length
      const asked = ask(port, request(`/fan/on?${KEY}`))
      await Promise.race([asked, until(() => late.length > told)])
      for (const answer of late.splice(0, told)) answer()
      expect((await asked).status).toBe(503)
      for (const answer of late.splice(0)) answer()
    } finally {
      spy.mockRestore()
    }
    await up()
    socket.send('fan on\n', udp, '127.0.0.1')
    await until(() => heard.length > 0)
    expect(heard).toEqual(['+fan on\n'])
    socket.close()
  })

  it('tells what happens behind it, and a refusal of the board behind', async () => {
    await up()
    const listening = new Listening(port, request('/events'))
    await listening.open
    await wall(portOf(relays), { controlId: 'lights-button', down: true })
    await wall(portOf(relays), { controlId: 'lights-button', down: false })
    await until(() => listening.came.includes('data: wheel-lights=50'))
    expect((await ask(port, request(`/extractor/on?${KEY}`))).status).toBe(200)
    expect((await ask(port, request(`/extractor/off?${KEY}`))).status).toBe(409)
    await listening.close()
  })

  it('tells what sensors behind it tell, and forgets it when that board starts anew', async () => {
    await up()
    const listening = new Listening(port, request('/events'))
    await listening.open
    const same = async (path: string) => {
      let last = await both(path)
      for (let n = 0; n < 40 && JSON.stringify(last.front) !== JSON.stringify(last.whole); n++) {
        await new Promise(done => setTimeout(done, 50))
        last = await both(path)
      }
      expect(last.front).toEqual(last.whole)
      return last.front
    }
    const sense = async (sensorId: string, raw: number) => {
      for (const standIn of [whole, relays]) await wall(portOf(standIn), { sensorId, raw: [raw] })
    }
    for (const [sensorId, raw, path, text] of [
      ['kiln-room', 215, '/kiln', '21.5'],
      ['kiln-room', -55, '/kiln', '-5.5'],
      ['kiln-room', 0, '/kiln', '0'],
      ['water-butt', 0b111, '/water', '100'],
      ['water-butt', 0b101, '/water', 'broken'],
    ] as const) {
      await sense(sensorId, raw)
      expect((await same(path))[2]).toBe(`${text}\n`)
      await until(() => listening.came.includes(`data: ${sensorId}=${text}\n`))
    }
    await same('/state')
    await wall(portOf(relays), { power: 'cut' })
    await wall(portOf(relays), { power: 'back' })
    await sense('kiln-room', 300)
    await up()
    await until(() => listening.came.includes('data: kiln-room=30\n') || listening.closed)
    expect((await same('/kiln'))[2]).toBe('30\n')
    await listening.close()
  })

  const lampsAreTold = async () => {
    await up()
    const lamps = (id: string) =>
      onWire
        .join('')
        .split('\n')
        .filter(line => line.startsWith(`!${id} `))
        .map(line => line.at(-1))
        .filter((is, i, all) => is !== all[i - 1])
        .join('')
    await until(() => lamps('in-net') === '01')
    expect(lamps('office-on')).toBe('0')
    const listening = new Listening(port, request('/events'))
    await listening.open
    await until(() => lamps('office-on') === '01')
    await listening.close()
    await until(() => lamps('office-on') === '010')
    // Nobody is there over datagrams: what is heard shines for a moment.
    const socket = await bound()
    socket.send('?\n', udp, '127.0.0.1')
    await until(() => lamps('desk-on') === '010')
    socket.close()
    expect(lamps('waits')).toBe('')
    // Told each second, for a board behind that starts.
    const told = onWire.length
    await until(() => onWire.slice(told).join('').includes('!in-net 1'))
  }
  it('tells lamps of the board behind what only it knows', () => lampsAreTold())
  it.each([
    ['state.lamps[lamp].on ? 1 : 0', 'state.lamps[lamp].on ? 0 : 1'],
    ['for (uint8_t i = 0; i < countOf(LAMPS); i++) lightBehind(i);', ''],
  ])('a wrong in what lamps are told is found: %s', async (is, becomes) => {
    await spoilt('mirrors.cpp', is, becomes, () => expect(lampsAreTold()).rejects.toThrow())
  })

  it('answers for nobody who is silent, and goes on when it is heard again', async () => {
    await up()
    const listening = new Listening(port, request('/events'))
    await listening.open
    await wall(portOf(relays), { power: 'cut' })
    expect((await ask(port, request(`/fan/on?${KEY}`))).status).toBe(503)
    expect((await ask(port, request('/state'))).status).toBe(503)
    await until(() => listening.closed)
    await wall(portOf(relays), { power: 'back' })
    await up()
    expect((await ask(port, request(`/fan/on?${KEY}`))).body).toBe('cupboard-fan=1\n')
  })
})

function bound(): Promise<Socket> {
  const socket = createSocket('udp4')
  return new Promise(done => socket.bind(0, '127.0.0.1', () => done(socket)))
}
