import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { CHROMIUM, CHROMIUM_ARGS } from './chromium.mjs'
import { startServer, stopServer } from './serve.mjs'
const [, , path, out, ...acts] = process.argv
const server = await startServer({ port: '4799', data: mkdtempSync(join(tmpdir(), 'look-')), demo: true, quiet: true })
const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto(`http://127.0.0.1:4799${path}`)
await page.waitForTimeout(2500)
for (const a of acts) { await eval(`(async () => { ${a} })()`); await page.waitForTimeout(500) }
await page.screenshot({ path: out })
await browser.close()
await stopServer(server)
process.exit(0)
