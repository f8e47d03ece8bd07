import { spawnSync } from 'node:child_process'
import { createContext, runInContext } from 'node:vm'
import { resolve } from 'node:path'
import fc from 'fast-check'
import { unzipSync, strFromU8 } from 'fflate'
import Papa from 'papaparse'
import { compileController } from '../../../../core/controller/program'
import { feedAll } from '../../../../core/messages/stream'
import { describe, expect, it } from 'vitest'
import { cppComment, html, scriptJson } from '../../../../core/sides/escape'
import { readHex } from '../../../../core/bytes/intel-hex'
import { fingerprintIn } from '../../../../core/boards/upload-record'
import { buildFiles, buildZip, HEX } from '../../../../core/sides/files'
import { messageCsv, sheetRows } from '../../../../core/sides/message-sheet'
import { panelPage } from '../../../../core/sides/panel-page'
import { fingerprint } from '../../../../core/design/fingerprint'
import { parseDesignText } from '../../../../core/design/validate'
import {
  DIALECTS,
  edited,
  glazeRoom,
  showroom,
  speaking,
  starter,
  twoPanelDesign,
} from '../../../fixtures/designs'

/** Names as nasty as the schema lets them be. */
const nasty = () =>
  edited(
    glazeRoom(),
    { type: 'renameLoad', loadId: 'rinse-pump', name: '"Pump" & \'Co\' \\ ?/ */ // `${x}`' },
    { type: 'noteLoad', loadId: 'rinse-pump', note: '=1+1' },
    { type: 'renameSurface', surfaceId: 'apron-phone', name: '&lt;b&gt; \u2028 phone' },
    { type: 'renameDesign', name: 'Glasur – Küche & "Co" 照明 \\' },
  )

describe('escaping', () => {
  it('HTML: no text opens a tag or ends an attribute, and it reads back', () => {
    const back = (text: string) =>
      text.replace(
        /&(lt|gt|quot|#39|amp);/g,
        (_, e: string) => ({ lt: '<', gt: '>', quot: '"', '#39': "'", amp: '&' })[e]!,
      )
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), text => {
        expect(html(text)).not.toMatch(/[<>"']/)
        expect(back(html(text))).toBe(text)
      }),
    )
  })
  it('JSON in a script element: no tag, and it reads back', () => {
    fc.assert(
      fc.property(fc.jsonValue(), value => {
        const text = scriptJson({ value, worst: '</script><!--\u2028' })
        expect(text).not.toMatch(/[<\u2028\u2029]/)
        expect(JSON.parse(text)).toEqual(
          JSON.parse(JSON.stringify({ value, worst: '</script><!--\u2028' })),
        )
      }),
    )
  })
  it('a C++ comment stays one line', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', '\n', '\r', '\\', '?', '/') }),
        text => !/[\r\n\\?]/.test(cppComment(text)),
      ),
    )
  })
})

