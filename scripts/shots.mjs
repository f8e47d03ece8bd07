/** One picture of each main view, from the demo designs only, into docs/screenshots. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { chromium } from '@playwright/test'
import { CHROMIUM, CHROMIUM_ARGS } from './chromium.mjs'
import { buildIfNeeded, startServer, stopServer } from './serve.mjs'

const out = resolve(import.meta.dirname, '../docs/screenshots')
const only = process.argv[2]
const GLAZE = '/d/glaze-room'

/** Each shot: name, address, what is done before the picture, and how the page is set up. */
const SHOTS = [
  { name: 'shelf', at: '/', ready: 'text=promises kept', wait: 4000 },
  { name: 'sheet', at: `${GLAZE}/sheet`, ready: '.finding' },
  {
    name: 'wiring',
    at: `${GLAZE}/wiring`,
    ready: '.plan',
    act: page => page.locator('[data-need="load:rinse-pump"]').click(),
  },
  {
    name: 'circuit',
    at: `${GLAZE}/wiring`,
    ready: '.plan',
    act: async page => {
      await page.getByText('Circuit', { exact: true }).click()
      await page.locator('.sheets [data-need="load:cupboard-fan"]').first().click()
    },
  },
  {
    name: 'messages',
    at: `${GLAZE}/messages`,
    ready: 'table',
    act: page => page.getByLabel('What arrives at the board').fill('e10'),
  },
  { name: 'messages-showroom', at: '/d/showroom/messages', ready: '.chain' },
  {
    name: 'panels',
    at: `${GLAZE}/panels`,
    ready: '.np-box',
    act: page => page.locator('[data-panel=apron-phone] [data-load-id=rinse-pump]').focus(),
    wait: 500,
  },
  { name: 'bench', at: `${GLAZE}/proof`, act: playFirstStory },
  { name: 'emulated', at: `${GLAZE}/bench`, ready: 'canvas', act: emulated, wait: 800 },
  { name: 'proof', at: `${GLAZE}/proof`, act: proveAndRepair },
  { name: 'proof-causes', at: `${GLAZE}/proof`, act: causes },
  { name: 'build', at: `${GLAZE}/build`, ready: '.guide' },
  { name: 'live', at: `${GLAZE}/live`, act: live },
  { name: 'commissioning', phone: true, at: commissioning, ready: '.asks', wait: 3000 },
  { name: 'log', at: `${GLAZE}/proof`, act: log },
  {
    name: 'findings-night',
    at: `${GLAZE}/sheet`,
    dark: true,
    ready: '.finding',
    act: page => page.keyboard.press('i'),
  },
  { name: 'panel-page-phone', phone: true, dark: false, at: standInPage },
  { name: 'panel-page-phone-night', phone: true, dark: true, at: standInPage },
  { name: 'wall', at: standInWall },
]

buildIfNeeded()
const data = mkdtempSync(join(tmpdir(), 'nolvi-shots-'))
const server = await startServer({ demo: true, port: '4689', data })
if (!server) process.exit(1)
const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS })
try {
  for (const shot of SHOTS.filter(s => !only || s.name.startsWith(only))) {
    const context = await browser.newContext({
      viewport: shot.phone ? { width: 380, height: 760 } : { width: 1280, height: 800 },
      deviceScaleFactor: shot.phone ? 2 : 1,
      colorScheme: shot.dark ? 'dark' : 'light',
    })
    // What views are for was read long ago.
    await context.addInitScript(() => {
      const ids = [
        'sheet',
        'wiring',
        'messages',
        'panels',
        'bench',
        'proof',
        'build',
        'live',
        'log',
      ]
      if (location.protocol === 'http:')
        localStorage.setItem('nolvi known views', JSON.stringify(ids))
    })
    const page = await context.newPage()
    await page.goto(typeof shot.at === 'string' ? server.address + shot.at : await shot.at())
    if (shot.ready) await page.locator(shot.ready).first().waitFor()
    await shot.act?.(page)
    await page.waitForTimeout(shot.wait ?? 600)
    await page.screenshot({ path: join(out, `${shot.name}.png`) })
    console.log(`docs/screenshots/${shot.name}.png`)
    await context.close()
  }
} finally {
  await browser.close()
  await stopServer(server)
  rmSync(data, { recursive: true, force: true })
}

