/**
 * Measurements of the server: saves a second by four clients, against the same writes straight into
 * the database, flushed as the server flushes them.
 */
import { mkdirSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import { request } from 'node:http'
import { PGlite } from '@electric-sql/pglite'

const SAVES = 200

export async function serverMeasures({ address }, median, folder) {
  const { design } = await ask(`${address}/api/designs/glaze-room`)
  const ids = await Promise.all(
    [1, 2, 3, 4].map(
      async n =>
        (await ask(`${address}/api/designs`, 'POST', { ...design, id: `client-${n}` })).design.id,
    ),
  )
  const throughServer = async round => {
    const since = performance.now()
    await Promise.all(
      ids.map(async id => {
        let { revision } = await ask(`${address}/api/designs/${id}`)
        for (let i = 0; i < SAVES / 4; i++) {
          const saved = await ask(`${address}/api/designs/${id}`, 'PUT', {
            baseRevision: revision,
            design: { ...design, id, name: `Round ${round} ${i}` },
          })
          revision = saved.revision
        }
      }),
    )
    return (SAVES / (performance.now() - since)) * 1000
  }
  mkdirSync(folder, { recursive: true })
  // Beside the packages it needs, or they would not be found.
  const outfile = join(
    resolve(import.meta.dirname, '../..'),
    'node_modules/.cache/nolvi-durable.mjs',
  )
  await build({
    entryPoints: [resolve(import.meta.dirname, '../../server/db/durable-fs.ts')],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'error',
  })
  const { DurableFs, START_PARAMS } = await import(pathToFileURL(outfile).href)
  const db = new PGlite({ fs: new DurableFs(folder), startParams: START_PARAMS })
  await db.exec(
    "create table d (id text primary key, revision int, document jsonb); create table r (id text, number int, document jsonb, primary key (id, number)); insert into d values ('a', 0, null)",
  )
  const direct = async () => {
    const since = performance.now()
    for (let i = 0; i < SAVES; i++) {
      await db.transaction(async tx => {
        const text = JSON.stringify({ ...design, name: `Direct ${i}` })
        const { rows } = await tx.query(
          "update d set revision = revision + 1, document = $1 where id = 'a' returning revision",
          [text],
        )
        await tx.query("insert into r values ('a', $1, $2)", [rows[0].revision, text])
      })
    }
    return (SAVES / (performance.now() - since)) * 1000
  }
  const pairs = []
  for (let i = 0; i < 5; i++) pairs.push([await throughServer(i), await direct()])
  await db.close()
  return [
    [
      'Saves a second, four clients',
      `${Math.round(median(pairs.map(p => p[0])))} a second`,
      `${median(pairs.map(p => p[0] / p[1])).toPrecision(3)} x straight into the database, both flushed`,
    ],
  ]
}

/**
 * One request on a connection of its own: between two rounds an idle one would be closed by the
 * server.
 */
function ask(url, method = 'GET', body = undefined) {
  return new Promise((resolve, reject) => {
    const sent = request(
      url,
      { method, agent: false, headers: { 'content-type': 'application/json' } },
      async answer => {
        let text = ''
        for await (const piece of answer) text += piece
        resolve(JSON.parse(text))
      },
    )
    sent.on('error', reject)
    sent.end(body === undefined ? undefined : JSON.stringify(body))
  })
}
