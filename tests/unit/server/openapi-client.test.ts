/** A client that somebody else wrote, made from the OpenAPI file alone, against the stand-in. */
import { createHmac } from 'node:crypto'
import { OpenAPIClientAxios } from 'openapi-client-axios'
import { afterEach, describe, expect, it } from 'vitest'
import { openApi } from '../../../core/sides/openapi'
import type { Design, HttpLink } from '../../../core/design/schema'
import { StandIn } from '../../../server/live/stand-in'
import { edited, linkOn, twoPanelDesign } from '../../fixtures/designs'

const KEY = 'a key for this test'
const open: StandIn[] = []
afterEach(async () => {
  for (const s of open.splice(0)) await s.close()
})

type Call = (
  parameters?: object,
  data?: unknown,
  config?: object,
) => Promise<{ status: number; data: unknown }>

async function client(
  design: Design,
): Promise<{ call: (id: string, parameters?: object) => Promise<string>; standIn: StandIn }> {
  const standIn = new StandIn('s', design, 1, { 'browser-link': KEY })
  await standIn.listen('127.0.0.1', [])
  open.push(standIn)
  const spec = JSON.parse(openApi(design, linkOn(design, 'http') as HttpLink)) as object
  const api = new OpenAPIClientAxios({
    definition: { ...spec, servers: [{ url: standIn.info().address }] } as never,
  })
  const made = (await api.init()) as unknown as Record<string, Call>
  return {
    standIn,
    async call(id, parameters) {
      const { status, data } = await made[id]!(parameters, undefined, {
        validateStatus: () => true,
      })
      return `${status} ${String(data).trim()}`
    },
  }
}
/** As the description of the file says. */
function tagOf(n: number, route: string): string {
  const counter = Buffer.alloc(4)
  counter.writeUInt32BE(n)
  return createHmac('sha256', KEY)
    .update(counter)
    .update(route)
    .digest('hex')
    .slice(0, 16)
    .toUpperCase()
}

const timed = () =>
  edited(
    twoPanelDesign(),
    {
      type: 'setOutput',
      loadId: 'fan',
      patch: { timers: { onDelayMs: 1000, offDelayMs: 1000, blinkMs: 500 } },
    },
    { type: 'renameCode', linkId: 'browser-link', loadId: 'fan', which: 'for', code: '/fan/for' },
  )

describe('a client made from the OpenAPI file', () => {
  it('switches a signed, timed load, and is told why when it is refused', async () => {
    const { call, standIn } = await client(
      edited(timed(), {
        type: 'setLink',
        linkId: 'browser-link',
        patch: { auth: { kind: 'counter', tagBytes: 8, window: 0 }, method: 'post' },
      }),
    )
    const signed = (n: number, route: string) => ({ n, tag: tagOf(n, route) })
    expect(await call('post-fan-on', signed(1, '/fan/on'))).toBe('200 fan=1')
    expect(await call('post-fan-off', signed(2, '/fan/off'))).toBe('200 fan=0')
    expect(await call('post-fan-for-ms', { ms: 300, ...signed(3, '/fan/for/300') })).toBe(
      '200 fan=1',
    )
    await expect.poll(() => standIn.info().values.fan).toBe('off')
    expect(await call('post-fan-on', signed(3, '/fan/on'))).toBe(
      '403 its counter was taken before: played again (n=3)',
    )
    expect(await call('post-fan-on', { n: 4, tag: '0'.repeat(16) })).toMatch(
      /^403 the tag does not fit/,
    )
    expect(await call('get-state')).toBe('200 fan=0')
  })
  it('commands with a number and a word behind it', async () => {
    const { call } = await client(
      edited(timed(), {
        type: 'setLink',
        linkId: 'browser-link',
        patch: { auth: { kind: 'word' }, numbered: { windowMs: 5000 } },
      }),
    )
    expect(await call('get-fan-on', { no: 7, key: KEY.replaceAll(' ', '-') })).toMatch(
      /^403 the word/,
    )
    const { call: again } = await client(
      edited(timed(), {
        type: 'setLink',
        linkId: 'browser-link',
        patch: { numbered: { windowMs: 5000 } },
      }),
    )
    expect([
      await again('get-fan-on', { no: 7 }),
      await again('get-fan-off', { no: 7 }),
      await again('get-fan-off', { no: 8 }),
    ]).toEqual(['200 fan=1', '200 fan=1', '200 fan=0'])
  })
  it('every refusal that a controller gives is in the file', () => {
    const limited = edited(
      timed(),
      {
        type: 'setOutput',
        loadId: 'fan',
        patch: { limits: { minOnMs: 0, minOffMs: 2000, tooSoon: 'refuse', longestOnMs: 0 } },
      },
      { type: 'setLink', linkId: 'browser-link', patch: { auth: { kind: 'pin', digits: 4 } } },
    )
    const { paths } = JSON.parse(openApi(limited, linkOn(limited, 'http') as HttpLink)) as {
      paths: Record<string, Record<string, { responses: object; parameters?: { name: string }[] }>>
    }
    expect(Object.keys(paths['/fan/on']!.get!.responses)).toEqual([
      '200',
      '403',
      '404',
      '405',
      '409',
    ])
    expect(paths['/fan/for/{ms}']!.get!.parameters!.map(p => p.name)).toEqual(['ms', 'key'])
  })
})
