import { expect, test } from './nolvi'

test('proves every promise in workers, tells the shortest story, and a repair turns the verdict', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'P1 of Wheel lights' }).click()
  const ticket = page.getByRole('complementary')
  await ticket.getByRole('button', { name: 'Prove Wheel lights' }).click()
  await expect(page.getByRole('button', { name: 'P1 of Wheel lights: broken' })).toBeVisible({
    timeout: 180_000,
  })
  await expect(
    page.getByRole('button', { name: 'P5 of Wheel lights: does not apply' }),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: 'P3 of Wheel lights: holds' })).toBeVisible()
  await expect(ticket).toContainText('Apron phone shows on, Wheel lights is off.')
  await expect(ticket).toContainText('Replayed on the bench: it ends the same way')
  // Each step says how the load is and what the phone shows.
  await expect(ticket.locator('tr.wrong').last()).toContainText('offon')
  await ticket.getByRole('button', { name: 'Find what repairs it' }).click()
  await expect(ticket).toContainText('Apron phone: tell the whole state on connect', {
    timeout: 180_000,
  })
  await expect(ticket).toContainText('Costs the whole state, once a connection')
  await ticket.getByRole('button', { name: 'Do it' }).first().click()
  await expect(page.getByRole('button', { name: 'P1 of Wheel lights: holds' })).toBeVisible({
    timeout: 180_000,
  })
  await ticket.getByRole('button', { name: /What carries it for Apron phone/ }).click()
  await expect(ticket).toContainText('The whole state on connect of Apron phone', {
    timeout: 180_000,
    ignoreCase: true,
  })
})

test('a story plays on the bench with one key, and what was proved is kept', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  const cell = page.getByRole('button', { name: 'P1 of Booth extractor: broken' })
  await cell.waitFor({ timeout: 180_000 })
  await expect(page.getByRole('button', { name: 'Prove all loads' })).toBeVisible({
    timeout: 180_000,
  })
  await expect
    .poll(
      async () =>
        (
          (await (await page.request.get(`/api/designs/${copy}/records`)).json()) as {
            kind: string
            of: number
            passed: number
          }[]
        )[0],
    )
    .toMatchObject({ kind: 'proof' })
  await cell.focus()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('button', { name: 'P1 of Wheel lights: broken' })).toBeFocused()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/bench$/)
  await expect(page.locator('canvas.lanes')).toBeVisible()
})

test('causes are told once with their loads, and all is repaired at once', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  await page.getByText('Causes', { exact: true }).click()
  await expect(
    page.locator('.cause').filter({ hasText: 'Wheel lights, Drying cupboard fan' }).first(),
  ).toBeVisible({ timeout: 180_000 })
  await expect(page.getByRole('button', { name: 'Prove all loads' })).toBeVisible({
    timeout: 180_000,
  })
  await page.getByRole('button', { name: 'Repair all' }).click()
  await page.getByRole('button', { name: 'Do all' }).click({ timeout: 180_000 })
  await expect(page.getByRole('heading', { name: 'No promise is broken' })).toBeVisible({
    timeout: 180_000,
  })
})

test('a long search shows its count, can be stopped, and keeps what it had', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'Bounds' }).click()
  for (const [words, most] of [
    ['messages under way at most', '8'],
    ['situations at most', '8000000'],
  ] as const) {
    await page.getByLabel(words).fill(most)
    await page.getByLabel(words).press('Enter')
  }
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'situations so far' })).toBeVisible()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Prove all loads' })).toBeVisible()
})

test('an edit marks the verdict as one from before', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'P1 of Rinse pump' }).click()
  await page.getByRole('complementary').getByRole('button', { name: 'Prove Rinse pump' }).click()
  await expect(page.getByRole('button', { name: 'P1 of Rinse pump: broken' })).toBeVisible({
    timeout: 180_000,
  })
  await page.keyboard.press('m')
  await page.getByLabel('Rinse pump off').fill('2')
  await page.getByLabel('Rinse pump off').press('Enter')
  await page.getByRole('link', { name: 'Proof' }).click()
  await page.getByRole('button', { name: 'P1 of Rinse pump' }).click()
  await expect(page.getByRole('complementary')).toContainText('before the last edit')
})