describe('files', () => {
  it('all carry the fingerprint, and have names of their own', () => {
    for (const design of [glazeRoom(), starter(), nasty()]) {
      const files = buildFiles(design)
      expect(new Set(files.map(f => f.name)).size).toBe(files.length)
      // The engine is the same for all designs.
      const ofDesign = (f: (typeof files)[number]) =>
        f.name !== 'design.json' && (!f.within || f.name.endsWith('-design.cpp'))
      for (const f of files.filter(ofDesign)) {
        const read = f.type === HEX ? readHex(f.text) : null
        if (read) expect(read.ok && fingerprintIn(read.image.bytes)).toBe(fingerprint(design))
        else expect(f.text, f.name).toContain(fingerprint(design))
      }
    }
  })
  it('the design reads back as it was', () => {
    const text = buildFiles(nasty()).find(f => f.name === 'design.json')?.text ?? ''
    expect(parseDesignText(text)).toEqual({ ok: true, design: nasty() })
  })
  it('the ZIP holds the same files, and the same design gives the same bytes', () => {
    const zip = buildZip(glazeRoom())
    const inside = unzipSync(zip)
    expect(Object.keys(inside)).toContain('glaze-room/glaze-room.ino')
    for (const f of buildFiles(glazeRoom()))
      expect(
        strFromU8(inside[f.inZip ?? (f.name.endsWith('.ino') ? `glaze-room/${f.name}` : f.name)]!),
      ).toBe(f.text)
    expect(Buffer.from(buildZip(glazeRoom())).equals(Buffer.from(zip))).toBe(true)
  })
  it('a design whose keys come in another order, as from a store, gives the same bytes', () => {
    const turned = (value: unknown): unknown =>
      Array.isArray(value)
        ? value.map(turned)
        : typeof value === 'object' && value !== null
          ? Object.fromEntries(
              Object.entries(value)
                .reverse()
                .map(([k, v]) => [k, turned(v)]),
            )
          : value
    const other = turned(glazeRoom()) as ReturnType<typeof glazeRoom>
    expect(Object.keys(other)).not.toEqual(Object.keys(glazeRoom()))
    expect(Buffer.from(buildZip(other)).equals(Buffer.from(buildZip(glazeRoom())))).toBe(true)
  })
  it('a board in front has a folder of its own, told apart from the one behind', () => {
    const files = buildFiles(glazeRoom())
    const programs = files.filter(f => f.controllerId === 'board')
    expect(programs.map(f => [f.name, f.ahead])).toEqual([
      ['glaze-room.hex', undefined],
      ['glaze-room.ino', undefined],
      ['glaze-room-front.ino', true],
    ])
    expect(programs[2]?.text).toContain('board in front')
    const alone = { ...glazeRoom(), front: null }
    expect(buildFiles(alone).some(f => f.ahead)).toBe(false)
  })
  it('the ZIP is opened by another program too', () => {
    const python = spawnSync(
      'python3',
      [
        '-c',
        'import sys,zipfile,io; z=zipfile.ZipFile(io.BytesIO(sys.stdin.buffer.read())); assert z.testzip() is None; print(len(z.namelist()))',
      ],
      { input: buildZip(glazeRoom()) },
    )
    if (python.error) return void console.warn('SKIPPED: no python3 here to open the ZIP with')
    expect(python.stdout.toString().trim()).toBe(String(buildFiles(glazeRoom()).length))
  })
})

