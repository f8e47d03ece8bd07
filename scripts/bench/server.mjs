/** Measurements of the server: saves a second by four clients, against the same writes straight into the database. */
import { mkdirSync } from 'node:fs'
import { PGlite } from '@electric-sql/pglite'

const SAVES = 200

export async function serverMeasures({ address }, median, folder) {
  const { design } = await (await fetch(`${address}/api/designs/glaze-room`)).json()
  const ids = await Promise.all([1, 2, 3, 4].map(async n => (await (await post(`${address}/api/designs`, { ...design, id: `client-${n}` })).json()).design.id))
  const throughServer = async (round) => {
    const since = performance.now()
    await Promise.all(ids.map(async (id) => {
      let { revision } = await (await fetch(`${address}/api/designs/${id}`, { headers: { connection: 'close' } })).json()
      for (let i = 0; i < SAVES / 4; i++) {
        const saved = await (await fetch(`${address}/api/designs/${id}`, { method: 'PUT', headers: { 'content-type': 'application/json', 'connection': 'close' }, body: JSON.stringify({ baseRevision: revision, design: { ...design, id, name: `Round ${round} ${i}` } }) })).json()
        revision = saved.revision
      }
    }))
    return SAVES / (performance.now() - since) * 1000
  }
  mkdirSync(folder, { recursive: true })
  const db = new PGlite(folder)
  await db.exec('create table d (id text primary key, revision int, document jsonb); create table r (id text, number int, document jsonb, primary key (id, number)); insert into d values (\'a\', 0, null)')
  const direct = async () => {
    const since = performance.now()
    for (let i = 0; i < SAVES; i++) {
      await db.transaction(async (tx) => {
        const text = JSON.stringify({ ...design, name: `Direct ${i}` })
        const { rows } = await tx.query('update d set revision = revision + 1, document = $1 where id = \'a\' returning revision', [text])
        await tx.query('insert into r values (\'a\', $1, $2)', [rows[0].revision, text])
      })
    }
    return SAVES / (performance.now() - since) * 1000
  }
  const pairs = []
  for (let i = 0; i < 5; i++) pairs.push([await throughServer(i), await direct()])
  await db.close()
  return [['Saves a second, four clients', `${Math.round(median(pairs.map(p => p[0])))} a second`, `${median(pairs.map(p => p[0] / p[1])).toPrecision(3)} x straight into the database`]]
}

function post(url, body) {
  return fetch(url, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
}
