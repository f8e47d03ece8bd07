import { createHash } from 'node:crypto'
import { gzipSync } from 'node:zlib'
import { HtmlValidate } from 'html-validate'
import jsQR from 'jsqr'
import { beforeAll, describe, expect, it } from 'vitest'
import { base64 } from '../../../../core/bytes/base64'
import { buildFiles } from '../../../../core/sides/files'
import { sheetRows } from '../../../../core/sides/message-sheet'
import { openApi } from '../../../../core/sides/openapi'
import { pageLength } from '../../../../core/sides/panel-html'
import { panelPage } from '../../../../core/sides/panel-page'
import { siteFiles } from '../../../../core/sides/panel-site'
import { isRich, runtimeFor } from '../../../../core/sides/runtime-choice'
import { cardAddress, cardWords, qrSvg, wallCards } from '../../../../core/sides/wall-cards'
import { linkOf, panelOf, panels } from '../../../../core/design/find'
import { isLowEnergy } from '../../../../core/design/links/traits'
import { parts } from '../../../../core/design/part'
import { demoDesigns } from '../../../../demo/demo'
import { helloText, printIn } from '../../../../core/messages/table'
import { kindEdit, outputEdit } from '../../../../core/messages/kinds'
import { layOut } from '../../../../core/panels/auto'
import type { Design } from '../../../../core/design/schema'
import {
  DIALECTS,
  edited,
  fanDesign,
  glazeRoom,
  kilnCorridor,
  showroom,
  speaking,
  starter,
} from '../../../fixtures/designs'

/** A phone over HTTP with ten loads: five pairs, five keys with state. */
function tenLoads(): Design {
  let design = edited(
    fanDesign(),
    { type: 'removeSurface', surfaceId: 'phone' },
    { type: 'setBoard', board: 'board-dual-radio' },
    { type: 'addPanel', name: 'Phone', over: 'http' },
  )
  design = {
    ...design,
    loads: Array.from({ length: 10 }, (_, i) => ({
      ...design.loads[0]!,
      id: `load-${i}`,
      name: `Workshop load ${i}`,
    })),
    surfaces: design.surfaces.filter(s => s.kind === 'panel'),
  }
  for (const { id } of design.loads)
    design = edited(design, {
      type: 'addMessage',
      linkId: 'phone-link',
      loadId: id,
      codes: { on: `/${id}/on`, off: `/${id}/off` },
    })
  design = edited(design, {
    type: 'setLayout',
    surfaceId: 'phone',
    ...layOut(design, panelOf(design, 'phone')),
  })
  for (let i = 0; i < 5; i++)
    design = edited(design, {
      type: 'setKeyForm',
      surfaceId: 'phone',
      keyId: `load-${i}`,
      form: 'pair',
    })
  return design
}
/**
 * Names as unkind as they come. The schema refuses some of them; a page must stand them all the
 * same.
 */
const UNKIND = [
  '"><img src=x onerror=alert(1)>',
  '</script><script>alert(1)</script>',
  '\u{1F3FA} kiln & "co"',
  '\u05EA\u05E0\u05D5\u05E8 \u202Eoff',
  "' onclick='x",
  '{{7*7}}',
  '<!--',
  ']]>',
]
function unkind(design: Design): Design {
  return {
    ...design,
    name: UNKIND[1]!,
    loads: design.loads.map((l, i) => ({ ...l, name: UNKIND[i % UNKIND.length]! })),
    sensors: design.sensors.map((s, i) => ({ ...s, name: UNKIND[(i + 3) % UNKIND.length]! })),
    scenes: design.scenes.map(s => ({ ...s, name: UNKIND[0]! })),
    surfaces: design.surfaces.map(s => ({
      ...s,
      name: UNKIND[2]!,
      ...(s.kind === 'panel'
        ? {
            pages: s.pages.map(p => ({ ...p, name: UNKIND[4]! })),
            parts: [
              ...s.parts,
              {
                form: 'text' as const,
                id: 'zz',
                page: 0,
                xMm: 3,
                yMm: 3,
                widthMm: 9,
                heightMm: 9,
                text: UNKIND[6]!,
              },
            ],
          }
        : {}),
    })) as Design['surfaces'],
  }
}
const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: { 'no-inline-style': 'error' },
})
async function faults(page: string): Promise<string[]> {
  const report = await validator.validateString(page)
  return report.results.flatMap(r =>
    r.messages.map(m => `${m.line}:${m.column} ${m.ruleId} ${m.message}`),
  )
}
const part = (text: string, pattern: RegExp) => pattern.exec(text)?.[1] ?? ''

