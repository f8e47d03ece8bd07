/** Who may come in, what nobody should send, one file with everything. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startServer, stopServer } from '../../scripts/serve.mjs'
import { glazeRoom } from '../fixtures/designs'
import { besiege } from '../fixtures/siege'
import { expect, test } from './nolvi'

interface Network {
  child: import('node:child_process').ChildProcess
  address: string
  code: string
}

test.describe('on the network', () => {
  let data = ''
  let nolvi: Network
  test.beforeAll(async () => {
    data = mkdtempSync(join(tmpdir(), 'nolvi-lan-'))
    nolvi = (await startServer({
      demo: true,
      port: String(4840 + test.info().parallelIndex),
      data,
      host: '0.0.0.0',
    })) as unknown as Network
    expect(nolvi.code).toMatch(/^\d{6}$/)
  })
  test.afterAll(async () => {
    await stopServer(nolvi)
    rmSync(data, { recursive: true, force: true })
  })

  test('without a key every route and port answers 401 and tells nothing; a phone is in with the code, until its key is withdrawn', async ({
    page,
    request,
    context,
  }) => {
    for (const path of [
      '/',
      '/icon.svg',
      '/preview.html',
      '/_nuxt/x.js',
      '/d/glaze-room/sheet',
      '/api/health',
      '/api/designs',
      '/api/designs/glaze-room',
      '/api/designs/nowhere',
      '/api/nothing',
      '/api/backup',
      '/api/devices',
      '/api/schema/design.json',
    ]) {
      const answer = await request.get(nolvi.address + path)
      expect([path, answer.status()]).toEqual([path, 401])
      expect(await answer.text()).not.toMatch(/glaze|marrow|fingerprint/i)
    }
    expect(
      (
        await request.put(`${nolvi.address}/api/designs/glaze-room`, {
          data: { baseRevision: 1, design: glazeRoom() },
        })
      ).status(),
    ).toBe(401)

    await page.setViewportSize({ width: 390, height: 780 })
    await page.goto(`${nolvi.address}/d/glaze-room/sheet`)
    await page.getByLabel('Code of six digits').fill(nolvi.code === '000000' ? '111111' : '000000')
    await page.getByRole('button', { name: 'Pair' }).click()
    await expect(page.getByRole('status')).toContainText('not the code')
    await page
      .getByLabel('Code of six digits')
      .fill(`${nolvi.code.slice(0, 3)} ${nolvi.code.slice(3)}`)
    await page.getByRole('button', { name: 'Pair' }).click()
    await expect(page.getByRole('heading', { name: 'Glaze room' })).toBeVisible()
    const [cookie] = await context.cookies(nolvi.address)
    expect(cookie).toMatchObject({ name: 'nolvi-key', httpOnly: true, sameSite: 'Strict' })

    // The ports of stand-ins ask for the same key.
    const info = (await (
      await page.request.post(`${nolvi.address}/api/designs/glaze-room/stand-ins`)
    ).json()) as { address: string }
    const standIn = `http://127.0.0.1:${new URL(info.address).port}`
    for (const path of ['/_wall', '/lights/on', '/panel/office-browser', '/nothing'])
      expect((await request.get(standIn + path)).status(), path).toBe(401)
    expect((await page.request.get(`${standIn}/lights/on`)).status()).toBe(200)

    // Secrets are asked for with the code of the moment.
    const reveal = (more: object) =>
      page.request.post(`${nolvi.address}/api/designs/glaze-room/secrets/reveal`, {
        data: { confirm: true, ...more },
      })
    expect((await reveal({})).status()).toBe(403)
    const { code } = (await (await page.request.get(`${nolvi.address}/api/devices`)).json()) as {
      code: string
    }
    expect((await reveal({ code })).status()).toBe(200)

    await page.goto(nolvi.address)
    await expect(page.getByRole('heading', { name: 'Devices' })).toBeVisible()
    // What the page still fetches comes while the key holds.
    await expect(page.getByRole('region', { name: 'What it will be' })).toBeVisible()
    await page.getByRole('button', { name: /Withdraw the key/ }).click()
    await expect(page.getByRole('heading', { name: 'Pair this device' })).toBeVisible()
    expect((await page.request.get(`${nolvi.address}/api/designs`)).status()).toBe(401)
  })

  test('codes are not guessed through', async ({ request }) => {
    const tries = []
    for (let i = 0; i < 7; i++)
      tries.push(
        (await request.post(`${nolvi.address}/api/pair`, { data: { code: '12345' } })).status(),
      )
    expect(tries.slice(-2)).toEqual([429, 429])
  })
})

test('pages from elsewhere change nothing and read nothing', async ({
  request,
  copy,
  baseURL,
  standIn,
}) => {
  const before = (await (await request.get(`/api/designs/${copy}`)).json()) as unknown
  const from = (origin: string) => ({ origin: origin, 'sec-fetch-site': 'cross-site' })
  for (const origin of ['http://evil.example', 'null', 'http://127.0.0.1:1']) {
    expect(
      (
        await request.put(`/api/designs/${copy}`, {
          headers: from(origin),
          data: { baseRevision: 1, design: glazeRoom() },
        })
      ).status(),
      origin,
    ).toBe(403)
    expect(
      (await request.delete(`/api/designs/${copy}`, { headers: from(origin) })).status(),
      origin,
    ).toBe(403)
    expect((await request.get('/api/designs', { headers: from(origin) })).status(), origin).toBe(
      403,
    )
  }
  expect(
    (
      await request.post('/api/designs', {
        headers: { 'content-type': 'text/plain' },
        data: JSON.stringify(glazeRoom()),
      })
    ).status(),
  ).toBe(415)
  expect(
    (
      await request.put(`/api/designs/${copy}`, {
        headers: { origin: new URL(baseURL!).origin },
        data: { baseRevision: 9, design: { ...glazeRoom(), id: copy } },
      })
    ).status(),
  ).toBe(409)
  expect(await (await request.get(`/api/designs/${copy}`)).json()).toEqual(before)
  const { address } = await standIn(copy)
  expect(
    (await request.get(`${address}/lights/on`, { headers: from('https://evil.example') })).status(),
  ).toBe(403)
  expect(
    (
      await request.post(`${address}/_wall/press`, {
        headers: from('null'),
        data: { power: 'cut' },
      })
    ).status(),
  ).toBe(403)
  expect(
    (await request.get(`${address}/state`, { headers: { host: 'evil.example' } })).status(),
  ).toBe(421)
  expect((await request.get(`${address}/lights/on`, { headers: from('null') })).status()).toBe(200)
})

test('answers carry what keeps a browser safe', async ({ request }) => {
  const {
    'content-security-policy': policy,
    'x-content-type-options': sniff,
    'x-powered-by': by,
  } = (await request.get('/')).headers()
  expect(policy).toMatch(/script-src 'self' 'sha256-[^;]*;/)
  expect(policy).not.toMatch(/script-src[^;]*unsafe/)
  expect([sniff, by]).toEqual(['nosniff', undefined])
  expect((await request.get('/preview.html')).headers()['content-security-policy']).toContain(
    "sandbox allow-scripts; default-src 'none'",
  )
})

test('two thousand things that nobody should send: no fault of the server, and everybody else is answered', async () => {
  test.setTimeout(600_000)
  // One of its own: designs are deleted too.
  const data = mkdtempSync(join(tmpdir(), 'nolvi-siege-'))
  const nolvi = (await startServer({
    demo: true,
    port: String(4850 + test.info().parallelIndex),
    data,
  }))!
  try {
    const { sent, faults } = await besiege(nolvi.address, 2000, 7)
    expect(faults).toEqual([])
    expect(sent).toBeGreaterThanOrEqual(2000)
  } finally {
    await stopServer(nolvi)
    rmSync(data, { recursive: true, force: true })
  }
})

test('one file with everything, and back from it', async ({ page, request, put }) => {
  await put({ ...glazeRoom(), name: 'Kept' })
  await page.goto('/')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save one now' }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/^nolvi-\d{4}-\d\d-\d\d\.json\.gz$/)
  const path = await download.path()
  await put({ ...glazeRoom(), name: 'Made later' })
  await page.reload()
  await page.getByLabel('Backup file').setInputFiles({
    name: 'cut.json.gz',
    mimeType: 'application/gzip',
    buffer: Buffer.from('nothing'),
  })
  await page.getByRole('button', { name: 'Restore it' }).click()
  await expect(
    page.getByRole('status').filter({ hasText: 'This backup was not taken' }),
  ).toContainText('nothing was changed')
  await page.getByLabel('Backup file').setInputFiles(path)
  await page.getByRole('button', { name: 'Leave all as it is' }).click()
  await expect(page.getByRole('row', { name: /Made later/ })).toBeVisible()
  expect((await request.get('/api/backup')).headers()['content-type']).toBe('application/gzip')
})

test('a copy under a taken id says so; revisions come in pages', async ({ request, copy }) => {
  const taken = (await (
    await request.post('/api/designs', { data: { ...glazeRoom(), id: copy } })
  ).json()) as { renamed: { from: string; to: string }; design: { id: string } }
  expect(taken.renamed).toEqual({ from: copy, to: taken.design.id })
  for (let n = 1; n < 5; n++)
    await request.put(`/api/designs/${copy}`, {
      data: { baseRevision: n, design: { ...glazeRoom(), id: copy }, words: `Change ${n}` },
    })
  const numbers = async (query: string) =>
    (
      (await (await request.get(`/api/designs/${copy}/revisions${query}`)).json()) as {
        number: number
      }[]
    ).map(r => r.number)
  expect([
    await numbers('?limit=2'),
    await numbers('?limit=2&before=4'),
    await numbers('?before=2'),
  ]).toEqual([[5, 4], [3, 2], [1]])
})
