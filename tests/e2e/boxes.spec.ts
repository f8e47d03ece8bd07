/** Boxes that are boards, links that are shared, and the page of a board. */
import { expect, pick, stored, test } from './nolvi'

test('a box becomes a board: its button is wired, and pressed on the bench', async ({
  page,
  lamp,
}) => {
  await page.goto(`/d/${lamp}/sheet`)
  await page.getByRole('button', { name: '+ surface' }).click()
  await page.getByRole('menuitem', { name: 'Box over HTTP' }).click()
  await page.getByRole('button', { name: 'Put Bench lamp on Box' }).click()
  await page.getByRole('button', { name: 'box, HTTP' }).first().click()
  await pick(page, 'Its board', /^new: full Wi-Fi board/)
  await expect(page.getByText('Sends every')).toBeVisible()
  await page.locator('[data-at]', { hasText: '/bench/on' }).first().click()
  await page.getByRole('button', { name: 'A push button on its board' }).click()
  await expect(page.getByRole('heading', { name: 'Push button' })).toBeVisible()
  const design = await stored(page, lamp)
  expect(design.controllers).toHaveLength(2)
  expect(design.surfaces.at(-1)).toMatchObject({
    kind: 'peer',
    controls: [{ kind: 'push', loadId: 'bench-lamp' }],
    keys: [{ loadId: 'bench-lamp', asks: ['flip'] }],
  })
  await page.getByRole('link', { name: 'Wiring' }).click()
  await page.getByRole('radiogroup', { name: 'Controller' }).getByText('Box').click()
  await expect(page.getByText('Bench lamp, button (Box)').first()).toBeVisible()
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  const head = page.locator('.head', { hasText: 'Box' }).first()
  await head.getByRole('button', { name: 'press' }).click()
  await expect(page.locator('.truth')).toHaveText('on')
})

test('a second panel shares the link of the first, and has a column of its own', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/sheet`)
  await page.getByRole('button', { name: '+ surface' }).click()
  await page.getByRole('menuitem', { name: 'Panel, on the link of Office browser' }).click()
  await expect(page.getByText('Office browser shares this link')).toBeVisible()
  const design = await stored(page, copy)
  expect(design.surfaces.at(-1)).toMatchObject({ kind: 'panel', linkId: design.links[1]?.id })
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await expect(page.locator('.head', { hasText: 'Browser' }).first()).toBeVisible()
})

test('a board serves a page: a place that nothing fills is told, and put right', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByRole('radiogroup', { name: 'Link' }).getByText('Office browser').click()
  await page.getByRole('button', { name: 'Serve a page at /' }).click()
  const template = page.getByLabel('Template of the page')
  await expect(template).toHaveValue(/\{state\}/)
  await template.fill('<p>{load wheel-lights} {load pump}</p>')
  await template.blur()
  await expect(page.getByText('in line 1: no load "pump" on this link')).toBeVisible()
  await template.fill('<p>{load wheel-lights}</p>')
  await template.blur()
  await expect(page.getByText('no load "pump"')).toHaveCount(0)
  await expect(page.getByTitle(/^The page as it is served/)).toHaveAttribute('srcdoc', '<p>off</p>')
  expect((await stored(page, copy)).links[1]).toMatchObject({ page: { route: '/' } })
})
