/** The panel page out of the program of a computer: used, cut off, back again, by many at once. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { connect, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { panels } from '../../core/design/find'
import { speaksRoutes } from '../../core/design/links/traits'
import { partOf } from '../../core/design/part'
import type { Design } from '../../core/design/schema'
import { validateDesign } from '../../core/design/validate'
import { serviceFolder } from '../../core/sides/program/service'
import { putFiles } from '../fixtures/tools'

let place = ''
let part: Design
let program: ChildProcess | null = null
let port = 0
const sockets: Socket[] = []

test.beforeAll(() => {
  test.setTimeout(120_000)
  place = mkdtempSync(join(tmpdir(), 'nolvi-program-'))
  const checked = validateDesign(JSON.parse(readFileSync('demo/kiln-corridor.json', 'utf8')))
  if (!checked.ok) throw new Error('the demo design is none')
  const { design } = checked
  const given = partOf(design, design.controllers[0]?.id ?? '')
  part = {
    ...given,
    controllers: given.controllers.map(c => ({ ...c, board: 'board-linux-header' })),
  }
  putFiles(place, serviceFolder(part, 'kiln'))
  const made = spawnSync('make', ['-j2', 'CXXFLAGS=-O1'], { cwd: place, encoding: 'utf8' })
  if (made.status !== 0) throw new Error(made.stderr)
})
test.afterAll(async () => {
  for (const socket of sockets) socket.destroy()
  await stop()
  rmSync(place, { recursive: true, force: true })
})

/** On the same port as before, as a board has the same address after a cut. */
async function start(): Promise<void> {
  writeFileSync(
    join(place, 'test.conf'),
    `tree = .\nstate = state\naddress = 127.0.0.1\nhttp = ${port}\n`,
  )
  const child = spawn(join(place, 'build/kiln'), ['test.conf'], { cwd: place })
  program = child
  port = await new Promise<number>(resolve =>
    child.stdout.once('data', text => resolve(Number(String(text).split(/\s/)[1]))),
  )
}

function stop(): Promise<void> {
  const child = program
  program = null
  return new Promise(resolve => {
    if (!child) return resolve()
    child.once('exit', () => resolve())
    child.kill('SIGKILL')
  })
}

const pin = (loadId: string) => {
  const output = part.loads.find(l => l.id === loadId)?.output as { pin: number }
  return readFileSync(join(place, `pin${output.pin}`), 'utf8').trim()
}

test('is switched, cut off, back again, and knows what is so', async ({ page }) => {
  await start()
  const panel = panels(part).find(p => speaksRoutes(part.links.find(l => l.id === p.linkId)))
  await page.goto(`http://127.0.0.1:${port}/panel/${panel?.id}`)
  const key = page.locator('[data-load-id="humidifier"] button').first()
  await expect(key).toBeEnabled()
  const before = pin('humidifier')
  await key.click()
  await expect.poll(() => pin('humidifier')).not.toBe(before)
  await stop()
  await expect(page.locator('body')).toContainText('does not answer. Trying again')
  await start()
  await expect(key).toBeEnabled()
  // Whatever it starts with, the page says the same as the board.
  const state = await (await fetch(`http://127.0.0.1:${port}/state`)).text()
  expect(state).toContain(pin('humidifier') === before ? 'humidifier=0' : 'humidifier=1')
})

test('serves twenty pages at once, whoever else is slow or half open', async ({ browser }) => {
  test.setTimeout(120_000)
  if (!program) await start()
  for (let n = 0; n < 20; n++) {
    const socket = connect(port, '127.0.0.1')
    socket.on('error', () => undefined)
    // Some say nothing, some begin, some ask and never read.
    if (n % 3 === 1) socket.write('GET /sta')
    if (n % 3 === 2) socket.write('GET /panels HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n')
    if (n % 3 === 2) socket.pause()
    sockets.push(socket)
  }
  // A browser opens six connections to one address; these are twenty devices.
  const contexts = await Promise.all(Array.from({ length: 20 }, () => browser.newContext()))
  const pages = await Promise.all(contexts.map(c => c.newPage()))
  const [panel] = panels(part)
  await Promise.all(pages.map(p => p.goto(`http://127.0.0.1:${port}/panel/${panel?.id}`)))
  for (const p of pages)
    await expect(p.locator('[data-load-id="humidifier"] button').first()).toBeEnabled()
  const before = pin('humidifier')
  await pages[7]?.locator('[data-load-id="humidifier"] button').first().click()
  await expect.poll(() => pin('humidifier')).not.toBe(before)
  const said = await pages[7]?.locator('[data-load-id="humidifier"]').first().textContent()
  for (const p of pages)
    await expect(p.locator('[data-load-id="humidifier"]').first()).toHaveText(said ?? '')
  await Promise.all(contexts.map(c => c.close()))
})
