import { DIALECTS, showroom, speaking, starter } from '../fixtures/designs'
import { expect, stored, test } from './nolvi'

test('codes are changed where they stand; a clash is told at once and goes when it is mended', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  await expect(page.getByText('"1" is the start of "10"')).toBeVisible()
  const off = page.getByLabel('Rinse pump off')
  await off.fill('2')
  await off.press('Enter')
  await expect(page.getByText('"1" is the start of')).toHaveCount(0)
  const lights = page.getByLabel('Wheel lights on')
  await lights.fill('E')
  await lights.press('Enter')
  await expect(
    page.getByText('"E" says both Booth extractor on and Wheel lights on').first(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'undo' }).click()
  await expect(page.getByText('says both')).toHaveCount(0)
  expect((await stored(page, copy)).links[0]?.messages[3]).toMatchObject({
    codes: { on: '1', off: '2' },
  })
})

test('a code that cannot be is put back, with the reason', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  const on = page.getByLabel('Wheel lights on')
  await on.fill('a b')
  await on.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'Not done' })).toContainText(
    'visible ASCII',
  )
  await expect(on).toHaveValue('L')
})

test('all codes are assigned at once, in either school', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  for (const [school, expected] of [
    [/digit/i, '1 2 3 4 5 6 7 8'],
    [/letter/i, 'B b W w D d R r'],
  ] as const) {
    await page.getByRole('button', { name: 'Assign all codes' }).click()
    await page.getByRole('menuitem', { name: school }).click()
    await expect
      .poll(async () =>
        (
          await page
            .locator('input.code')
            .evaluateAll(list => list.map(i => (i as HTMLInputElement).value))
        ).join(' '),
      )
      .toBe(expected)
  }
})

test('the try-box decodes bytes and routes and tells what the board does', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  const box = page.getByRole('complementary', { name: 'Try it' })
  await box.getByLabel('What arrives at the board').fill('e10')
  await expect(box.locator('.bytes tr')).toHaveText([
    /e\s*65\s*"e" = Booth extractor off/,
    /1\s*31\s*"1" = Rinse pump on/,
    /0\s*30\s*"0" is no code/,
  ])
  await expect(box).toContainText('Rinse pump switches on: pin 8 goes low')
  await box.getByText('Booth extractor', { exact: true }).first().click()
  await expect(box).toContainText('Booth extractor switches off: pin 5 goes high')
  await page.getByRole('radiogroup', { name: 'Link' }).getByText('Office browser').click()
  await box.getByLabel('What arrives at the board').fill('/Lights/on')
  await expect(box).toContainText('differs in letter case')
  await expect(box).toContainText('status 404')
  await box.getByLabel('What arrives at the board').fill('/lights/on')
  await expect(box).toContainText('wheel-lights=1')
})

test('reports and connect are ticked here, and the sheet follows', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByText('Whole state on connect').click()
  await page
    .locator('tr', { hasText: 'Booth extractor' })
    .locator('label.el-checkbox')
    .nth(1)
    .click()
  await page.keyboard.press('Escape')
  expect((await stored(page, copy)).links[0]).toMatchObject({
    onConnect: true,
    messages: [{ loadId: 'booth-extractor', change: true }, {}, {}, {}],
  })
  await page.getByRole('link', { name: 'Sheet' }).click()
  await expect(page.locator('[data-at="0,1"]')).toContainText('on change, answer, on connect')
  await expect(page.locator('[data-at="0,1"]').getByRole('img', { name: /in step/i })).toBeVisible()
})

test('another dialect: codes follow, the try-box takes escapes, undo brings the old codes back', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  const ticket = page.locator('.ticket')
  await ticket
    .locator('.el-select')
    .filter({ has: page.getByLabel('Dialect', { exact: true }) })
    .click()
  await page.getByRole('option', { name: 'JSON lines' }).click()
  await expect(page.getByLabel('Rinse pump on')).toHaveValue('{"rinse":"on"}')
  await ticket.getByLabel('What arrives at the board').fill('{ "rinse": "on" }\\n')
  await expect(ticket).toContainText('Rinse pump switches on: pin 8 goes low')
  await ticket.getByLabel('What arrives at the board').fill('\\q')
  await expect(ticket.getByRole('alert')).toContainText('is no escape')
  await page.getByRole('button', { name: 'undo' }).click()
  await expect(page.getByLabel('Rinse pump on')).toHaveValue('1')
  expect((await stored(page, copy)).links[0]).toMatchObject({
    dialect: { kind: 'codes' },
    reportMark: '+',
    askCode: '?',
  })
})

test('a structure whose padding two compilers disagree about is found, and packed by a press', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  const ticket = page.locator('.ticket')
  await ticket
    .locator('.el-select')
    .filter({ has: page.getByLabel('Dialect', { exact: true }) })
    .click()
  await page.getByRole('option', { name: 'packed structures' }).click()
  await ticket
    .locator('.el-select')
    .filter({ has: page.getByLabel('Type of field 3') })
    .click()
  await page.getByRole('option', { name: 'uint32' }).click()
  await ticket.getByText('packed', { exact: true }).click()
  await expect(ticket).toContainText('8 bytes, 2 of them padding')
  await ticket.getByLabel('What arrives at the board').blur()
  await page.getByRole('button', { name: /stop$/ }).click()
  const found = page.locator('.finding', {
    hasText: 'Two compilers put "value" in different places',
  })
  await expect(found).toContainText(
    'an 8-bit compiler puts value at byte 2, a 32-bit one at byte 4',
  )
  await found.getByRole('button', { name: 'Pack it: no bytes between' }).click()
  await expect
    .poll(async () => JSON.stringify((await stored(page, copy)).links[0]))
    .toContain('"packed":true')
})

