import { mkdtempSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { CHROMIUM, CHROMIUM_ARGS } from '/work/main/scripts/chromium.mjs'
import { startServer, stopServer } from '/work/main/scripts/serve.mjs'
const data = mkdtempSync('/tmp/look-')
const server = await startServer({ port: '4791', data, demo: true, quiet: true }).catch(e => { console.log(e); process.exit(1) })
const base = 'http://127.0.0.1:4791'
const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
page.on('pageerror', e => console.log('ERR', e.message))
const shot = n => page.screenshot({ path: `/tmp/w/m/${n}.png` })
try {
  const steps = (await import(process.argv[2])).default
  await steps({ page, base, shot, browser })
} catch (e) { console.log(e); await shot('fail') }
await browser.close(); await stopServer(server)
