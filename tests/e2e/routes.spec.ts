import { fingerprintIn } from '../../core/boards/upload-record'
import { readHex } from '../../core/bytes/intel-hex'
import { get } from 'node:http'
/** The server's routes as a program meets them. */
import { strFromU8, unzipSync } from 'fflate'
import type { Design } from '../../core/design/schema'
import { glazeRoom } from '../fixtures/designs'
import { expect, test } from './nolvi'

interface Problem {
  type: string
  title: string
  status: number
  problems: { path: string; message: string }[]
  revision?: number
}

test('health, list, schema', async ({ request }) => {
  expect(await (await request.get('/api/health')).json()).toEqual({
    status: 'ok',
    product: 'nolvi',
    demo: true,
  })
  const list = (await (await request.get('/api/designs')).json()) as { id: string; loads: number }[]
  expect(list.filter(d => d.id === 'glaze-room')).toMatchObject([
    { loads: 4, place: 'Marrow Lane' },
  ])
  expect(await (await request.get('/api/schema/design.json')).json()).toMatchObject({
    title: 'Nolvi design',
    additionalProperties: false,
  })
})

test('a design is created, saved, read at each revision, deleted and restored', async ({
  request,
  copy,
}) => {
  const at = `/api/designs/${copy}`
  const { design } = (await (await request.get(at)).json()) as { design: Design }
  const save = (baseRevision: number, name: string) =>
    request.put(at, { data: { baseRevision, design: { ...design, name }, words: `named ${name}` } })
  expect(await (await save(1, 'Second')).json()).toMatchObject({ revision: 2 })
  const late = await save(1, 'Late')
  expect(late.status()).toBe(409)
  expect((await late.json()) as Problem).toMatchObject({
    status: 409,
    revision: 2,
    problems: [{ path: '/baseRevision' }],
  })
  expect(
    (
      (await (await request.get(`${at}/revisions`)).json()) as { number: number; words: string }[]
    ).map(r => [r.number, r.words]),
  ).toEqual([
    [2, 'named Second'],
    [1, 'Taken in'],
  ])
  expect(
    ((await (await request.get(`${at}/revisions/1`)).json()) as { design: Design }).design.name,
  ).toBe('Glaze room')
  expect((await request.get(`${at}/revisions/9`)).status()).toBe(404)
  expect((await request.delete(at)).status()).toBe(204)
  expect((await request.get(at)).status()).toBe(404)
  expect((await request.post(`${at}/restore`)).status()).toBe(200)
  expect(((await (await request.get(at)).json()) as { design: Design }).design.name).toBe('Second')
})

