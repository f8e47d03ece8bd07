import { createSocket } from 'node:dgram'
import { readFile } from 'node:fs/promises'
import { connect } from 'node:net'
import { unzipSync } from 'fflate'
import {
  DIALECTS,
  edited,
  kilnCorridor,
  over,
  showroom,
  speaking,
  starter,
} from '../fixtures/designs'
import { expect, pick, stored, test } from './nolvi'

test('a knob box over peer radio, from the sheet to its bytes, and what its board lacks', async ({
  page,
  lamp,
}) => {
  await page.goto(`/d/${lamp}/sheet`)
  await page.getByRole('button', { name: '+ surface' }).click()
  await page.getByRole('menuitem', { name: 'Box over peer radio' }).click()
  await page.getByRole('button', { name: 'Put Bench lamp on Box' }).click()
  await page.getByRole('button', { name: 'box, peer radio' }).first().click()
  await expect(page.getByText('has no radio for Box').first()).toBeVisible()
  await page.getByTitle(/hardware address of the other side/).click()
  await page.keyboard.type('everybody')
  await page.keyboard.press('Enter')
  const design = await stored(page, lamp)
  expect(design.links.at(-1)).toMatchObject({
    kind: 'peer',
    channel: 6,
    otherAddress: 'FF:FF:FF:FF:FF:FF',
  })
  expect(design.surfaces.at(-1)).toMatchObject({ kind: 'peer', name: 'Box' })
  await page.getByRole('link', { name: 'Messages' }).click()
  await page.getByRole('radiogroup', { name: 'Link' }).getByText('Box').click()
  await expect(page.locator('.chain')).toContainText('bench on\\n')
  // 192 µs and (43 + 9) bytes at 1 Mbit/s, to everybody: no acknowledgement.
  await expect(page.locator('.chain tbody tr').first()).toContainText('0.61 ms')
  await expect(page.locator('.budget')).toContainText('without router or internet')
})

test('a scene is made, changed, and asked for in the try-box', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByRole('radiogroup', { name: 'Link' }).getByText('Office browser').click()
  await page.getByRole('button', { name: 'A scene: several loads at once' }).click()
  await expect(page.getByLabel('Code of scene All off')).toHaveValue('/scene/all-off')
  await pick(page, 'Wheel lights in All off', 'on')
  const box = page.getByRole('complementary', { name: 'Try it' })
  await box.getByLabel('What arrives at the board').fill('/scene/all-off')
  await expect(box).toContainText('scene All off')
  await expect(box).toContainText('Wheel lights switches on')
  const design = await stored(page, copy)
  expect(design.scenes[0]?.sets).toHaveLength(4)
  await page.getByRole('button', { name: 'remove', exact: true }).click()
  expect((await stored(page, copy)).links[1]?.scenes).toEqual({})
})

test('signed commands: short codes make room, the secret is kept apart, a bare command is refused', async ({
  page,
  copy,
  request,
}) => {
  await page.goto(`/d/${copy}/messages`)
  await pick(page, 'Who may command', /who signs: counter/)
  await expect(page.getByLabel('Booth extractor on', { exact: true })).toHaveValue('booth on')
  const box = page.getByRole('complementary', { name: 'Try it' })
  await box.getByLabel('What arrives at the board').fill('booth on\\n')
  await expect(box).toContainText('without its proof: refused')
  await expect(box).toContainText('changes nothing')
  await page.getByRole('button', { name: 'Make one' }).click()
  const secret = await page.getByLabel('Secret of this link').inputValue()
  expect(secret).toMatch(/^[A-Za-z0-9]{24}$/)
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByText('A secret is kept on this computer')).toBeVisible()
  expect(JSON.stringify(await stored(page, copy))).not.toContain(secret)
  expect(await (await request.get(`/api/designs/${copy}/secrets`)).text()).not.toContain(secret)
  expect(await (await request.get(`/api/designs/${copy}/build.zip`)).body()).toBeTruthy()
  expect(
    (
      await request.put(`/api/designs/${copy}/secrets/apron-link`, { data: { value: 'short' } })
    ).status(),
  ).toBe(400)
  await page.getByRole('link', { name: 'Build' }).click()
  await expect(page.getByText('secrets.h', { exact: true })).toHaveCount(0)
  // Asked for once more before it goes into files.
  await page.getByText('with secrets').click()
  await page.getByRole('button', { name: 'Leave them out' }).click()
  await expect(page.getByRole('checkbox', { name: 'with secrets' })).not.toBeChecked()
  await page.getByText('with secrets').click()
  await page.getByRole('button', { name: 'Put them in' }).click()
  await page.getByText('secrets.h', { exact: true }).click()
  await expect(page.locator('pre')).toContainText(secret)
})

