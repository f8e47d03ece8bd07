/**
 * Serves Nolvi: builds it first when there is no build or a source is newer. `--demo` seeds the demo designs.
 * Environment: NOLVI_PORT (4680), NOLVI_HOST (127.0.0.1), NOLVI_DATA (.data).
 */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { join, resolve } from 'node:path'

const root = resolve(import.meta.dirname, '..')
const server = join(root, '.output/server/index.mjs')
const SOURCES = ['app', 'core', 'server', 'demo', 'public', 'nuxt.config.ts', 'package-lock.json']

export function buildIfNeeded() {
  const stamp = join(root, '.output/nitro.json')
  if (existsSync(server) && existsSync(stamp) && SOURCES.every(s => newest(join(root, s)) <= statSync(stamp).mtimeMs)) return
  console.log('Building Nolvi, about half a minute ...')
  const built = spawnSync('npx', ['nuxt', 'build'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1' } })
  if (built.status !== 0) {
    console.error('The build failed. `npx nuxt build` shows why.')
    process.exit(1)
  }
}

/** Starts the built server; resolves with the process and its address once it answers. */
export async function startServer({ demo = false, port = process.env.NOLVI_PORT ?? '4680', data = process.env.NOLVI_DATA ?? join(root, '.data'), host = process.env.NOLVI_HOST ?? '127.0.0.1' } = {}) {
  const child = spawn(process.execPath, [server], {
    cwd: root, stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, NITRO_PORT: port, NITRO_HOST: host, NOLVI_HOST: host, NOLVI_DATA: data, NOLVI_DEMO: demo ? '1' : '0', NOLVI_MIGRATIONS: join(root, 'server/db/migrations') },
  })
  child.stdout.resume()
  let ended = false
  child.once('exit', () => { ended = true })
  const address = `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`
  for (let i = 0; i < 600 && !ended; i++) {
    const ok = await fetch(`${address}/api/health`).then(r => r.ok, () => false)
    if (ok && !ended) return { child, address }
    await new Promise(done => setTimeout(done, 100))
  }
  child.kill()
  return null
}

function newest(path) {
  const stat = statSync(path, { throwIfNoEntry: false })
  if (!stat) return 0
  return stat.isDirectory() ? Math.max(0, ...readdirSync(path).map(name => newest(join(path, name)))) : stat.mtimeMs
}

if (process.argv[1] === import.meta.filename) {
  const demo = process.argv.includes('--demo')
  buildIfNeeded()
  const started = await startServer({ demo })
  if (!started) process.exit(1)
  console.log(`Nolvi listens on ${started.address}${demo ? ' with the demo designs of Marrow Lane' : ''}. Ctrl+C ends it.`)
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => started.child.kill(signal))
  started.child.on('exit', code => process.exit(code ?? 0))
}