test.describe('documents that do not belong', () => {
  const spoilt: [string, (d: Design) => unknown, number, string][] = [
    ['wrong version', d => ({ ...d, version: 99 }), 400, '/version'],
    [
      'unknown key',
      d => ({ ...d, loads: d.loads.map(l => ({ ...l, watts: 5 })) }),
      400,
      '/loads/0/watts',
    ],
    [
      'duplicate ids',
      d => ({ ...d, loads: d.loads.map(l => ({ ...l, id: 'booth-extractor' })) }),
      400,
      '/loads/1/id',
    ],
    ['script in a name', d => ({ ...d, name: '<script>alert(1)</script>' }), 400, '/name'],
    ['another kind of document', () => ({ hello: 1 }), 400, '/format'],
    ['5 MB of noise', () => 'x'.repeat(5_000_000), 413, ''],
  ]
  for (const [what, spoil, status, path] of spoilt) {
    test(`${what}: refused with its place, nothing stored changes`, async ({ request, copy }) => {
      const before = (await (await request.get(`/api/designs/${copy}`)).json()) as {
        design: Design
      }
      const count = ((await (await request.get('/api/designs')).json()) as unknown[]).length
      const bad = spoil(before.design)
      const whole = typeof bad === 'string'
      for (const answer of [
        await request.post('/api/designs', {
          data: bad,
          headers: { 'content-type': 'application/json' },
        }),
        await request.put(`/api/designs/${copy}`, {
          data: whole ? bad : { baseRevision: 1, design: bad },
          headers: { 'content-type': 'application/json' },
        }),
      ]) {
        expect(answer.status()).toBe(status)
        expect(answer.headers()['content-type']).toContain('application/problem+json')
        const problem = (await answer.json()) as Problem
        expect(problem.problems.map(p => p.path.replace(/^\/design/, ''))).toContain(path)
        expect(problem.problems[0]?.message.length).toBeGreaterThan(10)
      }
      expect(await (await request.get(`/api/designs/${copy}`)).json()).toEqual(before)
      expect(((await (await request.get('/api/designs')).json()) as unknown[]).length).toBe(count)
    })
  }
  test('what is no JSON, no such route, no such design', async ({ request, copy }) => {
    const noise = await request.post('/api/designs', {
      data: Buffer.from('{"format":'),
      headers: { 'content-type': 'application/json' },
    })
    expect(await noise.json()).toMatchObject({ status: 400, title: 'The body is not JSON' })
    expect(await (await request.get('/api/nothing?x=1')).json()).toMatchObject({
      status: 404,
      title: 'There is no GET /api/nothing',
    })
    expect((await request.patch(`/api/designs/${copy}`, { data: {} })).status()).toBe(404)
    expect(await (await request.get('/api/designs/nowhere')).json()).toMatchObject({
      status: 404,
      title: 'There is no design "nowhere"',
    })
    expect(
      (await request.put(`/api/designs/${copy}`, { data: { design: glazeRoom() } })).status(),
    ).toBe(400)
    const other = await request.put(`/api/designs/${copy}`, {
      data: { baseRevision: 1, design: glazeRoom() },
    })
    expect(await other.json()).toMatchObject({ problems: [{ path: '/design/id' }] })
  })
})

test('findings of a stored design and of one that is not', async ({ request, copy }) => {
  const { findings } = (await (await request.get(`/api/designs/${copy}/findings`)).json()) as {
    findings: { code: string }[]
  }
  expect(findings.map(f => f.code)).toContain('code-prefix')
  expect(
    (
      (await (await request.post('/api/check', { data: glazeRoom() })).json()) as {
        findings: unknown[]
      }
    ).findings,
  ).toHaveLength(findings.length)
})

test('records of drills: kept, listed, read; what is none is refused', async ({
  request,
  copy,
}) => {
  const expectation = {
    kind: 'is',
    atMs: 1000,
    withinMs: 500,
    loadId: 'booth-extractor',
    value: 'on',
  }
  const result = {
    drillId: 'by-hand',
    title: 'Switched once',
    loadId: 'booth-extractor',
    seed: 1,
    passed: false,
    unsure: false,
    events: 12,
    wrong: [],
    held: [{ expectation, words: 'it is on', held: false, unsure: false, found: 'it is off' }],
  }
  const kept = await request.post(`/api/designs/${copy}/records`, {
    data: { revision: 1, title: 'drills', results: [result] },
  })
  expect(kept.status()).toBe(201)
  const { id } = (await kept.json()) as { id: number }
  expect(await (await request.get(`/api/designs/${copy}/records`)).json()).toEqual([
    expect.objectContaining({ id, revision: 1, title: 'drills', passed: 0, of: 1 }),
  ])
  expect(await (await request.get(`/api/designs/${copy}/records/${id}`)).json()).toEqual([result])
  expect((await request.get(`/api/designs/${copy}/records/999999`)).status()).toBe(404)
  expect((await request.get(`/api/designs/${copy}/records/x`)).status()).toBe(404)
  const bad = await request.post(`/api/designs/${copy}/records`, {
    data: { revision: 1, title: 'drills', results: [{ ...result, passed: 'yes' }] },
  })
  expect(await bad.json()).toMatchObject({ status: 400, problems: [{ path: '/results/0/passed' }] })
  expect((await request.get('/api/designs/nowhere/records')).status()).toBe(404)
})