/** Ten minutes in numbers, looked at where somebody is wrong. */
async function emulated(page) {
  await page.getByRole('button', { name: 'emulated board', exact: true }).click()
  await page.locator('#bench-side').getByText('None so far.').waitFor()
  for (const wait of [700, 900, 600, 1500]) {
    await page.locator('.keys .key').first().click()
    await page.waitForTimeout(wait)
  }
  await page.getByRole('button', { name: 'pause' }).click()
}

/** All drills of a load are run, and one that does not hold is played. */
async function proveAll(page) {
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  await page.waitForTimeout(300)
  await page.getByRole('button', { name: 'Prove all loads' }).waitFor({ timeout: 60_000 })
}

async function proveAndRepair(page) {
  await proveAll(page)
  await page.getByRole('button', { name: 'Find what repairs it' }).click()
  await page.getByRole('button', { name: 'Do it' }).first().waitFor({ timeout: 60_000 })
}

async function causes(page) {
  await proveAll(page)
  await page.getByText('Causes', { exact: true }).click()
  await page.getByRole('button', { name: 'Repair all' }).click()
  await page.getByRole('button', { name: 'Do all' }).waitFor({ timeout: 60_000 })
}

async function log(page) {
  await proveAll(page)
  await page.keyboard.press('g')
  await page.getByRole('button', { name: 'promises of 4 loads' }).first().click()
  await page.locator('aside ol').first().waitFor()
}

async function playFirstStory(page) {
  await proveAll(page)
  await page.getByRole('button', { name: 'Play on bench' }).first().click()
  await page.locator('canvas.lanes').waitFor()
  await page.waitForTimeout(2500)
}

async function live(page) {
  await page.getByRole('button', { name: 'Start a stand-in' }).click()
  const address = await page.locator('article h2').innerText()
  for (const press of ['extractor-button', 'lights-button']) {
    await fetch(`${address}/_wall/press`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ controlId: press }),
    })
  }
  await page.waitForTimeout(300)
  for (const route of ['/lights/off', '/fan/on', '/state']) await fetch(address + route)
  await page.getByRole('button', { name: 'Connect its links' }).click()
  await page.getByRole('button', { name: 'Ask for Wheel lights on' }).click()
  await page.getByRole('button', { name: 'Ask 200 times' }).first().click()
  await page.waitForTimeout(4000)
}

/** The first load of a run, switched and heard. */
async function commissioning() {
  const id = 'glaze-room'
  const at = `${server.address}/api/designs/${id}`
  const post = (path, body) =>
    fetch(at + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    }).then(answer => answer.json())
  const [known] = await (await fetch(`${at}/stand-ins`)).json()
  const standIn = known ?? (await post('/stand-ins', {}))
  const { design } = await (await fetch(at)).json()
  for (const { id: linkId } of design.links)
    await post('/live', { linkId, reached: { by: 'here', standIn: standIn.id } })
  await post('/commissioning', { do: 'start', anew: true })
  await post('/commissioning', { do: 'begin', stepId: 'load booth-extractor apron-link on' })
  await post('/commissioning', { do: 'ready' })
  return `${server.address}/commissioning/${id}`
}

async function standIn() {
  const at = `${server.address}/api/designs/kiln-corridor/stand-ins`
  const [known] = await (await fetch(at)).json()
  return (known ?? (await (await fetch(at, { method: 'POST' })).json())).address
}
async function standInPage() {
  return `${await standIn()}/panel/corridor-phone`
}
async function standInWall() {
  return `${await standIn()}/_wall`
}
