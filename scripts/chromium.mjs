/** Debian's Chromium, headless, told to ask nothing of the outside. */
import { existsSync } from 'node:fs'

export const CHROMIUM =
  ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find(path =>
    existsSync(path),
  ) ?? '/usr/bin/chromium'
export const CHROMIUM_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]
