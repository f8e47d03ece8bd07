/**
 * Commissioned for real: a design of four loads through a pair of terminals, and through its own
 * program that was compiled here. A made-up person presses and looks at pins; the rest ticks
 * itself, and what is disturbed is named.
 */
import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { SerialPort } from 'serialport'
import { afterAll, afterEach, describe, expect, it } from 'vitest'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { fingerprint } from '../../../core/design/fingerprint'
import { partOf } from '../../../core/design/part'
import type { Design, HttpLink } from '../../../core/design/schema'
import { restOf } from '../../../core/design/values'
import { STEP_MS } from '../../../core/live/against'
import type { Prints } from '../../../core/live/causes'
import type { Commissioning } from '../../../core/live/commissioning/record'
import type { Step } from '../../../core/live/commissioning/steps'
import { Twin } from '../../../core/live/twin'
import { Commissioner } from '../../../server/live/commissioner'
import { Desk } from '../../../server/live/desk'
import { OPEN } from '../../../server/live/front'
import { Maker } from '../../../server/live/maker'
import { OwnProgram } from '../../../server/live/own-program'
import { Trier } from '../../../server/live/trier'
import { openHttpWire } from '../../../server/live/wires/http-wire'
import { openSerialWire } from '../../../server/live/wires/serial-wire'
import { openSocketWire } from '../../../server/live/wires/socket-wire'
import type { Wire, WireEvents } from '../../../server/live/wires/wire'
import { DIALECTS, edited, glazeRoom, patient, speaking, tellingAll } from '../../fixtures/designs'
import { canRun, has } from '../../fixtures/tools'

