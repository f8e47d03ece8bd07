/**
 * Serves Nolvi: builds it first when there is no build or a source is newer. `--demo` seeds the
 * demo designs. Environment: NOLVI_PORT (4680), NOLVI_HOST (127.0.0.1), NOLVI_DATA (.data).
 */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { networkInterfaces } from 'node:os'
import { join, resolve } from 'node:path'
import { createInterface } from 'node:readline'
import qrcode from 'qrcode'

const root = resolve(import.meta.dirname, '..')
const server = join(root, '.output/server/index.mjs')
const SOURCES = ['app', 'core', 'server', 'demo', 'public', 'nuxt.config.ts', 'package-lock.json']

export function buildIfNeeded() {
  const stamp = join(root, '.output/nitro.json')
  if (
    existsSync(server)
    && existsSync(stamp)
    && SOURCES.every(s => newest(join(root, s)) <= statSync(stamp).mtimeMs)
  )
    return
  console.log('Building Nolvi, about half a minute ...')
  // What a build tells is of interest only when it fails.
  const built = spawnSync('npx', ['nuxt', 'build'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
    maxBuffer: 1 << 26,
    env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1' },
  })
  if (built.status !== 0) {
    console.error(
      `${built.stdout ?? ''}${built.stderr ?? ''}\nThe build failed; what it told stands above.`,
    )
    process.exit(1)
  }
}

/**
 * Starts the built server; resolves with the process, its address once it answers, and the pairing
 * code where it listens on the network; null, and told why, when it does not start.
 */
export async function startServer({
  demo = false,
  port = process.env.NOLVI_PORT ?? '4680',
  data = process.env.NOLVI_DATA ?? join(root, '.data'),
  host = process.env.NOLVI_HOST ?? '127.0.0.1',
} = {}) {
  const child = spawn(process.execPath, [server], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      NITRO_PORT: port,
      NITRO_HOST: host,
      NOLVI_HOST: host,
      NOLVI_DATA: data,
      NOLVI_DEMO: demo ? '1' : '0',
      NOLVI_MIGRATIONS: join(root, 'server/db/migrations'),
    },
  })
  const started = {
    child,
    address: `http://${host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host.includes(':') ? `[${host}]` : host}:${port}`,
    code: null,
  }
  let listens = false
  createInterface({ input: child.stdout }).on('line', line => {
    const code = /^Pairing code: (\d{6})$/.exec(line)?.[1]
    if (code) {
      const before = started.code
      started.code = code
      if (before && process.argv[1] === import.meta.filename) tellPairing(started, host, port)
    }
    // Where the framework listens is told by ourselves, in words. Until then whoever answers on
    // that port is somebody else.
    else if (line.startsWith('Listening on')) listens = true
    else console.log(line)
  })
  let ended = null
  child.once('exit', (code, signal) => {
    ended = signal ?? `code ${code}`
  })
  for (let i = 0; i < WAIT_S * 10 && !ended; i++) {
    // One that asks for a key is there too.
    const there =
      listens
      && (await fetch(`${started.address}/api/health`).then(
        r => r.ok || r.status === 401,
        () => false,
      ))
    if (there && !ended && (isLoopback(host) || started.code)) return started
    await new Promise(done => setTimeout(done, 100))
  }
  console.error(
    ended
      ? `Nolvi did not start (${ended}); why stands above.`
      : `Nolvi did not answer on ${started.address} within ${WAIT_S} s and is ended.`,
  )
  child.kill()
  return null
}

/** Ends a server that was started here, and waits until it is gone. */
export async function stopServer({ child }) {
  if (child.exitCode !== null || child.signalCode !== null) return
  const ended = new Promise(done => child.once('exit', done))
  child.kill('SIGTERM')
  await ended
}

const WAIT_S = 60
const isLoopback = host => host === 'localhost' || host === '::1' || host.startsWith('127.')

/** Where others come in, with the code as a picture for a phone. */
async function tellPairing({ code, address }, host, port) {
  const others =
    host === '0.0.0.0' || host === '::'
      ? Object.values(networkInterfaces())
          .flat()
          .filter(a => a && !a.internal && a.family === 'IPv4')
          .map(a => `http://${a.address}:${port}`)
      : [address]
  console.log(`\nPair this machine:    ${address}/#code=${code}`)
  for (const other of others)
    console.log(`Pair another device:  ${other}   code ${code.slice(0, 3)} ${code.slice(3)}`)
  if (others[0])
    console.log(
      await qrcode.toString(`${others[0]}/#code=${code}`, { type: 'terminal', small: true }),
    )
}

function newest(path) {
  const stat = statSync(path, { throwIfNoEntry: false })
  if (!stat) return 0
  return stat.isDirectory()
    ? Math.max(0, ...readdirSync(path).map(name => newest(join(path, name))))
    : stat.mtimeMs
}

if (process.argv[1] === import.meta.filename) {
  const demo = process.argv.includes('--demo')
  buildIfNeeded()
  const started = await startServer({ demo })
  if (!started) process.exit(1)
  console.log(
    `Nolvi listens on ${started.address}${demo ? ' with the demo designs of Marrow Lane' : ''}. Ctrl+C ends it.`,
  )
  if (started.code) {
    console.log(`
It is reached over the network, so every device needs a key, and every port asks for it: editor, stand-ins, panels.
Protected: nobody without the code comes in, a key can be withdrawn (Devices, at the foot of the shelf), guessing is slowed.
Not protected: nothing is encrypted on the way. Who can listen in on this network can read along and take a key.`)
    await tellPairing(started, process.env.NOLVI_HOST, process.env.NOLVI_PORT ?? '4680')
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => started.child.kill(signal))
  started.child.on('exit', code => process.exit(code ?? 0))
}