test('bench: a script gives a trace and who was wrong how long', async ({ request, copy }) => {
  const steps = [
    {
      atMs: 500,
      action: { do: 'key', surfaceId: 'apron-phone', loadId: 'booth-extractor', want: 'on' },
    },
    { atMs: 2000, action: { do: 'press', controlId: 'extractor-button' } },
  ]
  const run = (await (
    await request.post(`/api/designs/${copy}/bench`, {
      data: {
        seed: 3,
        untilMs: 5000,
        steps,
        expects: [
          { kind: 'is', atMs: 2000, withinMs: 100, loadId: 'booth-extractor', value: 'on' },
        ],
      },
    })
  ).json()) as {
    expected: unknown[]
    trace: { moves: object }
    disagreements: { surfaceId: string; loadId: string; wrongMs: number }[]
  }
  expect(run.trace.moves).toMatchObject({ 'booth-extractor': 2 })
  expect(run.expected).toEqual([expect.objectContaining({ held: false, found: 'it is off' })])
  // The press takes effect after 30 ms of debounce; nothing tells the phone until the end at 5 s.
  expect(run.disagreements).toContainEqual({
    surfaceId: 'apron-phone',
    loadId: 'booth-extractor',
    wrongMs: 2970,
  })
  const bad = await request.post(`/api/designs/${copy}/bench`, {
    data: { steps: [{ atMs: 1, action: { do: 'press' } }] },
  })
  expect(await bad.json()).toMatchObject({
    status: 400,
    problems: [{ path: '/steps/0/action/controlId' }],
  })
  expect(
    (
      await request.post(`/api/designs/${copy}/bench`, {
        data: { steps: [{ atMs: 1, action: { do: 'press', controlId: 'x' } }] },
      })
    ).status(),
  ).toBe(400)
})

test('proof: verdict, situations and story', async ({ request, copy }) => {
  const { verdicts } = (await (
    await request.post(`/api/designs/${copy}/proof`, {
      data: { loadIds: ['wheel-lights'], bounds: { underWay: 3 }, check: true },
    })
  ).json()) as {
    verdicts: {
      promise: string
      result: string
      situations: number
      surfaces: { story: { steps: unknown[] } | null }[]
    }[]
  }
  expect(verdicts.map(v => v.promise)).toEqual([
    'P1',
    'P2',
    'P3',
    'P4',
    'P5',
    'P6',
    'P7',
    'P8',
    'P9',
  ])
  expect(verdicts[0]).toMatchObject({ result: 'broken' })
  expect(verdicts[4]).toMatchObject({ result: 'not asked', situations: 0 })
  expect(verdicts[0]?.situations).toBeGreaterThan(100)
  expect(verdicts[0]?.surfaces[0]?.story?.steps.length).toBeGreaterThan(2)
  // What holds was gone through again by the separate checker; of what is broken there is nothing
  // to go through.
  expect(verdicts[3]).toMatchObject({ result: 'holds', checked: [{ surfaceId: null, wrong: '' }] })
  expect(
    await (
      await request.post(`/api/designs/${copy}/proof`, { data: { loadIds: ['oven'] } })
    ).json(),
  ).toMatchObject({ status: 400, problems: [{ path: '/loadIds/0' }] })
  expect(
    await (
      await request.post(`/api/designs/${copy}/proof`, { data: { promises: ['P10'] } })
    ).json(),
  ).toMatchObject({ status: 400, problems: [{ path: '/promises/0' }] })
  expect(
    await (
      await request.post(`/api/designs/${copy}/proof`, { data: { bounds: { underWay: 9 } } })
    ).json(),
  ).toMatchObject({ status: 400, problems: [{ path: '/bounds/underWay' }] })
})

