/**
 * All checks, in the order in which they fail fastest: types, lint, generated files, unit tests,
 * build, browser tests. Installs Debian's chromium when it is missing and this may.
 */
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { CHROMIUM } from './chromium.mjs'
import { buildIfNeeded } from './serve.mjs'

const STEPS = [
  ['types of app and server', 'npx', ['nuxt', 'typecheck']],
  ['types of core', 'npx', ['tsc', '-p', 'core/tsconfig.json']],
  ['types of tests', 'npx', ['tsc', '-p', 'tests/tsconfig.json']],
  ['format', 'npx', ['prettier', '--check', '.', '--log-level', 'warn']],
  ['lint', 'npx', ['eslint', '.', '--max-warnings', '0']],
  ['unit tests', 'npx', ['vitest', 'run']],
]

for (const [what, program, args] of STEPS) step(what, program, args)
buildIfNeeded()
haveChromium()
step('browser tests', 'npx', ['playwright', 'test', ...process.argv.slice(2)])
console.log('All checks passed.')

function step(what, program, args) {
  console.log(`\n== ${what}`)
  const since = performance.now()
  const ran = spawnSync(program, args, {
    stdio: 'inherit',
    env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1' },
  })
  if (ran.status !== 0) {
    console.error(`\n${what}: failed. \`${program} ${args.join(' ')}\` runs this part alone.`)
    process.exit(1)
  }
  console.log(`== ${what}: passed in ${((performance.now() - since) / 1000).toFixed(0)} s`)
}

function haveChromium() {
  if (existsSync(CHROMIUM)) return
  console.log("\nDebian's chromium is missing; trying to install it.")
  if (process.getuid?.() === 0) {
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit' })
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
      stdio: 'inherit',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  }
  if (existsSync(CHROMIUM)) return
  console.error(`The browser tests need ${CHROMIUM}: apt-get install chromium`)
  process.exit(1)
}
