/**
 * What a newcomer does on the first evening, from the shelf to a load that is switched from three
 * sides.
 */
import { readFile, writeFile } from 'node:fs/promises'
import { execFileSync } from 'node:child_process'
import { unzipSync } from 'fflate'
import { edited, glazeRoom } from '../fixtures/designs'
import { expect, stored, test } from './nolvi'

test('find what is wrong with the glaze room, see it, repair it, build it, and switch it from everywhere', async ({
  page,
  context,
  copy,
}) => {
  test.setTimeout(600_000)
  await page.goto('/')
  await page.locator(`a[href="/d/${copy}/sheet"]`).click()

  // The sheet opens at the worst cell, with its story.
  await expect(page.getByRole('banner').getByRole('button', { name: '5 stop' })).toBeVisible()
  const ticket = page.getByRole('complementary', { name: 'Selected' })
  await expect(ticket.getByRole('heading', { level: 2 })).toHaveText(
    'Booth extractor · Apron phone',
  )
  await expect(ticket).toContainText(
    'Apron phone can show the wrong state of Booth extractor for good',
  )
  await expect(ticket.getByRole('listitem').last()).toHaveText(
    'Apron phone shows on, Booth extractor is off',
  )

  // See it go wrong on the bench.
  await ticket.getByRole('button', { name: 'Play on bench' }).click()
  await expect(page).toHaveURL(/\/bench$/)
  const readout = page.getByRole('complementary').filter({ hasText: 'This run' })
  await expect(readout).toContainText('Apron phone shows on, Booth extractor is off')
  await expect(readout.getByRole('definition').filter({ hasText: 'wrong' }).first()).toContainText(
    'on ·',
  )
  await expect(readout).toContainText('nothing reports a change on this link')

  // Repair: the first fix of each finding, until none that can be mended is left.
  await page.keyboard.press('i')
  const findings = page.getByRole('complementary', { name: 'Findings' })
  const mendable = findings
    .locator('.finding')
    .filter({ has: page.locator('.severity.stop, .severity.warn') })
    .filter({ has: page.locator('.fixes button') })
  for (let i = 0; i < 14; i++) {
    const before = await mendable.count()
    if (before === 0) break
    await mendable.first().locator('.fixes button').first().click()
    await expect.poll(() => mendable.count()).toBeLessThan(before)
  }
  // The caution about mains stays, and that no program is made for the board in front.
  await expect(findings).toContainText('Booth extractor is on mains')
  await expect(
    findings.locator('.finding').filter({ has: page.locator('.severity.stop') }),
  ).toHaveCount(0)
  await expect(page.getByRole('banner').getByRole('button', { name: '0 stop' })).toBeVisible()
  const repaired = await stored(page, copy)
  expect(repaired.links[0]).toMatchObject({ onConnect: true })

  // Proof of all promises agrees.
  await findings.getByRole('button', { name: 'Close' }).click()
  await page.keyboard.press('f')
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  await expect(page.getByRole('button', { name: 'Prove all loads' })).toBeVisible({
    timeout: 180_000,
  })
  await expect(page.getByRole('button', { name: /^P1 of .*: holds/ })).toHaveCount(4)

  // Build.
  await page.keyboard.press('u')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Take all away as ZIP' }).click(),
  ])
  const files = unzipSync(await readFile(await download.path()))
  // The folder of the program, whose engine is the same for all.
  const engine = (name: string) =>
    /^[^/]+\/src\//.test(name) && !/\/(design|pages)\.cpp$/.test(name)
  expect(Object.keys(files).filter(engine).length).toBeGreaterThan(20)
  expect(
    Object.keys(files)
      .filter(name => !engine(name))
      .toSorted(),
  ).toEqual(
    [
      'design.json',
      'fingerprint.txt',
      `${copy}.hex`,
      `${copy}/${copy}.ino`,
      `${copy}/src/design.cpp`,
      `${copy}-front/${copy}-front.ino`,
      `${copy}-front/secrets-to-fill-in.h`,
      `${copy}-front/src/design.cpp`,
      `${copy}-front/src/pages.cpp`,
      'messages.csv',
      'messages.html',
      'openapi-office-link.json',
      'panel-apron-phone.html',
      'panel-office-browser.html',
      'parts.csv',
      'site/icon.svg',
      'site/index.html',
      'site/install.txt',
      'site/manifest.webmanifest',
      'site/panel-apron-phone.html',
      'site/panel-office-browser.html',
      'site/sw.js',
      'uploading.txt',
      'wall-cards-apron-phone.html',
      'wall-cards-office-browser.html',
      'wiring.csv',
      'circuit.html',
      'connections.csv',
      'netlist.json',
    ].toSorted(),
  )

  // Start the stand-in, open the built pages and the wall.
  await page.keyboard.press('l')
  await page.getByRole('button', { name: 'Start a stand-in' }).click()
  const address = await page.locator('article h2').innerText()
  await expect(page.locator('article')).toContainText('as designed')
  const openTab = async (name: string) => {
    const [tab] = await Promise.all([
      context.waitForEvent('page'),
      page.getByRole('link', { name }).click(),
    ])
    return tab
  }
  const phone = await openTab('Apron phone')
  const office = await openTab('Office browser')
  const wall = await openTab('Wall controls and lamps')
  const extractor = {
    phone: phone.locator('[data-load-id=booth-extractor]'),
    office: office.locator('[data-load-id=booth-extractor]'),
    lamp: wall.locator('tr[data-load=booth-extractor] .lamp'),
    live: page.locator('[data-load=booth-extractor]'),
  }
  const allShow = async (state: 'on' | 'off') => {
    await expect(extractor.phone).toHaveAttribute('data-shown', state)
    await expect(extractor.office).toHaveAttribute('data-shown', state)
    await expect(extractor.lamp).toHaveText(state)
    await expect(extractor.live).toContainText(state)
  }
  await allShow('off')

  // By curl, by the page, by the virtual wall button: all agree each time.
  expect(execFileSync('curl', ['-s', `${address}/extractor/on`], { encoding: 'utf8' })).toBe(
    'booth-extractor=1\n',
  )
  await allShow('on')
  await extractor.phone.getByRole('button', { name: 'Booth extractor off' }).click()
  await allShow('off')
  await extractor.office.getByRole('button').click()
  await allShow('on')
  await wall.getByRole('button', { name: 'Press Booth extractor' }).click()
  await allShow('off')

  // Power cut and return: as the policy says, and all agree again.
  await wall.getByRole('button', { name: 'Press Booth extractor' }).click()
  await allShow('on')
  await wall.getByRole('button', { name: 'cut power' }).click()
  await expect(extractor.lamp).toHaveText('no power')
  await wall.getByRole('button', { name: 'give power' }).click()
  await allShow('off')
  await page.locator('article').getByRole('button', { name: 'Stop' }).click()
  await expect(page.locator('article')).toHaveCount(0)
  await expect(phone.locator('.np-link')).toHaveAttribute('data-up', 'false')
})

test('a page taken away works from a file', async ({ page, put, standIn, request }) => {
  const first = await put(glazeRoom())
  const { address } = await standIn(first)
  // The design is told the address under which the board is met, as a maker tells it the board's.
  const design = edited(glazeRoom(), { type: 'setLink', linkId: 'office-link', patch: { address } })
  const id = await put(design)
  const path = test.info().outputPath('panel.html')
  await writeFile(
    path,
    await (await request.get(`/api/designs/${id}/build/panel-office-browser.html`)).text(),
  )
  await page.goto(`file://${path}`)
  const lights = page.locator('[data-load-id=wheel-lights]')
  await lights.getByRole('button').click()
  await expect
    .poll(async () => (await request.get(`${address}/state`)).text())
    .toContain('wheel-lights=1')
})
