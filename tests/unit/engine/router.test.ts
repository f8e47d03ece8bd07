/**
 * The script of a router on BusyBox's ash, with a tree of files that imitates its lines: as `step`
 * has it, whatever is typed.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { afterEach, describe, expect, it } from 'vitest'
import { compileController } from '../../../core/controller/program'
import { startController, step, type ControllerState } from '../../../core/controller/step'
import type { Design } from '../../../core/design/schema'
import { bodyOf, endOf } from '../../../core/design/wire'
import { commands } from '../../../core/messages/table'
import { canProgram } from '../../../core/sides/program/can-program'
import { routerFolder, routerLacks } from '../../../core/sides/program/router'
import { seededRandom } from '../../../core/units/random'
import { scenarios } from '../../fixtures/engine-board/corpus'
import { DIALECTS, edited, fanDesign, over, speaking } from '../../fixtures/designs'
import { canRun, has } from '../../fixtures/tools'

const there = canRun('the script of a router', { busybox: has('busybox') })
const places: string[] = []
const running: ChildProcess[] = []
afterEach(() => {
  for (const child of running.splice(0)) child.kill()
  for (const place of places.splice(0)) rmSync(place, { recursive: true, force: true })
})

/** A router with files for lines; those of `inverted` loads lie behind a transistor. */
class Router {
  readonly place = mkdtempSync(join(tmpdir(), 'nolvi-router-'))

  constructor(
    readonly design: Design,
    private readonly inverted: readonly string[] = [],
  ) {
    places.push(this.place)
    for (const { path, text } of routerFolder(design)) writeFileSync(join(this.place, path), text)
    mkdirSync(join(this.place, 'lines'))
    const pins = design.loads.map(({ id }) => {
      const file = this.lineOf(id)
      mkdirSync(join(file, '..'))
      writeFileSync(file, '0\n')
      writeFileSync(join(file, '../direction'), 'in\n')
      return `pin ${id} = ${file}${inverted.includes(id) ? ' inverted' : ''}`
    })
    writeFileSync(
      join(this.place, 'nolvi.conf'),
      [`run = ${this.place}/run`, `kept = ${this.place}/kept`, ...pins, ''].join('\n'),
    )
  }

  private lineOf(loadId: string): string {
    return join(this.place, 'lines', loadId, 'value')
  }

  start(): void {
    const { status, stderr } = spawnSync(
      'busybox',
      ['ash', join(this.place, 'nolvi.sh'), 'start'],
      {
        encoding: 'utf8',
      },
    )
    expect(stderr).toBe('')
    expect(status).toBe(0)
  }

  /** What a session says to lines that are typed, all at once. */
  typed(lines: readonly string[]): string {
    const { status, stdout, stderr } = spawnSync(
      'busybox',
      ['ash', join(this.place, 'nolvi.sh'), 'console'],
      { encoding: 'latin1', input: Buffer.from(lines.map(l => `${l}\n`).join(''), 'latin1') },
    )
    expect(stderr).toBe('')
    expect(status).toBe(0)
    return stdout
  }

  session(): { says: string[]; type: (line: string) => void; end: () => void } {
    const child = spawn('busybox', ['ash', join(this.place, 'nolvi.sh'), 'console'])
    running.push(child)
    const says: string[] = []
    createInterface({ input: child.stdout }).on('line', line => says.push(line))
    return {
      says,
      type: line => child.stdin.write(`${line}\n`, 'latin1'),
      end: () => child.stdin.end(),
    }
  }

  /** As a relay behind the line sees it. */
  isOn(loadId: string): boolean {
    const level = readFileSync(this.lineOf(loadId), 'utf8').trim() === '1'
    const output = this.design.loads.find(l => l.id === loadId)?.output as { activeLevel: string }
    const high = level !== this.inverted.includes(loadId)
    return high === (output.activeLevel === 'high')
  }
}

/** What a controller says and does that hears the same, one line after another. */
function stepped(design: Design, lines: readonly string[]): { says: string; values: string[] } {
  const program = compileController(design)
  let state: ControllerState = startController(program)
  let says = ''
  let now = 0
  const handle = (event: Parameters<typeof step>[2]) => {
    const came = step(program, state, event)
    state = came.state
    for (const e of came.effects) if (e.kind === 'send') says += e.text
    if (came.effects.some(e => e.kind === 'save')) handle({ kind: 'memoryDone', now })
  }
  handle({ kind: 'boot', now, levels: [] })
  handle({ kind: 'linkUp', now, link: 0 })
  const end = endOf(design.links[0]!)
  for (const line of lines)
    handle({ kind: 'received', now: (now += 1000), link: 0, text: line + end })
  return { says, values: state.value as string[] }
}

