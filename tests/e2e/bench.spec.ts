import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { readVcd } from '../../core/bytes/vcd'
import { expect, stored, test } from './nolvi'

const readout = (page: Page) => page.getByRole('complementary').filter({ hasText: 'This run' })
const figure = async (page: Page, name: string) =>
  Number(
    (await readout(page).locator(`dt:text-is("${name}") + dd`).innerText()).replaceAll(',', ''),
  )
const head = (page: Page, name: string) => page.locator('.heads .head', { hasText: name })

test('press the wall button: the controller follows, the phone does not, and the reason is told', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await head(page, 'Wall controls').getByRole('button', { name: 'press' }).click()
  await expect(head(page, 'Controller')).toContainText('on')
  await head(page, 'Apron phone').getByRole('button').first().click()
  await expect(readout(page).locator('dt:text-is("Apron phone") + dd')).toContainText('on')
  await head(page, 'Wall controls').getByRole('button', { name: 'press' }).click()
  await expect(head(page, 'Controller')).toContainText('off')
  await expect(readout(page)).toContainText('nothing reports a change on this link')
  await readout(page)
    .getByRole('button', { name: /Apron phone: Report/ })
    .click()
  await expect(readout(page)).not.toContainText('nothing reports')
})

test('faults: out of reach, router down, power cut, restart, a lost message', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByText('20×').click()
  await page.getByRole('button', { name: 'run', exact: true }).click()
  const away = page.getByRole('button', { name: 'Apron phone away' })
  await away.click()
  await expect(away).toHaveAttribute('aria-pressed', 'true')
  await away.click()
  await page.getByRole('button', { name: 'router down' }).click()
  await page.getByRole('button', { name: 'router down' }).click()
  await page.getByRole('button', { name: 'cut power' }).click()
  await expect(head(page, 'Controller')).toContainText('no power')
  await page.getByRole('button', { name: 'cut power' }).click()
  await expect(head(page, 'Controller')).toContainText('off')
  await page.getByRole('button', { name: 'restart' }).click()
  await expect(head(page, 'Controller')).toContainText(/starting|off/)
  await page.getByRole('button', { name: 'more faults' }).click()
  await page.getByRole('menuitem', { name: 'lose the next of Office browser' }).click()
  await expect(readout(page).locator('dt:text-is("Messages") + dd')).toContainText(
    /, [1-9]\d* lost/,
  )
})

test('pause, step, reset; the same seed goes the same way', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByRole('button', { name: 'step' }).click()
  await expect.poll(() => figure(page, 'Events')).toBe(1)
  await page.getByRole('button', { name: 'step' }).click()
  await expect.poll(() => figure(page, 'Events')).toBe(2)
  await page.getByRole('button', { name: 'reset' }).click()
  await expect.poll(() => figure(page, 'Events')).toBe(0)
  const busy = async () => {
    // From nothing each time: otherwise what is read could be the run before.
    await page.getByRole('button', { name: 'reset' }).click()
    await expect.poll(() => figure(page, 'Events')).toBe(0)
    await page.getByRole('button', { name: '10 busy minutes' }).click()
    await expect(readout(page)).toContainText('Now 10 min 0 s')
    return (await readout(page).innerText()).replace(/^.*?This run/s, '')
  }
  const first = await busy()
  const again = await busy()
  expect(again).toBe(first)
  await page.getByLabel('Seed').fill('9')
  await page.getByLabel('Seed').press('Enter')
  expect(await busy()).not.toBe(first)
})

test('ten minutes of 10,000 events are there to scroll, every frame drawn', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByRole('button', { name: '10 busy minutes' }).click()
  await expect(readout(page)).toContainText('Now 10 min 0 s')
  expect(await figure(page, 'Events')).toBeGreaterThanOrEqual(10_000)
  const area = page.getByRole('group', { name: /Time line/ })
  const inked = () =>
    page.locator('canvas.lanes').evaluate((c: HTMLCanvasElement) => {
      const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height)
      let dark = 0
      for (let i = 0; i < data.length; i += 4) if (data[i]! < 90) dark++
      return dark
    })
  const overview = page.locator('canvas.overview')
  const box = (await overview.boundingBox())!
  for (const part of [0.02, 0.31, 0.66, 0.97]) {
    await page.mouse.click(box.x + 10, box.y + box.height * part)
    await expect.poll(inked).toBeGreaterThan(500)
  }
  await area.focus()
  await page.keyboard.press('End')
  await page.keyboard.press('ArrowUp')
  await expect(readout(page)).toContainText(/At 9 min 60|At 9 min 5\d|At 10 min/)
  await page.keyboard.press('Escape')
  await page.mouse.move(5, 5)
  await expect(readout(page)).toContainText('Now 10 min 0 s')
})