test('a built page signs what it sends, and goes on counting after it was closed', async ({
  page,
  put,
  standIn,
}) => {
  const design = edited(speaking(starter(), DIALECTS.lines!), {
    type: 'setLink',
    linkId: starter().links[0]!.id,
    patch: { auth: { kind: 'counter', tagBytes: 8, window: 0 } },
  })
  const { address } = await standIn(await put(design))
  const panel = design.surfaces.find(s => s.kind === 'panel')!
  const press = async (shown: string) => {
    await page.goto(`${address}/panel/${panel.id}`)
    await expect(page.locator('.np-link')).toContainText('connected')
    await page.locator('.np-box').first().getByRole('button').first().click()
    await expect(page.locator('.np-box').first()).toHaveAttribute('data-shown', shown)
  }
  await press('on')
  await press('off')
  const bare = await page.request.post(`${address}/_wire/${design.links[0]!.id}`, {
    data: { text: `${design.links[0]!.messages[0]!.codes.on}\n` },
  })
  expect(bare.status()).toBe(204)
  await expect(page.locator('.np-box').first()).toHaveAttribute('data-shown', 'off')
})

test('a number that the board hands out: chosen, said twice, and never shown as a refusal', async ({
  page,
  put,
  standIn,
}) => {
  const corridor = await put(kilnCorridor())
  await page.goto(`/d/${corridor}/messages`)
  await pick(page, 'Who may command', 'who signs: a number the board hands out')
  await expect(page.getByText('Each command is said twice: refused')).toBeVisible()
  expect((await stored(page, corridor)).links[0]?.auth).toEqual({
    kind: 'challenge',
    tagBytes: 8,
    validS: 10,
  })
  const { address } = await standIn(corridor)
  await page.goto(`${address}/panel/corridor-phone`)
  const box = page.locator('[data-load-id=humidifier]')
  const link = page.locator('.np-link')
  await expect(link).toHaveAttribute('data-up', 'true')
  for (const shown of ['on', 'off', 'on']) {
    await box.getByRole('button').first().click()
    await expect(box).toHaveAttribute('data-shown', shown)
    await expect(link).toHaveAttribute('data-refused', 'false')
  }
  // Over bytes as well, after the page was opened anew.
  const lines = edited(speaking(starter(), DIALECTS.lines!), {
    type: 'setLink',
    linkId: starter().links[0]!.id,
    patch: { auth: { kind: 'challenge', tagBytes: 8, validS: 5 } },
  })
  const lamp = await standIn(await put(lines))
  const panel = lines.surfaces.find(s => s.kind === 'panel')!
  for (const shown of ['on', 'off']) {
    await page.goto(`${lamp.address}/panel/${panel.id}`)
    await expect(link).toContainText('connected')
    await page.locator('.np-box').first().getByRole('button').first().click()
    await expect(page.locator('.np-box').first()).toHaveAttribute('data-shown', shown)
  }
})

test('a console over a shell: what its board lacks, who logs in, a port to type at', async ({
  page,
  put,
  request,
}) => {
  const id = await put(kilnCorridor())
  await page.goto(`/d/${id}/sheet`)
  await page.getByRole('button', { name: '+ surface' }).click()
  await page.getByRole('menuitem', { name: 'Console over a shell' }).click()
  await page.getByRole('button', { name: 'Put Humidifier on Workbench console' }).click()
  await page.getByRole('button', { name: 'console over a shell' }).first().click()
  await expect(page.getByText(/Nobody can log in to/).first()).toBeVisible()
  await page.getByTitle(/account/).click()
  await page.keyboard.type('kiln')
  await page.keyboard.press('Enter')
  const design = await stored(page, id)
  expect(design.links.at(-1)).toMatchObject({ kind: 'shell', account: 'kiln', clients: 4 })
  await page.getByRole('link', { name: 'Live' }).click()
  await page.getByRole('button', { name: 'Start a stand-in' }).click()
  await page.getByRole('button', { name: 'Its ports, for programs and shells' }).click()
  const line = page.getByText(/^nc 127\.0\.0\.1 \d+$/)
  await expect(line).toBeVisible()
  const port = Number((await line.textContent())?.split(' ').at(-1))
  const typed = connect(port, '127.0.0.1')
  let heard = ''
  typed.on('data', bytes => (heard += bytes.toString()))
  typed.write(`${design.links.at(-1)!.messages[0]!.codes.on}\n`)
  await expect.poll(() => heard).toContain('+humidifier on')
  typed.destroy()
  for (const s of (await (await request.get(`/api/designs/${id}/stand-ins`)).json()) as {
    id: string
  }[])
    await request.delete(`/api/designs/${id}/stand-ins/${s.id}`)
})

