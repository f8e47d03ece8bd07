/**
 * The long hostile run: kills during saves, power cuts replayed, and what nobody should send. `npm
 * run hostile -- [kills] [cuts] [requests]`. What `npm test` runs of it is short; this is for an
 * evening.
 */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import { buildIfNeeded, startServer, stopServer } from './serve.mjs'

const [kills = 1000, cuts = 200, requests = 1_000_000] = process.argv.slice(2).map(Number)
const root = resolve(import.meta.dirname, '..')
const folder = mkdtempSync(join(tmpdir(), 'nolvi-hostile-'))
/** Longer than this nobody is to wait for an answer while the server is besieged. */
const MOST_WAIT_MS = 200
let wrong = 0

buildIfNeeded()
try {
  await killed()
  cut()
  await besieged()
} finally {
  rmSync(folder, { recursive: true, force: true })
}
console.log(
  wrong ? `${wrong} things went wrong.` : 'Nothing was lost, nothing fell, nobody waited long.',
)
process.exit(wrong ? 1 : 0)

/**
 * A save after the other, and at some moment the process is gone; what was acknowledged has to be
 * there at the next start.
 */
async function killed() {
  const data = join(folder, 'killed')
  let acknowledged = 0
  let lost = 0
  for (let round = 0; round <= kills; round++) {
    const server = await startServer({ demo: true, port: '4870', data })
    if (!server) throw new Error('the server did not start')
    const at = `${server.address}/api/designs/showroom`
    const { design, revision } = await (await fetch(at)).json()
    if (revision < acknowledged || (acknowledged > 0 && revision > acknowledged + 1)) lost++
    acknowledged = revision
    if (round === kills) {
      await stopServer(server)
      break
    }
    const ended = new Promise(done => server.child.once('exit', done))
    setTimeout(() => server.child.kill('SIGKILL'), 20 + ((round * 37) % 400))
    for (;;) {
      const answer = await fetch(at, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          baseRevision: acknowledged,
          design: { ...design, name: `Revision ${acknowledged + 1}` },
        }),
      }).catch(() => null)
      if (!answer?.ok) break
      acknowledged = (await answer.json().catch(() => ({ revision: acknowledged }))).revision
    }
    await ended
    if (round % 50 === 49) console.log(`${round + 1} kills, revision ${acknowledged}, lost ${lost}`)
  }
  wrong += lost
  console.log(`Kills: ${kills}, acknowledged saves ${acknowledged}, lost ${lost}`)
}

function cut() {
  const ran = spawnSync('npx', ['vitest', 'run', 'tests/unit/server/power-cut.test.ts'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    encoding: 'utf8',
    env: { ...process.env, NOLVI_CUTS: String(cuts) },
  })
  if (ran.status !== 0) wrong++
  console.log(`Power cuts: ${cuts}, ${ran.status === 0 ? 'nothing lost' : `LOST:\n${ran.stdout}`}`)
}

async function besieged() {
  const outfile = join(folder, 'siege.mjs')
  await build({
    stdin: {
      contents: 'export { besiege } from "./siege"\nexport { besiegeBoard } from "./siege-board"',
      resolveDir: join(root, 'tests/fixtures'),
    },
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'error',
  })
  const { besiege, besiegeBoard } = await import(pathToFileURL(outfile).href)
  const server = await startServer({ demo: true, port: '4871', data: join(folder, 'besieged') })
  if (!server) throw new Error('the server did not start')
  try {
    await rounds(server, besiege, besiegeBoard)
  } finally {
    await stopServer(server)
  }
}

/** A siege of the routes starts stand-ins until no more may run: they are stopped. */
async function freeBoards(address) {
  for (const { id } of await (await fetch(`${address}/api/designs`)).json()) {
    const at = `${address}/api/designs/${id}/stand-ins`
    for (const board of await (await fetch(at)).json())
      await fetch(`${at}/${board.id}`, { method: 'DELETE' })
  }
}

async function rounds(server, besiege, besiegeBoard) {
  // What a siege of the routes may take away is set up for each part.
  const { design } = await (await fetch(`${server.address}/api/designs/glaze-room`)).json()
  let [sent, faults, longest] = [0, 0, 0]
  for (let seed = 1; sent < requests; seed++) {
    const part = await besiege(server.address, Math.min(15_000, requests - sent), seed)
    note(part)
    await freeBoards(server.address)
    const put = await (
      await fetch(`${server.address}/api/designs`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ...design, id: 'besieged' }),
      })
    ).json()
    const board = await (
      await fetch(`${server.address}/api/designs/${put.design.id}/stand-ins`, { method: 'POST' })
    ).json()
    note(
      await besiegeBoard(
        server.address,
        board.address,
        Math.min(5000, Math.max(0, requests - sent)),
        seed,
        Object.values(board.datagramPorts)[0] ?? null,
      ),
    )
    await fetch(`${server.address}/api/designs/${put.design.id}/stand-ins/${board.id}`, {
      method: 'DELETE',
    })
    console.log(
      `${sent} hostile things, ${faults} faults, others waited at most ${longest.toFixed(0)} ms`,
    )
  }
  function note(part) {
    sent += part.sent
    faults += part.faults.length
    longest = Math.max(longest, part.longestWaitMs)
    for (const { asked, status, text } of part.faults.slice(0, 5))
      console.log(
        `FAULT ${status} ${asked.method} ${asked.path.slice(0, 80)}: ${text.slice(0, 120)} | ${(asked.body ?? '').slice(0, 200)}`,
      )
  }
  wrong += faults
  if (longest > MOST_WAIT_MS) {
    console.log(`Others waited ${longest.toFixed(0)} ms; at most ${MOST_WAIT_MS} are meant.`)
    wrong++
  }
}