test('a code that toggles is added by the row, found to repeat, and taken back by its fix', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByRole('button', { name: 'Another code for Wheel lights' }).click()
  await page.getByRole('menuitem', { name: 'toggle' }).click()
  await expect(page.getByLabel('Wheel lights toggle')).toHaveValue('#')
  await page.getByRole('button', { name: /stop$/ }).click()
  const found = page.locator('.finding', { hasText: 'A repeated toggle turns Wheel lights back' })
  await found.getByRole('button', { name: 'Ask for on or off instead' }).click()
  await expect(page.getByLabel('Wheel lights toggle')).toHaveCount(0)
})

test('what is there is read: a sketch held against the table and taken over, a spreadsheet, a log', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByRole('button', { name: 'Read what is there' }).click()
  const ticket = page.locator('.ticket')
  await ticket
    .locator('textarea')
    .fill("if (c == 'E') fan();\nif (c == 'K') kiln(true);\nif (c == 'k') kiln(false);")
  await expect(ticket.locator('tr', { hasText: 'Booth extractor on' })).toContainText('1')
  await expect(ticket).toContainText('Missing in it: e Booth extractor off')
  await ticket.getByText('log', { exact: true }).click()
  await ticket.locator('textarea').fill('12:00:01.250 > E\n12:00:01.310 < +E')
  await expect(ticket.locator('tr', { hasText: '+E' })).toContainText(
    'Booth extractor on, reported after 60 ms',
  )
  await ticket.getByText('code table', { exact: true }).click()
  await ticket.locator('textarea').fill('Load;On;Off\nRinse pump;R;r\nVent;V;\n;x;y')
  await expect(ticket.getByRole('alert')).toContainText('Line 4: no load is named')
  await ticket.getByRole('button', { name: 'Take them over' }).click()
  await expect(page.getByLabel('Rinse pump on')).toHaveValue('R')
  await expect(page.getByLabel('Vent on')).toHaveValue('V')
})

test('where the time goes and what works from where are told for each panel', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  const budget = page.locator('.budget')
  await expect(budget.locator('tr', { hasText: 'Booth extractor' })).toContainText('never')
  await page.getByText('Office browser').first().click()
  await expect(budget.locator('tr', { hasText: 'Booth extractor' })).toContainText('2.36 s')
  await expect(budget).toContainText('page from a secure site')
})

for (const dialect of ['json', 'cobs']) {
  test(`a built page and a stand-in speak ${dialect} with each other`, async ({
    page,
    put,
    standIn,
  }) => {
    const design = speaking(starter(), DIALECTS[dialect]!)
    const { address } = await standIn(await put(design))
    const panel = design.surfaces.find(s => s.kind === 'panel')!
    await page.goto(`${address}/panel/${panel.id}`)
    const box = page.locator('.np-box').first()
    await expect(page.locator('.np-link')).toContainText('connected')
    await box.getByRole('button').first().click()
    await expect(box).toHaveAttribute('data-shown', 'on')
    await page.goto(`${address}/_wall`)
    await expect(page.getByRole('row', { name: /Bench lamp/ })).toContainText('on')
  })
}

test('values as numbers: switched on at the load, said by one code, tried, and taken back', async ({
  page,
  put,
}) => {
  const id = await put({ ...showroom(), id: 'numbers' })
  await page.goto(`/d/${id}/sheet`)
  await page.getByText('Showroom board, IO18').click()
  await page
    .locator('.el-select')
    .filter({ has: page.getByLabel('Levels between the named ones') })
    .click()
  await page.getByRole('option', { name: 'in steps of 1 %' }).click()
  await expect(
    page.getByText('Till tablet asks Shelf lamps for its named values alone'),
  ).toBeVisible()
  await page.goto(`/d/${id}/messages`)
  await page.getByText('Till tablet', { exact: true }).first().click()
  await page.getByRole('button', { name: 'Another code for Shelf lamps' }).click()
  await page.getByRole('menuitem', { name: 'number' }).click()
  const code = page.getByLabel('Shelf lamps number')
  await expect(code).toHaveValue('/shelf/{value}')
  await expect(page.getByLabel('Shelf lamps 50')).toHaveCount(0)
  await page.getByLabel('What arrives at the board').fill('/shelf/37')
  await expect(page.getByText('Shelf lamps 37 %').first()).toBeVisible()
  await page.getByLabel('What arrives at the board').fill('/shelf/250')
  await expect(page.getByText('Shelf lamps 100 %, the nearest to 250').first()).toBeVisible()
  await code.fill('/shelf/value')
  await code.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'Not done' })).toContainText('{value}')
  await expect(code).toHaveValue('/shelf/{value}')
  await code.fill('')
  await code.press('Enter')
  await expect(page.getByLabel('Shelf lamps 50')).toHaveValue('/shelf/50')
  await expect(code).toHaveCount(0)
})
