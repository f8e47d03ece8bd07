/** Nothing that was acknowledged is lost, and two servers never share a folder. */
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import type { Design } from '../../core/design/schema'
import { startServer, stopServer } from '../../scripts/serve.mjs'
import { glazeRoom } from '../fixtures/designs'
import { expect, test } from './nolvi'

test('kill -9 during saves loses no acknowledged revision', async () => {
  test.setTimeout(600_000)
  const data = mkdtempSync(join(tmpdir(), 'nolvi-kill-'))
  const port = String(4760 + test.info().parallelIndex)
  try {
    let acknowledged = 1
    for (let round = 0; round < 3; round++) {
      const server = await startServer({ demo: true, port, data })
      if (!server) throw new Error('the server did not start')
      const at = `${server.address}/api/designs/glaze-room`
      const now = (await (await fetch(at)).json()) as { design: Design; revision: number }
      expect(now.revision, `round ${round}`).toBeGreaterThanOrEqual(acknowledged)
      // The answer to the last save may have been lost with the server, so one more than
      // acknowledged may be stored.
      expect(now.revision).toBeLessThanOrEqual(acknowledged + 1)
      if (now.revision > 1) expect(now.design.name).toBe(`Revision ${now.revision}`)
      acknowledged = now.revision
      const killAfter = 5 + 7 * round
      let killed = false
      while (!killed) {
        const design = { ...glazeRoom(), name: `Revision ${acknowledged + 1}` }
        const saving = fetch(at, {
          method: 'PUT',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ baseRevision: acknowledged, design }),
        })
        if (acknowledged - now.revision === killAfter) {
          setTimeout(() => server.child.kill('SIGKILL'), 3 * round)
          killed = true
        }
        const answer = await saving.catch(() => null)
        if (answer?.ok) acknowledged = ((await answer.json()) as { revision: number }).revision
      }
      if (server.child.exitCode === null && server.child.signalCode === null)
        await new Promise(ended => server.child.once('exit', ended))
    }
    const last = await startServer({ demo: true, port, data })
    const end = (await (await fetch(`${last!.address}/api/designs/glaze-room`)).json()) as {
      revision: number
    }
    expect(end.revision).toBeGreaterThanOrEqual(acknowledged)
    const revisions = (await (
      await fetch(`${last!.address}/api/designs/glaze-room/revisions`)
    ).json()) as unknown[]
    expect(revisions).toHaveLength(end.revision)
    await stopServer(last!)
  } finally {
    rmSync(data, { recursive: true, force: true })
  }
})

test('a second server on the same folder refuses with a clear text, and the first lives on', async ({
  request,
}) => {
  const data = mkdtempSync(join(tmpdir(), 'nolvi-two-'))
  const port = 4780 + test.info().parallelIndex
  const first = await startServer({ demo: false, port: String(port), data })
  try {
    const second = spawn(process.execPath, [resolve('scripts/serve.mjs')], {
      env: { ...process.env, NOLVI_DATA: data, NOLVI_PORT: String(port + 10) },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    let said = ''
    second.stderr.on('data', (piece: Buffer) => {
      said += piece.toString()
    })
    expect(await new Promise(ended => second.once('exit', ended))).not.toBe(0)
    expect(said).toContain(`The data folder ${data} is in use by another Nolvi server`)
    expect(said).toContain('NOLVI_DATA=<folder>')
    expect((await request.get(`${first!.address}/api/health`)).status()).toBe(200)
  } finally {
    await stopServer(first!)
    rmSync(data, { recursive: true, force: true })
  }
})