describe('message sheet', () => {
  it('CSV reads back cell by cell (RFC 4180), formulas made harmless', () => {
    const csv = messageCsv(nasty())
    const { data } = Papa.parse<string[]>(csv.trimEnd())
    const bare = (text: string) => text.replace(/^'(?=[=+\-@\t])/, '')
    expect(data.slice(1, -1).map(r => r.map(bare))).toEqual(
      sheetRows(nasty()).map(r => [r.link, r.direction, r.text, r.hex, r.means, r.when]),
    )
    for (const cell of data.flat()) expect(cell).not.toMatch(/^[=+\-@]/)
    expect(csv.endsWith('\r\n')).toBe(true)
  })
  it('lists every code and report once, with its bytes', () => {
    const lines = sheetRows(twoPanelDesign()).map(
      r => `${r.link}: ${r.direction} ${r.text} [${r.hex}] ${r.means}`,
    )
    expect(lines).toEqual([
      'Phone: to the board F [46] Fan on',
      'Phone: to the board f [66] Fan off',
      'Phone: to the board ? [3F] ask for the state',
      'Phone: from the board +F [2B 46] Fan is on',
      'Phone: from the board +f [2B 66] Fan is off',
      'Browser: to the board /fan/on [] Fan on',
      'Browser: to the board /fan/off [] Fan off',
      'Browser: to the board /state [] ask for the state',
      'Browser: to the board /events [] stream of reports',
      'Browser: to the board /hello [] ask who is there',
      'Browser: from the board fan=1 [] Fan is on',
      'Browser: from the board fan=0 [] Fan is off',
    ])
  })
})

describe('a link that speaks in structures', () => {
  it('gives a header and vectors that the decoder understands', () => {
    const design = speaking(glazeRoom(), DIALECTS.slip!)
    const files = buildFiles(design)
    const header = files.find(f => f.name === 'apron-link.h')?.text ?? ''
    expect(header).toContain('#define LOAD_BOOTH_EXTRACTOR 1u')
    expect(header).toContain('static_assert(sizeof(apron_link_t) == 4')
    const vectors = Papa.parse<string[]>(
      (files.find(f => f.name === 'apron-link-vectors.csv')?.text ?? '').trimEnd(),
    ).data.slice(1, -1)
    const { reader, meanings } = compileController(design).links[0]!
    const commands = vectors.filter(v => v[0] === 'to the board')
    expect(commands.length).toBeGreaterThan(8)
    for (const [, , , wire] of commands) {
      const text = (wire ?? '')
        .split(' ')
        .map(h => String.fromCharCode(parseInt(h, 16)))
        .join('')
      const [heard] = feedAll(reader, '', text).heard
      expect(heard?.kind === 'code' && meanings.has(heard.code)).toBe(true)
    }
  })
})

describe('panel page', () => {
  it("asks nothing of the outside: no address but the board's own, no other file", () => {
    for (const design of [glazeRoom(), nasty()]) {
      for (const id of ['apron-phone', 'office-browser']) {
        const page = panelPage(design, id)
        expect(page.match(/https?:\/\/[^"'\s<\\]+/g) ?? []).toEqual(
          id === 'office-browser' ? ['http://192.168.4.1'] : [],
        )
        expect(page).not.toMatch(/<(?:link|script|img|iframe)[^>]+(?:src|href)=(?!"data:)/)
        expect(page).not.toContain('@import')
      }
    }
  })
  it('no name breaks out of its place', () => {
    const page = panelPage(nasty(), 'apron-phone')
    expect(page.match(/<script/g)).toHaveLength(2)
    expect(page.match(/<\/script>/g)).toHaveLength(2)
    expect(page).toContain('&quot;Pump&quot; &amp; &#39;Co&#39;')
    const config =
      /<script type="application\/json" id="nolvi-config">(.*?)<\/script>/s.exec(page)?.[1] ?? ''
    expect(JSON.parse(config)).toMatchObject({
      surfaceId: 'apron-phone',
      design: { id: nasty().id, links: [{ id: 'apron-link' }] },
    })
  })
  it('gives away nothing but what it needs: no wiring, note, network name, other link or secret', () => {
    const design = edited(
      showroom(),
      { type: 'setNetworks', networks: ['Dairy house net'] },
      { type: 'noteLoad', loadId: 'shelf-lamps', note: 'key under the pot' },
      { type: 'setWiring', loadId: 'shelf-lamps', patch: { dangers: ['heat'] } },
      { type: 'setLink', linkId: 'till-tablet-link', patch: { auth: { kind: 'word' } } },
    )
    const page = buildFiles(design).find(f => f.surfaceId === 'till-tablet')!.text
    for (const kept of [
      'Dairy house net',
      'key under the pot',
      'heat',
      'counter-knob-link',
      'practice-till',
    ])
      expect(page).not.toContain(kept)
    expect(
      buildFiles(design, { 'till-tablet-link': 'open-sesame' }).find(
        f => f.surfaceId === 'till-tablet',
      )!.text,
    ).toContain('open-sesame')
  })
  it('its program parses as plain script, and is the newest', () => {
    const script =
      /<script>(.*)<\/script>/s.exec(
        panelPage(starter(), starter().surfaces.find(s => s.kind === 'panel')!.id),
      )?.[1] ?? ''
    expect(() => runInContext(`(() => { return; ${script} })()`, createContext({}))).not.toThrow()
    const made = spawnSync(process.execPath, [resolve('scripts/panel-runtime.mjs'), '--check'])
    expect(made.status, made.stderr.toString()).toBe(0)
  })
})