test('the showroom: two boards, each wired, played and stood in for by itself', async ({
  page,
  put,
  request,
}) => {
  const id = await put(showroom())
  await page.goto(`/d/${id}/wiring`)
  await page.getByRole('radiogroup', { name: 'Controller' }).getByText('Porch board').click()
  await expect(page.getByRole('button', { name: /Porch lamp/ }).first()).toBeVisible()
  await expect(page.getByRole('button', { name: /Shelf lamps/ })).toHaveCount(0)
  await page.getByRole('link', { name: 'Bench' }).click()
  await expect(page.locator('.head', { hasText: 'Counter knob' })).toBeVisible()
  await pick(page, 'Load shown', 'Porch lamp')
  await expect(page.locator('.head', { hasText: 'Workbench computer' })).toBeVisible()
  await expect(page.locator('.head', { hasText: 'Counter knob' })).toHaveCount(0)
  await page.getByRole('link', { name: 'Live' }).click()
  await page.getByRole('button', { name: 'Start a stand-in' }).click()
  await expect(page.getByRole('article')).toHaveCount(2)
  await expect(page.getByRole('article').nth(1)).toContainText('Porch board')
  for (const s of (await (await request.get(`/api/designs/${id}/stand-ins`)).json()) as {
    id: string
  }[])
    await request.delete(`/api/designs/${id}/stand-ins/${s.id}`)
  await page.getByRole('link', { name: 'Build' }).click()
  const places = page.getByRole('navigation', { name: 'Where the sides go' })
  await expect(page.getByText('circuit-board.html', { exact: true })).toBeVisible()
  await places.getByRole('button', { name: /^Porch board/ }).click()
  await expect(page.getByText('circuit-porch-board.html', { exact: true })).toBeVisible()
  await expect(page.getByText('circuit-board.html', { exact: true })).toHaveCount(0)
  // A program is a folder, which is looked into and taken away whole.
  const program = `${id}-porch-board.ino`
  await page.getByRole('button', { name: `${program} and` }).click()
  await expect(page.locator('pre')).toContainText('void loop() { nolvi::loopBoard(); }')
  await pick(page, 'File of the program', 'src/design.cpp')
  await expect(page.locator('pre')).toContainText('// load Porch lamp')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: `Take away ${program}` }).click(),
  ])
  expect(Object.keys(unzipSync(await readFile(await download.path())))).toEqual(
    expect.arrayContaining([
      `${id}-porch-board/${program}`,
      `${id}-porch-board/src/board.cpp`,
      `${id}-porch-board/src/sizes.h`,
    ]),
  )
})

test('a stand-in answers real datagrams', async ({ put, standIn }) => {
  const design = over(speaking(starter(), DIALECTS.lines!), 'udp')
  const info = (await standIn(await put(design))) as unknown as {
    datagramPorts: Record<string, number>
  }
  const answer = await new Promise<string>(resolve => {
    const socket = createSocket('udp4')
    socket.on('message', bytes => {
      resolve(bytes.toString())
      socket.close()
    })
    socket.send('?\n', Object.values(info.datagramPorts)[0]!, '127.0.0.1')
  })
  expect(answer).toContain('off')
})

test('timers are asked for by a code, with a time behind it', async ({ page, lamp }) => {
  await page.goto(`/d/${lamp}/sheet`)
  await page
    .getByRole('button', { name: /on when/ })
    .first()
    .click()
  await page.getByText('can be asked for').click()
  await page.getByRole('link', { name: 'Messages' }).click()
  await pick(page, 'Dialect', 'lines of text')
  await page.getByRole('button', { name: 'Another code for Bench lamp' }).click()
  await page.getByRole('menuitem', { name: 'for', exact: true }).click()
  const box = page.getByRole('complementary', { name: 'Try it' })
  await box.getByLabel('What arrives at the board').fill('bench for 5000\\n')
  await expect(box).toContainText('Bench lamp on for 5')
  await expect(box).toContainText('Bench lamp switches on')
})

test('the program itself runs in the place of a stand-in, from Live', async ({
  page,
  put,
  request,
}) => {
  const id = await put(kilnCorridor())
  await page.goto(`/d/${id}/live`)
  await page.getByRole('button', { name: 'Run the program itself' }).click()
  const it = page.getByRole('article')
  await expect(it).toContainText('the program itself')
  const lights = page.locator('[data-load=corridor-lights]')
  await expect(lights).toContainText('off', { timeout: 120_000 })

  const [panel] = await Promise.all([
    page.waitForEvent('popup'),
    it.getByRole('link', { name: 'Office window' }).click(),
  ])
  await expect(panel.locator('body')).toContainText('connected')
  const [wall] = await Promise.all([
    page.waitForEvent('popup'),
    it.getByRole('link', { name: 'Wall controls and lamps' }).click(),
  ])
  await wall
    .getByRole('button', { name: /Corridor lights/ })
    .first()
    .click()
  await expect(lights).toContainText('on')
  await expect(wall.locator('[data-load=corridor-lights]')).toContainText('on')
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(it).toHaveCount(0)

  // One that is not for here says where it is tried instead.
  const lamp = await put(starter())
  const refused = await request.post(`/api/designs/${lamp}/stand-ins?runs=program`)
  expect(refused.status()).toBe(409)
  expect(await refused.text()).toContain('emulated board')
})