test('outages are tried on the bench, two at once too', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByText('Outages', { exact: true }).click()
  await expect(
    page.getByRole('row', { name: /router down works for all 3 works for all 4 works for none/i }),
  ).toBeVisible()
  await page.getByText('two at once as well').click()
  await expect(
    page.getByRole('row', {
      name: /router down and phone away works for all 3 works for none works for none/i,
    }),
  ).toBeVisible()
})

test('the timing study gives percentiles and the longest run to play', async ({ page }) => {
  await page.goto('/d/kiln-corridor/proof')
  await page.getByText('How long', { exact: true }).click()
  await page.getByLabel('Runs').fill('300')
  await page.getByLabel('Runs').press('Enter')
  await page.getByRole('button', { name: 'Run them' }).click()
  await expect(page.getByRole('row', { name: /Corridor phone 300 .* ms/ })).toBeVisible({
    timeout: 180_000,
  })
  await page.getByRole('button', { name: 'Play the longest' }).first().click()
  await expect(page.locator('canvas.lanes')).toBeVisible()
})

test('work that could not be begun says so, and is begun again', async ({ page }) => {
  await page.goto('/d/kiln-corridor/proof')
  await expect(page.getByRole('button', { name: /warn$/ })).toBeVisible()
  const asked: string[] = []
  await page.route(/core\.worker/, route => {
    asked.push(route.request().url())
    return route.abort()
  })
  await page.getByText('How long', { exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('A part of Nolvi did not load')
  expect(asked).toHaveLength(2)
  await page.unroute(/core\.worker/)
  await page.getByRole('button', { name: 'Run them' }).click()
  await expect(page.getByRole('row', { name: /Corridor phone/ }).first()).toBeVisible()
  await expect(page.getByRole('alert')).toHaveCount(0)
  // What is found out after each edit as well.
  await page.route(/core\.worker/, route => route.abort())
  await page.reload()
  await expect(page.getByRole('alert')).toContainText('Not checked')
  await expect(page.getByRole('button', { name: 'not checked' })).toBeVisible()
  await page.unroute(/core\.worker/)
  await page.getByRole('button', { name: 'Check again' }).click()
  await expect(page.getByRole('button', { name: /warn$/ })).toBeVisible()
})

test('what goes wrong unexpectedly is told, once', async ({ page, guard }) => {
  await page.goto('/d/kiln-corridor/proof')
  await expect(page.getByRole('button', { name: /warn$/ })).toBeVisible()
  await page.evaluate(() => {
    for (let n = 0; n < 2; n++) void Promise.reject(new Error('the lamp has fallen off'))
  })
  const told = page.getByText('That did not work: the lamp has fallen off')
  await expect(told).toHaveCount(1)
  await page.locator('.el-message__closeBtn').click()
  await expect(told).toHaveCount(0)
  // Whoever watches all tests for such has seen both.
  const seen = guard.splice(0)
  expect(seen).toHaveLength(2)
  expect(seen.join()).toContain('the lamp has fallen off')
})

test('what holds is looked at again, and that is kept in the log', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'P4 of Wheel lights' }).click()
  await page.getByRole('complementary').getByRole('button', { name: 'Prove Wheel lights' }).click()
  await page
    .getByRole('complementary')
    .getByRole('button', { name: 'Check again' })
    .click({ timeout: 180_000 })
  await expect(page.getByRole('complementary')).toContainText(
    'none is missing, each keeps the promise',
  )
  await page.keyboard.press('g')
  await expect(page.getByText('P4 of Wheel lights, checked again').first()).toBeVisible()
})