const side = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click()

test('the time line by keyboard: changes, disagreements, markers, from the whole run to ten microseconds', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByRole('button', { name: '10 busy minutes' }).click()
  await expect(readout(page)).toContainText('Now 10 min 0 s')
  const area = page.getByRole('group', { name: /Time line/ })
  await area.focus()
  await page.keyboard.press('Home')
  await expect(readout(page)).toContainText('At 0 ms')
  await page.keyboard.press('n')
  await expect(readout(page).locator('h2')).not.toHaveText('At 0 ms')
  await expect(readout(page)).toContainText('wrong')
  const first = await readout(page).locator('h2').innerText()
  await page.keyboard.press('k')
  await page.keyboard.press('n')
  await page.keyboard.press('k')
  await expect(readout(page).getByText('B at')).toBeVisible()
  // Waited for, not read at once: a press is drawn with the next frame.
  await expect(readout(page).locator('h2')).not.toHaveText(first)
  await page.keyboard.press('Shift+N')
  await expect(readout(page).locator('h2')).toHaveText(first)
  await page.keyboard.press('ArrowRight')
  await expect(readout(page).locator('h2')).not.toHaveText(first)
  await page.keyboard.press('ArrowLeft')
  for (let i = 0; i < 25; i++) await page.keyboard.press('+')
  await expect(page.getByTitle('What a hundred pixels stand for')).toHaveText('1 ms / 100 px')
  await page.keyboard.press('0')
  await expect(page.getByTitle('What a hundred pixels stand for')).toContainText('min')
  // What a message says, byte by byte.
  await readout(page).locator('button.message').first().click()
  await expect(readout(page).locator('.bytes')).toContainText('bytes')
})

test('a contact that bounces is seen bouncing, and the pointer reads out where it is', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByRole('button', { name: 'more faults' }).click()
  await page.getByRole('menuitem', { name: 'bouncing contacts' }).click()
  await head(page, 'Wall controls').getByRole('button', { name: 'press' }).click()
  await expect(head(page, 'Controller')).toContainText('on')
  await page.getByRole('button', { name: 'pause' }).click()
  await side(page, 'Script')
  await expect(page.getByRole('textbox', { name: 'Script' })).toHaveValue(
    /contacts bounce\n.*press extractor-button/s,
  )
  await side(page, 'Now')
  const box = (await page.locator('canvas.lanes').boundingBox())!
  await page.mouse.move(box.x + 300, box.y + 5)
  await expect(readout(page).locator('h2')).toContainText('At')
})

test('drills: what the design gets wrong is found, played on the bench, and kept as a record', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await side(page, 'Drills')
  await page.getByRole('button', { name: /Run \d+ drills/ }).click()
  const panel = page.getByRole('tabpanel')
  await expect(panel.getByRole('status')).toContainText(/do not hold|unsure/)
  await panel.getByRole('link', { name: 'log', exact: true }).click()
  await expect(page.getByRole('button', { name: 'drills for Booth extractor' })).toBeVisible()
  await expect(page.getByRole('row', { name: /drills for Booth extractor/ })).toContainText(
    /\d+ of \d+ hold/,
  )
  await page.keyboard.press('b')
  await side(page, 'Drills')
  await panel.getByRole('button', { name: 'Power cut' }).click()
  await side(page, 'Now')
  await expect(page.getByText('Playing: Power cut')).toBeVisible()
  // The moment that is judged is looked at: the strip shows it, and the readout is there.
  await expect(readout(page).locator('h2')).toContainText('At')
})

test('a script is changed, played, judged; what is wrong in it is named with its line', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await side(page, 'Script')
  const box = page.getByRole('textbox', { name: 'Script' })
  await box.fill(
    'seed 3\nat 1 s press extractor-button\nat 1 s within 200 ms booth-extractor is on\nat 1 s within 200 ms everybody shows booth-extractor on\nuntil 3 s\n',
  )
  await page.getByRole('button', { name: 'Play at once' }).click()
  const panel = page.getByRole('tabpanel')
  await expect(panel.getByRole('img', { name: 'held', exact: true })).toHaveCount(1)
  await expect(panel.getByRole('img', { name: 'did not hold' })).toHaveCount(1)
  await box.fill('seed 3\nat 1 s dance')
  await page.getByRole('button', { name: 'Play at once' }).click()
  await expect(panel.getByRole('alert')).toContainText(
    'line 2: "dance" is nothing that can be done',
  )
})