/** The same without what a script does not do; null where nothing is left of it. */
function scripted(given: Design): Design | null {
  const link = given.links.find(l => l.kind !== 'http')
  if (!link) return null
  const alone = { ...given, links: [link], surfaces: [], scenes: given.scenes, front: null }
  let design: Design
  try {
    design = onRouter(over(alone, 'shell'))
  } catch {
    return null
  }
  return canProgram(design) && routerLacks(design).length === 0 ? design : null
}

/** The line that asks the first load for something. */
function asks(design: Design, value: string): string {
  const link = design.links[0]!
  const code = commands(design, link).find(c => c.value === value)?.code ?? ''
  return bodyOf(link, code, 'command')
}

const onRouter = (design: Design): Design => ({
  ...design,
  surfaces: [],
  controllers: design.controllers.map((c, i) => (i === 0 ? { ...c, board: 'board-router' } : c)),
})

describe.skipIf(!there)('the script of a router', () => {
  const fan = () => onRouter(over(speaking(fanDesign(), DIALECTS.lines!), 'shell'))

  it('does with whatever is typed what a controller does', () => {
    const design = fan()
    const link = design.links[0]!
    const { next } = seededRandom(5)
    const codes = [
      ...commands(design, link).map(c => c.code),
      ...('askCode' in link ? [link.askCode, link.helloCode] : []),
    ]
      .map(code => bodyOf(link, code, 'command'))
      .concat(['nonsense', '$(reboot)', '`reboot`', '; rm -rf /', '*', '\\', '-n', '%s%s', 'a\tb'])
    for (let run = 0; run < 6; run++) {
      const lines = Array.from(
        { length: 25 },
        () => codes[Math.floor(next() * codes.length)] as string,
      )
      const router = new Router(design)
      router.start()
      const reference = stepped(design, lines)
      expect(router.typed(lines)).toBe(reference.says)
      expect(design.loads.map(l => (router.isOn(l.id) ? 'on' : 'off'))).toEqual(reference.values)
    }
  })

  it('plays the scenarios that apply', () => {
    let count = 0
    for (const scenario of scenarios()) {
      const design = scripted(scenario.design)
      if (!design) continue
      const link = design.links[0]!
      const lines = commands(design, link).flatMap(c =>
        Array<string>(2).fill(bodyOf(link, c.code, 'command')),
      )
      const router = new Router(design)
      router.start()
      const reference = stepped(design, lines)
      expect(router.typed(lines), scenario.title).toBe(reference.says)
      expect(design.loads.map(l => (router.isOn(l.id) ? 'on' : 'off'))).toEqual(reference.values)
      count++
    }
    console.info(`${count} designs of scenarios`)
    expect(count).toBeGreaterThan(5)
  })

  it('turns round what a transistor turns round, and is as it was after a restart', () => {
    const plain = fan()
    const design = edited(plain, {
      type: 'setOutput',
      loadId: plain.loads[0]!.id,
      patch: { powerUp: 'last' },
    } as never)
    const id = design.loads[0]!.id
    const on = asks(design, 'on')
    const router = new Router(design, [id])
    router.start()
    expect(router.isOn(id)).toBe(false)
    // The level came with the direction.
    expect(readFileSync(join(router.place, 'lines', id, 'direction'), 'utf8').trim()).toBe('low')
    router.typed([on])
    expect(router.isOn(id)).toBe(true)
    rmSync(join(router.place, 'run'), { recursive: true })
    router.start()
    expect(router.isOn(id)).toBe(true)
  })

  it('tells one session what another did, and ends with its own', async () => {
    const design = fan()
    const router = new Router(design)
    router.start()
    const on = asks(design, 'on')
    const [one, two] = [router.session(), router.session()]
    await expect.poll(() => one.says.length + two.says.length).toBeGreaterThan(1)
    const before = two.says.length
    one.type(on)
    await expect.poll(() => two.says.length).toBe(before + 1)
    expect(two.says.at(-1)).toBe(one.says.at(-1))
    one.end()
    two.end()
  })
})