describe('a choice in large letters', () => {
  const PICTURE = 'data:image/webp;base64,UklGRg=='
  it('holds each picture once, shows that of its value by style alone, and its words', async () => {
    const chosen = edited(fanDesign(), kindEdit(fanDesign(), 'fan', 'choice'))
    const choices = [
      { id: 'open', words: 'Come in', picture: PICTURE },
      { id: 'shut', words: 'Back at three', picture: null },
    ]
    const design = edited(chosen, outputEdit(chosen, 'fan', { choices }), {
      type: 'setKeyForm',
      surfaceId: 'phone',
      keyId: 'fan',
      form: 'shown',
    })
    const page = panelPage(design, 'phone')
    expect(page.match(/UklGRg==/g)).toHaveLength(1)
    expect(page).toContain('[data-id="fan"][data-shown="open"] [data-is="open"]')
    expect(page).not.toContain('[data-is="shut"]')
    expect(page).toContain('"words":"Back at three"')
    expect(await faults(page)).toEqual([])
  })
})

describe('a page that is given away', () => {
  it('with ten loads is below 41.5 kB, and 14 kB compressed as it crosses the air', () => {
    const plain = structuredClone(tenLoads())
    for (const key of panelOf(plain, 'phone').keys) key.icon = 'none'
    const sizes = (design: Design) => {
      const page = panelPage(design, 'phone')
      return [Buffer.byteLength(page), gzipSync(page, { level: 9 }).length] as const
    }
    const [raw, compressed] = sizes(plain)
    expect(raw).toBeLessThan(41_500)
    expect(compressed).toBeLessThan(14_000)
    // Ten keys with the same drawing hold it once.
    const [rawWith, compressedWith] = sizes(tenLoads())
    expect(rawWith - raw).toBeLessThan(1500)
    expect(compressedWith - compressed).toBeLessThan(300)
  })
  it('is as long as the checks think', () => {
    for (const design of [tenLoads(), kilnCorridor(), starter()])
      for (const p of panels(design))
        expect(panelPage(design, p.id).length).toBe(pageLength(design, p.id))
  })
  it('holds the program that its parts and link need', () => {
    const kiln = kilnCorridor()
    expect([
      runtimeFor(tenLoads(), panelOf(tenLoads(), 'phone')),
      runtimeFor(kiln, panelOf(kiln, 'corridor-phone')),
      runtimeFor(starter(), panels(starter())[0]!),
    ]).toEqual(['http', 'httpRich', 'serial'])
    const packed = speaking(fanDesign(), DIALECTS.slip!)
    expect(runtimeFor(packed, panelOf(packed, 'phone'))).toBe('all')
    const word = edited(tenLoads(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { auth: { kind: 'word' } },
    })
    expect(runtimeFor(word, panelOf(word, 'phone'))).toBe('httpSigned')
    const signed = edited(speaking(fanDesign(), DIALECTS.lines!), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { auth: { kind: 'counter', tagBytes: 8, window: 16 } },
    })
    expect(runtimeFor(signed, panels(signed)[0]!)).toBe('serialRichSigned')
    const guarded = edited(glazeRoom(), {
      type: 'setItem',
      surfaceId: 'apron-phone',
      keyId: 'rinse-pump',
      patch: { guard: 'hold' },
    })
    expect(isRich(guarded, panelOf(guarded, 'apron-phone'))).toBe(true)
  })
  it('holds the way of its own link, and that to a stand-in only where one hands it out', () => {
    const ways = { http: 'AbortSignal', serial: 'requestPort', lowEnergy: 'requestDevice' }
    const waysIn = (page: string) =>
      Object.entries(ways).flatMap(([name, word]) => (page.includes(word) ? [name] : []))
    const [serial] = panels(starter())
    const page = panelPage(starter(), serial!.id)
    expect(waysIn(page)).toEqual(['serial'])
    expect(waysIn(panelPage(tenLoads(), 'phone'))).toEqual(['http'])
    const dairy = parts(demoDesigns().find(d => d.id === 'old-dairy')!).map(p => p.part)
    const near = dairy.flatMap(part =>
      panels(part)
        .filter(p => isLowEnergy(linkOf(part, p.linkId)))
        .map(p => panelPage(part, p.id)),
    )
    expect(near.map(waysIn)).toEqual([['lowEnergy']])
    const handedOut = panelPage(starter(), serial!.id, { standInPath: '/stand-in/wire' })
    expect(waysIn(handedOut)).toEqual(['http', 'serial'])
    expect(page).not.toContain('EventSource')
    expect(handedOut).toContain('EventSource')
  })
  it.each([
    ['glaze room', glazeRoom()],
    ['kiln corridor', kilnCorridor()],
    ['showroom', showroom()],
    ['ten loads', tenLoads()],
  ])('%s: passes an HTML validator, the site and the wall cards too', async (_, design) => {
    for (const f of buildFiles(design).filter(
      f => f.type === 'text/html' && f.name !== 'messages.html',
    ))
      expect(await faults(f.text), f.name).toEqual([])
  })
  it('the validator would say so', async () =>
    expect(
      await faults(panelPage(starter(), panels(starter())[0]!.id).replace('</header>', '</div>')),
    ).not.toEqual([]))
  it('lets no script or style run but its own, and asks nobody but its controller', () => {
    for (const [design, id] of [
      [kilnCorridor(), 'corridor-phone'],
      [starter(), panels(starter())[0]!.id],
    ] as const) {
      const page = panelPage(design, id)
      const policy = part(page, /Content-Security-Policy" content="([^"]*)"/)
      const hash = (text: string) =>
        `'sha256-${createHash('sha256').update(text).digest('base64')}'`
      expect(policy).toContain(`script-src ${hash(part(page, /<script>(.*?)<\/script>/s))};`)
      expect(policy).toContain(`style-src ${hash(part(page, /<style>(.*?)<\/style>/s))};`)
      expect(policy).toMatch(/^default-src 'none';/)
      expect(policy).not.toContain('unsafe')
      expect(page).not.toMatch(/ style="| on[a-z]+="/)
    }
    expect(part(panelPage(starter(), panels(starter())[0]!.id), /(connect-src [^;"]*)/)).toBe(
      "connect-src 'self'",
    )
  })
  it('stands unkind names: they appear as text, nothing of them becomes an element or an attribute', async () => {
    const design = unkind(kilnCorridor())
    for (const page of [
      panelPage(design, 'corridor-phone'),
      panelPage(design, 'office-window', { site: true }),
      wallCards(design, 'corridor-phone'),
      ...siteFiles(design)
        .filter(f => f.type === 'text/html')
        .map(f => f.text),
    ]) {
      expect(page).not.toMatch(/<img(?! class="np-behind")|alert\(1\)<|onclick='x'/)
      expect((page.match(/<script/g) ?? []).length).toBe((page.match(/<\/script>/g) ?? []).length)
      expect(await faults(page)).toEqual([])
    }
  })
  it('names in any script tell their own direction', () =>
    expect(panelPage(unkind(kilnCorridor()), 'corridor-phone')).toContain(
      'dir="auto">\u05EA\u05E0\u05D5\u05E8',
    ))
  it('a picture stands behind its page once', () => {
    const picture = 'data:image/png;base64,iVBORw0KGgo='
    const design = edited(kilnCorridor(), {
      type: 'setPage',
      surfaceId: 'corridor-phone',
      page: 0,
      patch: { picture },
    })
    expect(panelPage(design, 'corridor-phone').split(picture)).toHaveLength(2)
  })
})

describe('who is there', () => {
  it.each([
    ['http', kilnCorridor(), 'corridor-phone-link'],
    ['lines', speaking(fanDesign(), DIALECTS.lines!), 'phone-link'],
    ['json', speaking(fanDesign(), DIALECTS.json!), 'phone-link'],
  ] as const)(
    'over %s: the fingerprint is read out of the answer, and out of nothing else',
    (_, design, linkId) => {
      const link = linkOf(design, linkId)
      expect(printIn(link, helloText(link, '1A2B3C', 7))).toBe('1A2B3C')
      for (const text of ['fan=1', '+F', '{"fan":"on"}', 'fan -> on \u00E9', 'kiln-room=21.5'])
        expect(printIn(link, text)).toBeNull()
    },
  )
  it('json and page answers too', () => {
    for (const answers of ['json', 'page'] as const) {
      const link = linkOf(
        edited(kilnCorridor(), {
          type: 'setLink',
          linkId: 'corridor-phone-link',
          patch: { answers },
        }),
        'corridor-phone-link',
      )
      expect(printIn(link, helloText(link, '1A2B3C', 7))).toBe('1A2B3C')
    }
  })
})

describe('wall cards', () => {
  it('open the panel at the key of the load, where the panel is opened', () => {
    const design = kilnCorridor()
    const panel = panelOf(design, 'corridor-phone')
    expect(cardAddress(design, panel, panel.keys[0]!)).toBe('http://192.168.4.1/#corridor-lights')
    expect(
      cardAddress(
        design,
        { ...panel, pageAddress: 'http://dairy.local/panels/phone.html' },
        panel.keys[1]!,
      ),
    ).toBe('http://dairy.local/panels/phone.html#humidifier')
    expect(cardAddress(starter(), panels(starter())[0]!, { id: 'x' })).toBe('')
    expect(wallCards(starter(), panels(starter())[0]!.id)).toContain('has no address yet')
  })
  it('say what the key does', () => {
    const design = kilnCorridor()
    const words = panelOf(design, 'corridor-phone').keys.map(k =>
      cardWords(
        design.loads.find(l => l.id === k.loadId)!,
        k,
      ),
    )
    expect(words).toEqual([
      'Press: on, or off again. The key shows which.',
      'Press: on, or off again. The key shows which.',
      'Slide the lock first. Press Forward or Reverse; Stop ends it at once, and it ends by itself after 25 s.',
      'Slide the lock first. Press: on for 4 s, then off by itself.',
    ])
  })
  it.each(['http://192.168.4.1/#corridor-lights', `https://workshop.example/${'x'.repeat(120)}`])(
    'a reader by somebody else reads the square: %s',
    text => {
      const svg = qrSvg(text)
      const side = Number(part(svg, /viewBox="0 0 (\d+)/))
      const scale = 4
      const pixels = new Uint8ClampedArray((side * scale) ** 2 * 4).fill(255)
      for (const [, x, y, width] of svg.matchAll(/M(\d+) (\d+)h(\d+)/g))
        for (let dy = 0; dy < scale; dy++)
          for (let dx = 0; dx < Number(width) * scale; dx++) {
            const at = (Number(y) * scale + dy) * side * scale + Number(x) * scale + dx
            pixels.set([0, 0, 0], at * 4)
          }
      expect(jsQR(pixels, side * scale, side * scale)?.data).toBe(text)
    },
  )
  it('the square has its three finders, its timing lines and a quiet zone of four', () => {
    const svg = qrSvg('http://192.168.4.1/#corridor-lights')
    const side = Number(part(svg, /viewBox="0 0 (\d+)/))
    expect((side - 8 - 17) % 4).toBe(0)
    const dark = new Set([...svg.matchAll(/M(\d+) (\d+)h1/g)].map(m => `${m[1]} ${m[2]}`))
    const at = (x: number, y: number) => dark.has(`${x + 4} ${y + 4}`)
    const n = side - 8
    // ISO/IEC 18004: a finder is a ring of 7, a ring of light, a block of 3.
    for (const [fx, fy] of [
      [0, 0],
      [n - 7, 0],
      [0, n - 7],
    ] as const) {
      for (let y = 0; y < 7; y++)
        for (let x = 0; x < 7; x++)
          expect(at(fx + x, fy + y)).toBe(Math.max(Math.abs(x - 3), Math.abs(y - 3)) !== 2)
    }
    for (let i = 8; i < n - 8; i++) expect([at(i, 6), at(6, i)]).toEqual([i % 2 === 0, i % 2 === 0])
    for (const mark of dark)
      expect(
        mark
          .split(' ')
          .map(Number)
          .every(v => v >= 4 && v < side - 4),
      ).toBe(true)
  })
})

describe('readings in the sheets', () => {
  it('stand in the message sheet with an example, and in the answer of the interface description', () => {
    const row = sheetRows(kilnCorridor()).find(r => r.means.startsWith('Kiln room'))
    expect(row).toMatchObject({
      direction: 'from the board',
      text: 'kiln-room=20',
      means: 'Kiln room: 20 \u00B0C, for example',
      when: 'moved by 0.8 \u00B0C, at most every 1000 ms, every 60000 ms, on connect, when asked',
    })
    const link = linkOf(kilnCorridor(), 'corridor-phone-link')
    if (link.kind === 'http') expect(openApi(kilnCorridor(), link)).toContain('kiln-room=20')
  })
})

describe('the installable site', () => {
  let files: ReturnType<typeof siteFiles>
  beforeAll(() => {
    files = siteFiles(kilnCorridor())
  })
  const text = (name: string) => files.find(f => f.name === name)?.text ?? ''
  it('lists every file in its worker, and nothing else', () => {
    const listed = JSON.parse(part(text('sw.js'), /FILES = (.*)/)) as string[]
    expect(listed.filter(f => f !== './').sort()).toEqual(
      files
        .map(f => f.name)
        .filter(f => f !== 'sw.js' && f !== 'install.txt')
        .sort(),
    )
  })
  it('its manifest is JSON with what browsers ask for', () => {
    const manifest = JSON.parse(text('manifest.webmanifest')) as Record<string, unknown>
    expect(manifest).toMatchObject({
      name: 'Kiln corridor',
      start_url: 'index.html',
      display: 'standalone',
      icons: [{ src: 'icon.svg' }],
    })
    expect(files.map(f => f.name)).toContain(manifest.start_url)
  })
  it('another page gives another kept copy', () => {
    const other = siteFiles(
      edited(kilnCorridor(), {
        type: 'moveKey',
        surfaceId: 'corridor-phone',
        keyId: 'humidifier',
        box: { xMm: 4 },
      }),
    )
    expect(other.find(f => f.name === 'sw.js')?.text).not.toBe(text('sw.js'))
    expect(siteFiles(kilnCorridor()).find(f => f.name === 'sw.js')?.text).toBe(text('sw.js'))
  })
  it('a design without panels has none', () =>
    expect(siteFiles({ ...kilnCorridor(), surfaces: [] })).toEqual([]))
})

describe('base64', () => {
  // RFC 4648, section 10.
  it.each([
    ['', ''],
    ['f', 'Zg=='],
    ['fo', 'Zm8='],
    ['foo', 'Zm9v'],
    ['foob', 'Zm9vYg=='],
    ['fooba', 'Zm9vYmE='],
    ['foobar', 'Zm9vYmFy'],
  ])('of "%s" is "%s"', (plain, coded) =>
    expect(base64(new TextEncoder().encode(plain))).toBe(coded),
  )
})