test('numbers of a run, and as files; weeks of use in a worker, with their intervals', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByRole('button', { name: '10 busy minutes' }).click()
  await expect(readout(page)).toContainText('Now 10 min 0 s')
  await side(page, 'Numbers')
  const panel = page.getByRole('tabpanel')
  await expect(panel.getByRole('row', { name: /Booth extractor/ }).first()).toContainText(/min|s/)
  await expect(panel.locator('.apexcharts-canvas')).toBeVisible()
  const saved = page.waitForEvent('download')
  await panel.getByRole('button', { name: 'Save as VCD' }).click()
  const vcd = readFileSync(await (await saved).path(), 'utf8')
  expect(readVcd(vcd).signals.length).toBeGreaterThan(10)
  await side(page, 'Weeks')
  await panel.getByLabel('How long, days').fill('7')
  await panel.getByLabel('How long, days').press('Enter')
  await panel.getByRole('button', { name: 'Play 7 days' }).click()
  await expect(panel.getByRole('status')).toContainText(/7 days, [\d,]+ events/, {
    timeout: 180_000,
  })
  await expect(panel).toContainText('±')
})

test('a recording is laid beside the run and looked through', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/bench`)
  await side(page, 'Probe')
  const panel = page.getByRole('tabpanel')
  const open = (name: string, text: string) =>
    panel
      .locator('input[type=file]')
      .setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
  await open('nothing.csv', '0,1\n1,x\n')
  await expect(panel.getByRole('alert')).toContainText('not a time in seconds')
  await open(
    'probe.csv',
    'time,extractor-button,booth-extractor\n0,1,1\n1,0,1\n1.0008,1,1\n1.0012,0,1\n1.032,0,0\n1.2,1,0\n2,0,0\n2.002,1,0\n6,1,1\n',
  )
  await expect(panel).toContainText('longest bounce 1.2 ms')
  await expect(panel.getByRole('button', { name: /ghost press at 2.000 s/ })).toBeVisible()
  await expect(panel.getByRole('button', { name: /moved by itself at 6.000 s/ })).toBeVisible()
})

test('limits, reports and rules are set where the things are', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.getByRole('button', { name: 'Add a part' }).click()
  await page.getByRole('menuitem', { name: /contact/ }).click()
  await page.getByRole('button', { name: 'A rule' }).click()
  await expect(page.getByRole('combobox', { name: 'Condition' })).toBeVisible()
  await page.getByLabel('Text of the reading').fill('closed')
  await page.getByLabel('Text of the reading').press('Enter')
  await expect
    .poll(async () => (await stored(page, copy)).rules)
    .toMatchObject([{ when: 'is', text: 'closed' }])
  // Its program does that too.
  await page.getByRole('button', { name: /\d+ warn/ }).click()
  await expect(page.getByRole('complementary', { name: 'Findings' })).toContainText('on mains')
  await expect(page.getByText(/The program does not do/)).toHaveCount(0)
})

test('a button that knows a second press: set in its ticket, made by a finger on the bench', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/sheet`)
  await page.locator('[data-at="0,0"]').click()
  const ticket = page.locator('.ticket')
  await ticket
    .locator('.el-select')
    .filter({ has: page.getByLabel('Pressed twice') })
    .click()
  await page.getByRole('option', { name: 'Wheel lights: the other state' }).click()
  await expect(page.locator('[data-at="1,0"]')).toContainText(
    'press twice on Booth extractor: toggles',
  )
  await expect(ticket.getByLabel('Next press within, ms')).toBeVisible()
  await page.goto(`/d/${copy}/bench`)
  const press = head(page, 'Wall controls').getByRole('button', { name: 'press' })
  // Once: the extractor, as soon as no second press can follow.
  await press.click()
  await expect(head(page, 'Controller')).toContainText('on')
  await press.dblclick()
  await page
    .locator('.el-select')
    .filter({ has: page.getByLabel('Load shown') })
    .click()
  await page.getByRole('option', { name: 'Wheel lights' }).click()
  await expect(head(page, 'Controller')).toContainText('on')
})

test('a lamp of a link goes out with it', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.getByRole('button', { name: 'Add a part' }).click()
  await page.getByRole('menuitem', { name: 'lamp of a link' }).click()
  await page.goto(`/d/${copy}/bench`)
  await expect(page.getByLabel('Lamp of a link lit')).toBeVisible()
  await page.getByRole('button', { name: 'Apron phone away' }).click()
  await expect(page.getByLabel('Lamp of a link dark')).toBeVisible()
})