test('decode: bytes of a stored design, a route of one in the body', async ({ request, copy }) => {
  expect(
    await (
      await request.post('/api/decode', {
        data: { designId: copy, linkId: 'apron-link', text: 'E' },
      })
    ).json(),
  ).toMatchObject({
    codes: ['E'],
    does: ['Booth extractor switches on: pin 5 goes low'],
    answers: [{ text: '+E' }],
  })
  expect(
    await (
      await request.post('/api/decode', {
        data: { design: glazeRoom(), linkId: 'office-link', text: 'GET /state HTTP/1.1' },
      })
    ).json(),
  ).toMatchObject({ codes: ['/state'], answers: [{ status: 200 }] })
  expect(
    await (
      await request.post('/api/decode', { data: { designId: copy, linkId: 'x', text: 'E' } })
    ).json(),
  ).toMatchObject({ problems: [{ path: '/linkId' }] })
})

test('build: the list, each file, and the same in one ZIP', async ({ request, copy }) => {
  const { files, fingerprint } = (await (
    await request.get(`/api/designs/${copy}/build`)
  ).json()) as {
    files: { name: string; bytes: number; inZip?: string; within?: string }[]
    fingerprint: string
  }
  const zip = unzipSync(await (await request.get(`/api/designs/${copy}/build.zip`)).body())
  for (const f of files) {
    const answer = await request.get(`/api/designs/${copy}/build/${f.name}`)
    const text = await answer.text()
    expect(Buffer.byteLength(text)).toBe(f.bytes)
    expect(answer.headers()['content-disposition']).toContain('attachment')
    expect(strFromU8(zip[f.inZip ?? f.name]!)).toBe(text)
    // A HEX holds it among its bytes.
    const read = f.name.endsWith('.hex') ? readHex(text) : null
    if (read) expect(read.ok && fingerprintIn(read.image.bytes)).toBe(fingerprint)
    else if (f.name !== 'design.json' && !f.within) expect(text).toContain(fingerprint)
  }
  expect((await request.get(`/api/designs/${copy}/build/nothing.txt`)).status()).toBe(404)
})

test('stand-ins: started, listed, asked, stopped', async ({ request, copy }) => {
  const info = (await (await request.post(`/api/designs/${copy}/stand-ins`)).json()) as {
    id: string
    address: string
  }
  expect(await (await request.get(`${info.address}/lights/on`)).text()).toBe('wheel-lights=1\n')
  expect(await (await request.get(`/api/designs/${copy}/stand-ins`)).json()).toMatchObject([
    { id: info.id, values: { 'wheel-lights': 'on' } },
  ])
  expect(
    await (await request.get(`/api/designs/${copy}/stand-ins/${info.id}`)).json(),
  ).toMatchObject({
    traffic: [
      { dir: 'up', text: '/lights/on' },
      { dir: 'down', text: 'wheel-lights=1' },
    ],
  })
  expect((await request.get(`/api/designs/glaze-room/stand-ins/${info.id}`)).status()).toBe(404)
  expect((await request.delete(`/api/designs/${copy}/stand-ins/${info.id}`)).status()).toBe(204)
  await expect(request.get(`${info.address}/state`)).rejects.toThrow()
  // Those of a design that is deleted end with it.
  const left = (await (await request.post(`/api/designs/${copy}/stand-ins`)).json()) as {
    address: string
  }
  expect((await request.get(`${left.address}/state`)).status()).toBe(200)
  expect((await request.delete(`/api/designs/${copy}`)).status()).toBe(204)
  await expect(request.get(`${left.address}/state`)).rejects.toThrow()
})

test('a foreign name that points here is refused; addresses, localhost and .local are answered', async ({
  baseURL,
}) => {
  const { hostname, port } = new URL(baseURL ?? '')
  const status = (host: string) =>
    new Promise<number>((resolve, reject) => {
      get({ hostname, port, path: '/api/designs', headers: { host } }, answer => {
        answer.resume()
        resolve(answer.statusCode ?? 0)
      }).on('error', reject)
    })
  expect([
    await status(`evil.example:${port}`),
    await status('127.0.0.1'),
    await status(`localhost:${port}`),
    await status('workbench.local'),
    await status('[::1]'),
  ]).toEqual([421, 200, 200, 200, 200])
})
