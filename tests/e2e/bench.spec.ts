import type { Page } from '@playwright/test'
import { expect, test } from './nolvi'

const readout = (page: Page) => page.getByRole('complementary').filter({ hasText: 'This run' })
const figure = async (page: Page, name: string) => Number((await readout(page).locator(`dt:text-is("${name}") + dd`).innerText()).replaceAll(',', ''))
const head = (page: Page, name: string) => page.locator('.heads .head', { hasText: name })

test('press the wall button: the controller follows, the phone does not, and the reason is told', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/bench`)
  await head(page, 'Wall controls').getByRole('button', { name: 'press' }).click()
  await expect(head(page, 'Controller')).toContainText('on')
  await head(page, 'Apron phone').getByRole('button').first().click()
  await expect(readout(page).locator('dt:text-is("Apron phone") + dd')).toContainText('on')
  await head(page, 'Wall controls').getByRole('button', { name: 'press' }).click()
  await expect(head(page, 'Controller')).toContainText('off')
  await expect(readout(page)).toContainText('nothing reports a change on this link')
  await readout(page).getByRole('button', { name: /Apron phone: Report/ }).click()
  await expect(readout(page)).not.toContainText('nothing reports')
})

test('faults: out of reach, router down, power cut, restart, a lost message', async ({ page, copy }) => {
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
  await page.getByRole('button', { name: 'lose the next' }).click()
  await page.getByRole('menuitem', { name: 'of Office browser' }).click()
  await expect(readout(page).locator('dt:text-is("Messages") + dd')).toContainText(/, [1-9]\d* lost/, { timeout: 15_000 })
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
    await page.getByRole('button', { name: '10 busy minutes' }).click()
    await expect(readout(page)).toContainText('Now 10 min 0 s', { timeout: 30_000 })
    return (await readout(page).innerText()).replace(/^.*?This run/s, '')
  }
  const first = await busy()
  const again = await busy()
  expect(again).toBe(first)
  await page.getByLabel('Seed').fill('9')
  await page.getByLabel('Seed').press('Enter')
  expect(await busy()).not.toBe(first)
})

test('ten minutes of 10,000 events are there to scroll, every frame drawn', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/bench`)
  await page.getByRole('button', { name: '10 busy minutes' }).click()
  await expect(readout(page)).toContainText('Now 10 min 0 s', { timeout: 30_000 })
  expect(await figure(page, 'Events')).toBeGreaterThanOrEqual(10_000)
  const scroller = page.getByRole('group', { name: /Time line/ })
  const length = await scroller.evaluate(e => e.scrollHeight)
  expect(length).toBeGreaterThan(80_000)
  const inked = () => page.locator('canvas').evaluate((c: HTMLCanvasElement) => {
    const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height)
    let dark = 0
    for (let i = 0; i < data.length; i += 4) if (data[i]! < 90) dark++
    return dark
  })
  for (const part of [0.02, 0.31, 0.66, 0.97]) {
    await scroller.evaluate((e, top) => e.scrollTo({ top }), length * part)
    await expect.poll(inked).toBeGreaterThan(500)
  }
  await scroller.focus()
  await page.keyboard.press('ArrowUp')
  await expect(readout(page)).toContainText(/At 9 min 60|At 9 min 5\d|At 10 min/)
  await page.keyboard.press('Escape')
  await expect(readout(page)).toContainText('Now 10 min 0 s')
})

test('a button that knows a second press: set in its ticket, made by a finger on the bench', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/sheet`)
  await page.locator('[data-at="0,0"]').click()
  const ticket = page.locator('.ticket')
  await ticket.locator('.el-select').filter({ has: page.getByLabel('Pressed twice') }).click()
  await page.getByRole('option', { name: 'Wheel lights: toggle' }).click()
  await expect(page.locator('[data-at="1,0"]')).toContainText('press twice on Booth extractor: toggles')
  await expect(ticket.getByLabel('Next press within, ms')).toBeVisible()
  await page.goto(`/d/${copy}/bench`)
  const press = head(page, 'Wall controls').getByRole('button', { name: 'press' })
  // Once: the extractor, as soon as no second press can follow.
  await press.click()
  await expect(head(page, 'Controller')).toContainText('on')
  await press.dblclick()
  await page.locator('.el-select').filter({ has: page.getByLabel('Load shown') }).click()
  await page.getByRole('option', { name: 'Wheel lights' }).click()
  await expect(head(page, 'Controller')).toContainText('on')
})
