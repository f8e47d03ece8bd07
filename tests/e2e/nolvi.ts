/**
 * What browser tests share: a server of their own with the demo designs, a watch over every page
 * (no request leaves this machine, no error in the console), and a fresh copy of a design for each
 * test that changes one.
 */
import { VIEWS } from '../../app/composables/views'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { test as base, expect, type BrowserContext, type Page } from '@playwright/test'
import type { Design } from '../../core/design/schema'
import { startServer, stopServer } from '../../scripts/serve.mjs'
import { glazeRoom, starter } from '../fixtures/designs'

interface Started {
  address: string
  child: import('node:child_process').ChildProcess
}
interface StandInInfo {
  id: string
  address: string
}

/** Requests outside this machine and errors of pages, as they happen. */
function watch(context: BrowserContext): string[] {
  const seen: string[] = []
  context.on('request', request => {
    const url = new URL(request.url())
    if (['http:', 'https:', 'ws:', 'wss:'].includes(url.protocol) && url.hostname !== '127.0.0.1')
      seen.push(`request to ${request.url()}`)
  })
  context.on('page', page => watchPage(page, seen))
  return seen
}
function watchPage(page: Page, seen: string[]): void {
  page.on('pageerror', error => seen.push(`page error: ${error.message}`))
  page.on('console', message => {
    if (
      message.type() === 'error'
      // A stand-in without power answers so; who asks it meanwhile is no fault.
      && !(/status of 503/.test(message.text()) && !message.location().url.includes('/api/'))
      // The driver of the browser itself looks into frames in which no program may run.
      && !message.text().startsWith("Blocked script execution in 'about:srcdoc'")
      && !/status of 4\d\d|ERR_CONNECTION_REFUSED|ERR_INCOMPLETE_CHUNKED|ERR_ADDRESS_UNREACHABLE|ERR_EMPTY_RESPONSE|ERR_CONNECTION_RESET/.test(
        message.text(),
      )
    )
      seen.push(`console: ${message.text()}`)
  })
}

export const test = base.extend<
  {
    guard: string[]
    put: (design: Design) => Promise<string>
    copy: string
    lamp: string
    standIn: (id: string) => Promise<StandInInfo>
  },
  { nolvi: Started }
>({
  nolvi: [
    // eslint-disable-next-line no-empty-pattern
    async ({}, use, info) => {
      const data = mkdtempSync(join(tmpdir(), 'nolvi-e2e-'))
      const started = (await startServer({
        demo: true,
        port: String(4720 + info.parallelIndex),
        data,
      })) as Started | null
      if (!started) throw new Error('the server did not start')
      await use(started)
      await stopServer(started)
      rmSync(data, { recursive: true, force: true })
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ nolvi }, use) => use(nolvi.address),
  guard: [
    async ({ context }, use) => {
      // What views are for is read by now: what is measured does not move.
      await context.addInitScript(
        views => {
          if (location.protocol === 'http:')
            localStorage.setItem('nolvi known views', JSON.stringify(views))
        },
        VIEWS.map(v => v.id),
      )
      const seen = watch(context)
      await use(seen)
      expect(seen).toEqual([])
    },
    { auto: true },
  ],
  /**
   * A server ends a connection on which nothing was said for five seconds, also when somebody is
   * just about to speak: then it is said once more.
   */
  request: async ({ request }, use) => {
    for (const method of ['get', 'post', 'put', 'delete'] as const) {
      const asked = request[method].bind(request)
      request[method] = (url, options) => asked(url, { maxRetries: 2, ...options })
    }
    await use(request)
  },
  /** Stores a design, answers with its id. */
  put: async ({ request }, use) =>
    use(async design => {
      const answer = await request.post('/api/designs', { data: design })
      expect(answer.status()).toBe(201)
      return ((await answer.json()) as { design: Design }).design.id
    }),
  copy: async ({ put }, use) => use(await put(glazeRoom())),
  lamp: async ({ put }, use) => use(await put(starter())),
  standIn: async ({ request }, use) => {
    const started: string[] = []
    await use(async id => {
      const info = (await (
        await request.post(`/api/designs/${id}/stand-ins`)
      ).json()) as StandInInfo
      started.push(`/api/designs/${id}/stand-ins/${info.id}`)
      return info
    })
    // One that does not end at once ends with its server: that they can be ended is tried in tests
    // of their own.
    for (const path of started)
      await request.delete(path).catch((error: Error) => console.warn(`${path}: ${error.message}`))
  },
})
export { expect }

/** The stored design, once it holds what is expected. */
export async function stored(page: Page, id: string): Promise<Design> {
  await expect(page.getByRole('banner').getByRole('status')).toContainText('saved')
  return (
    (await (await page.request.get(`/api/designs/${id}`, { maxRetries: 2 })).json()) as {
      design: Design
    }
  ).design
}

/** Chooses in a select of Element Plus, found by its label. */
export async function pick(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page
    .locator('.el-select', { has: page.getByRole('combobox', { name: label, exact: true }) })
    .click()
  await page.getByRole('option', { name: option }).click()
}