const folder = mkdtempSync(join(tmpdir(), 'nolvi-commissioned-'))
const open: { close: () => unknown }[] = []
afterEach(async () => {
  for (const one of open.splice(0).reverse()) await one.close()
  delete process.env.NOLVI_SERIAL
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A link that did not come up is tried again after ever longer pauses. */
async function until(what: string, so: () => boolean): Promise<void> {
  const end = performance.now() + 300_000
  while (!so()) {
    if (performance.now() > end) throw new Error(`in vain: ${what}`)
    await new Promise(done => setTimeout(done, 10))
  }
}

/** Four loads; the phone's link speaks lines, and the board says who it is. */
function room(): Design {
  const plain = speaking(glazeRoom(), { ...DIALECTS.lines!, template: '{load} {value}' } as never)
  return edited(
    patient(tellingAll(plain)),
    { type: 'setLink', linkId: 'apron-link', patch: { helloCode: 'hello' } } as never,
    { type: 'setLink', linkId: 'office-link', patch: { helloRoute: '/hello' } } as never,
  )
}

/** What stands before the desk: a board with pins, and hands for it. */
interface House {
  value: (loadId: string) => string
  press: (controlId: string) => Promise<void> | void
  restart: () => Promise<void> | void
}

let many = 0
function connected(
  design: Design,
  wires: Record<string, (e: WireEvents) => Wire>,
  prints: Prints = {},
): Desk {
  const desk = new Desk(design)
  desk.prints = prints
  open.push({ close: () => desk.closeAll() })
  for (const [linkId, opens] of Object.entries(wires))
    desk.open({
      id: `c-${++many}`,
      design,
      revision: 1,
      linkId,
      where: 'a test',
      options: {},
      opens,
    })
  return desk
}

/** So long a person looks before saying that nothing moved. */
const LOOKS_MS = 4000

/** Goes through the run as a person would; returns what was kept last. */
async function gone(
  desk: Desk,
  design: Design,
  house: House,
  { sees = (id: string) => id, inverted = '', last = '' } = {},
): Promise<Commissioning> {
  let kept: Commissioning | null = null
  const run = new Commissioner(
    desk,
    design,
    1,
    null,
    body => {
      kept = structuredClone(body)
      return Promise.resolve()
    },
    5,
  )
  open.push(run)
  const acted = new Map<string, number>()
  const end = performance.now() + 600_000
  for (let view = run.view(); performance.now() < end; view = run.view()) {
    const step = view.current
    if (!step && !view.last) break
    if (view.steps.some(s => s.id === last && s.state)) break
    const [what, id = ''] = (step?.id ?? '').split(' ')
    if (!step) {
      if (view.last?.state === 'differs') run.does({ do: 'next' })
    } else if (step.id === 'failure router' || isAway(desk, step)) run.does({ do: 'left out' })
    else if (view.waitsForReady) run.does({ do: 'ready' })
    else if ((what === 'hand' || what === 'restart') && !acted.has(step.id)) {
      acted.set(step.id, performance.now())
      await (what === 'hand' ? house.press(id) : house.restart())
    } else if (view.question.startsWith('Did it follow')) {
      if (performance.now() - acted.get(step.id)! > LOOKS_MS)
        run.does({ do: 'answer', answer: 'no' })
    } else if (view.question !== '' && view.heard.every(h => h.state !== 'waiting')) {
      const { watch } = step
      const load = design.loads.find(l => l.id === watch?.loadId)
      const isOn = (loadId: string) => house.value(loadId) !== restOf(design.loads[0]!.output)
      const isAsSaid = () =>
        !load || !watch || isOn(sees(load.id)) === (watch.value !== restOf(load.output))
      // Pins are looked at from time to time, and a busy machine moves them late.
      const looked = performance.now()
      do await new Promise(done => setTimeout(done, 260))
      while (!isAsSaid() && performance.now() - looked < LOOKS_MS)
      if (!load || !watch) run.does({ do: 'answer', answer: 'yes' })
      else if (load.id === inverted) run.does({ do: 'answer', answer: 'opposite' })
      else if (isAsSaid()) run.does({ do: 'answer', answer: 'yes' })
      else {
        const other = design.loads.find(l => l.id !== load.id && isOn(l.id))
        if (other) run.does({ do: 'answer', answer: 'another', otherId: other.id })
        else run.does({ do: 'answer', answer: 'no' })
      }
    }
    await new Promise(done => setTimeout(done, 15))
  }
  await until('the last result is kept', () => kept !== null)
  return kept!
}
/** Over a link that nobody connects nothing is pressed here. */
const isAway = (desk: Desk, { id, deed }: Step) =>
  (id.startsWith('link ') && desk.byLink(id.slice(5)) === null)
  || (deed !== null && desk.byLink(deed.linkId) === null)
const differing = (c: Commissioning) =>
  c.results.filter(r => r.state === 'differs').map(r => `${r.stepId}: ${r.cause}`)

/** A board in memory at one end of a pair of terminals. */
async function ptyHouse(
  board: Design,
  garble = (bytes: Uint8Array): Uint8Array => bytes,
): Promise<House & { path: string }> {
  const [near, far] = [join(folder, `near-${++many}`), join(folder, `far-${many}`)]
  const child: ChildProcess = spawn('socat', [
    `PTY,link=${near},raw,echo=0`,
    `PTY,link=${far},raw,echo=0`,
  ])
  await until('the terminals are there', () => existsSync(near) && existsSync(far))
  const began = performance.now()
  const now = () => Math.round(performance.now() - began) + 1
  const twin = new Twin(board)
  const port = new SerialPort({ path: far, baudRate: 9600, lock: false })
  const say = (list: { linkId: string; text: string }[]) => {
    for (const { linkId, text } of list)
      if (linkId === 'apron-link') port.write(Buffer.from(garble(textBytes(text))))
  }
  say(twin.boot(now()))
  say(twin.link('apron-link', true, now()))
  const ticking = setInterval(() => {
    while (twin.due !== null && twin.due <= now()) say(twin.tick(twin.due))
  }, 5)
  port.on('error', () => undefined)
  port.on('data', (bytes: Buffer) => say(twin.hears('apron-link', bytesText(garble(bytes)), now())))
  open.push({
    close: async () => {
      clearInterval(ticking)
      await new Promise<void>(done => (port.isOpen ? port.close(() => done()) : done()))
      child.kill('SIGKILL')
    },
  })
  process.env.NOLVI_SERIAL = near
  return {
    path: near,
    value: id => twin.value(id),
    press: async id => {
      say(twin.contact(id, 0, now()))
      await new Promise(done => setTimeout(done, 120))
      say(twin.contact(id, 1, now()))
    },
    restart: async () => {
      twin.cut(now())
      await new Promise(done => setTimeout(done, 100))
      say(twin.boot(now()))
      say(twin.link('apron-link', true, now()))
    },
  }
}

describe.runIf(canRun('commissioning through terminals', { socat: has('socat') }))(
  'through a pair of terminals',
  () => {
    const serial = (path: string) => ({
      'apron-link': (e: WireEvents) => openSerialWire(path, 9600, e),
    })

    it('a board as designed: all that its link tells ticks itself', async () => {
      const design = room()
      const house = await ptyHouse(design)
      const desk = connected(design, serial(house.path))
      await until('it is told', () => desk.links[0]!.live.says[0] !== null)
      const run = await gone(desk, design, house)
      expect(differing(run)).toEqual([])
      const heard = run.results.filter(r => r.heard.some(h => h.state === 'held'))
      expect(heard.length).toBeGreaterThan(12)
      expect(
        run.results.find(r => r.stepId === 'load booth-extractor apron-link on'),
      ).toMatchObject({
        state: 'passed',
        answer: 'yes',
      })
    })

    it('codes that are exchanged, a side that is old', async () => {
      const design = room()
      const swapped = structuredClone(design)
      const messages = swapped.links[0]!.messages
      const [a, b] = ['booth-extractor', 'wheel-lights'].map(id =>
        messages.find(m => m.loadId === id)!,
      )
      const [first, second] = [a!.codes, b!.codes]
      Object.assign(a!, { codes: second })
      Object.assign(b!, { codes: first })
      const house = await ptyHouse(swapped)
      const desk = connected(design, serial(house.path), { [fingerprint(swapped)]: 4 })
      await until('it is told', () => desk.links[0]!.live.hello !== null)
      const found = differing(
        await gone(desk, design, house, { last: 'load wheel-lights apron-link off' }),
      )
      expect(found.find(f => f.startsWith('board'))).toContain('that was revision 4')
      expect(found.find(f => f.startsWith('load booth-extractor apron-link on'))).toContain(
        'Booth extractor moves Wheel lights: the board has another table',
      )
    })

    it('a wrong speed, and a line that is dead', async () => {
      const design = room()
      const garbled = await ptyHouse(design, bytes =>
        bytes.map(x => ((x * 37 + 129) & 0xff) | 0x80),
      )
      const desk = connected(design, serial(garbled.path))
      await until('something comes', () => desk.links[0]!.live.up)
      desk.links[0]!.does(now =>
        desk.links[0]!.live.heard('\u00f8\u0080\u00fc'.repeat(6), 'stream', -1, now),
      )
      const found = differing(
        await gone(desk, design, garbled, { last: 'load booth-extractor apron-link off' }),
      )
      expect(found.find(f => f.startsWith('load booth'))).toMatch(/at 9600 baud/)
      const silent = await ptyHouse(design, () => new Uint8Array())
      const dead = connected(design, serial(silent.path))
      await until('it is up', () => dead.links[0]!.live.up)
      const not = differing(
        await gone(dead, design, silent, { last: 'load booth-extractor apron-link off' }),
      )
      expect(not.find(f => f.startsWith('load booth'))).toMatch(
        /nobody answers.*power of the board/is,
      )
    })
  },
)

describe.runIf(
  canRun('commissioning the program itself', {
    'g++': has('g++'),
    make: has('make'),
    socat: has('socat'),
  }),
)('through the program itself', () => {
  const maker = new Maker(join(folder, 'programs'))
  async function programOf(design: Design): Promise<{ program: OwnProgram; house: House }> {
    const part = partOf(design, design.controllers[0]!.id)
    const program = new OwnProgram(`com-${process.pid}-${++many}`, part, 1, {}, OPEN, maker)
    open.push(program)
    await program.listen('127.0.0.1', [])
    await until('it runs', () => program.info().phase === 'running')
    const wall = (deed: object) =>
      fetch(`${program.info().address}/_wall`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(deed),
      })
    return {
      program,
      house: {
        value: id => program.info().values[id] ?? '',
        press: async id => {
          await wall({ controlId: id, finger: 'down' })
          await new Promise(done => setTimeout(done, 150))
          await wall({ controlId: id, finger: 'up' })
        },
        restart: async () => {
          await wall({ power: 'cut' })
          await new Promise(done => setTimeout(done, 400))
          await wall({ power: 'back' })
        },
      },
    }
  }
  const wires = (design: Design, program: OwnProgram) => ({
    'apron-link': (e: WireEvents) =>
      openSocketWire(
        () => ({ host: '127.0.0.1', port: program.info().serialPorts['apron-link']!.port }),
        e,
      ),
    'office-link': (e: WireEvents) =>
      openHttpWire(
        design.links.find(l => l.id === 'office-link') as HttpLink,
        () => program.info().address,
        e,
      ),
  })

  it('commissioned over both links, and tried against the design', async () => {
    const design = room()
    const { program, house } = await programOf(design)
    const desk = connected(design, wires(design, program))
    await until('both are up', () => desk.links.every(c => c.live.up && c.live.hello !== null))
    const run = await gone(desk, design, house)
    expect(differing(run)).toEqual([])
    expect(STEP_MS).toBeLessThan(50)
    const trier = new Trier(desk, design, {}, () => Promise.resolve())
    open.push(trier)
    await until('all is tried', () => trier.view().isOver)
    const { failed, messages } = trier.view()
    expect(failed.map(f => `${f.words}: ${f.found}`)).toEqual([])
    expect(messages.passed).toBeGreaterThan(20)
  })

  it('an inverted pin and exchanged wires are seen, an old program is named', async () => {
    const design = room()
    const old = edited(design, { type: 'reportOnConnect', linkId: 'apron-link', onConnect: true })
    const { program, house } = await programOf(old)
    const desk = connected(design, wires(design, program), { [fingerprint(old)]: 9 })
    await until('both are up', () => desk.links.every(c => c.live.up && c.live.hello !== null))
    const swap: Record<string, string> = { 'wheel-lights': 'cupboard-fan' }
    const found = differing(
      await gone(desk, design, house, {
        sees: id => swap[id] ?? id,
        inverted: 'rinse-pump',
        last: 'load rinse-pump apron-link off',
      }),
    )
    expect(found.find(f => f.startsWith('board'))).toContain('that was revision 9')
    expect(found.find(f => f.startsWith('load wheel-lights apron-link on'))).toContain(
      'nothing moved: look at the wire',
    )
    expect(found.find(f => f.startsWith('load rinse-pump apron-link on'))).toContain(
      'Rinse pump does the opposite: its line is inverted',
    )
  })
})
