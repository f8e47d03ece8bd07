/** Captures of all kinds: read, and what was planted in them blamed, and nothing else. */
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { execFileSync, spawn } from 'node:child_process'
import {
  closeSync,
  existsSync,
  mkdtempSync,
  openSync,
  readFileSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { askedFor, beside, type BesideRow } from '../../../core/captures/beside'
import { judged, type Blame, type Judged } from '../../../core/captures/blame'
import { likelySpeed, lineBytes } from '../../../core/captures/levels'
import { packetsIn } from '../../../core/captures/packets'
import { readCapture } from '../../../core/captures/pieces'
import type { Design, HttpLink } from '../../../core/design/schema'
import { wireOf } from '../../../core/design/wire'
import { Twin } from '../../../core/live/twin'
import { DIALECTS, edited, glazeRoom, over, speaking, tellingAll } from '../../fixtures/designs'
import {
  asDump,
  asLevelTable,
  asLog,
  asPcap,
  asPcapng,
  asTable,
  datagrams,
  levelsOf,
  requests,
  type Asked,
  type At,
} from '../../fixtures/captures'
import { has } from '../../fixtures/tools'

const APRON = 'apron-link'
const OFFICE = 'office-link'
function room(): Design {
  const plain = speaking(glazeRoom(), { ...DIALECTS.lines!, template: '{load} {value}' } as never)
  return tellingAll(plain)
}
const bytes = (text: string) => new TextEncoder().encode(text)
const linkOn = (design: Design, id: string) => design.links.find(l => l.id === id)!

/** What a board would have said: commands over the phone's link, each answered after 40 ms. */
function session(design: Design, commands: readonly [ms: number, code: string][]): At[] {
  const link = linkOn(design, APRON)
  const twin = new Twin(design)
  twin.boot(0)
  twin.link(APRON, true, 0)
  return commands.flatMap(([ms, code]): At[] => {
    const text = wireOf(link, code, 'command')
    const answers = twin.hears(APRON, text, ms).filter(s => s.linkId === APRON)
    return [
      { ms, way: 'up', text },
      ...answers.map((a, i): At => ({ ms: ms + 40 + 30 * i, way: 'down', text: a.text })),
    ]
  })
}
const COMMANDS: [number, string][] = [
  [500, '?'],
  [2000, 'booth on'],
  [3500, 'wheel on'],
  [5000, 'booth toggle'],
  [6500, 'cupboard on'],
  [8000, 'wheel off'],
  [9500, 'rinse on'],
  [11_000, 'rinse off'],
]
const read = (design: Design, id: string, name: string, file: Uint8Array): Judged =>
  judged(design, linkOn(design, id), readCapture(linkOn(design, id), name, file))
const found = (j: Judged): [Blame, string][] =>
  j.lines.flatMap(l => (l.blame ? [[l.blame, l.text] as [Blame, string]] : []))

/** The same session in every form that a serial line is captured in. */
const SERIAL: Record<string, (design: Design, list: At[]) => Judged> = {
  'a log of a terminal': (d, list) => read(d, APRON, 'evening.log', bytes(asLog(list))),
  'a log without arrows': (d, list) =>
    read(d, APRON, 'evening.txt', bytes(asLog(list).replaceAll(/ [<>] /g, ' '))),
  'a table of a decoder': (d, list) => read(d, APRON, 'probe.csv', bytes(asTable(list, 9600))),
  'levels in a table': (d, list) =>
    read(d, APRON, 'probe.csv', bytes(asLevelTable(levelsOf(list, { up: 9600, down: 9600 })))),
  'levels in a dump': (d, list) =>
    read(d, APRON, 'probe.vcd', bytes(asDump(levelsOf(list, { up: 9600, down: 9600 })))),
}

describe('a clean capture', () => {
  for (const [name, as] of Object.entries(SERIAL))
    it(`${name}: every message in words, nothing blamed`, () => {
      const design = room()
      const list = session(design, COMMANDS)
      const j = as(design, list)
      expect(found(j)).toEqual([])
      expect(j.words).toEqual([])
      expect(j.lines.filter(l => l.way === 'up')).toHaveLength(COMMANDS.length)
      // The question for the state is answered by a report of each load.
      expect(j.lines.filter(l => l.way === 'down')).toHaveLength(COMMANDS.length - 1 + 4)
      expect(j.lines.map(l => l.words)).toEqual(
        expect.arrayContaining([
          'asks for the state',
          'asks for Booth extractor on',
          'Rinse pump is on',
        ]),
      )
      const answer = j.lines.find(l => l.words === 'Rinse pump is on')!
      expect(answer.afterMs).toBeGreaterThan(25)
      expect(answer.afterMs).toBeLessThan(70)
    })

  const udpRoom = () => {
    const d = over(room(), 'udp')
    return { d, port: (linkOn(d, APRON) as { port: number }).port }
  }
  it('datagrams, in both formats of packets and either order of bytes', () => {
    const { d, port } = udpRoom()
    const list = session(d, COMMANDS)
    for (const file of [
      asPcap(datagrams(list, port)),
      asPcap(datagrams(list, port), true),
      asPcapng(datagrams(list, port)),
    ]) {
      const j = read(d, APRON, 'evening.pcap', file)
      expect(found(j)).toEqual([])
      expect(j.lines).toHaveLength(list.length + 3)
      expect(j.lines[0]).toMatchObject({ way: 'up', words: 'asks for the state', atMs: 0 })
    }
  })

  const asks: Asked[] = [
    {
      ms: 100,
      target: '/state',
      answer: { afterMs: 9, status: 200, body: 'booth-extractor=0\nwheel-lights=0' },
    },
    {
      ms: 900,
      target: '/extractor/on',
      answer: { afterMs: 12, status: 200, body: 'booth-extractor=1' },
    },
    {
      ms: 2100,
      target: '/lights/on?_=17',
      answer: { afterMs: 30, status: 200, body: 'wheel-lights=1' },
    },
    {
      ms: 3300,
      target: '/extractor/off',
      answer: { afterMs: 11, status: 200, body: 'booth-extractor=0' },
    },
  ]
  it('requests, their segments twice and out of order', () => {
    const d = room()
    const j = read(d, OFFICE, 'evening.pcapng', asPcapng(requests(asks, 80)))
    expect(found(j)).toEqual([])
    expect(j.lines.map(l => [l.way, l.words, l.afterMs])).toEqual([
      ['up', 'asks for the state', null],
      ['down', 'Booth extractor is off', null],
      ['down', 'Wheel lights is off', null],
      ['up', 'asks for Booth extractor on', null],
      ['down', 'Booth extractor is on', 12],
      ['up', 'asks for Wheel lights on', null],
      ['down', 'Wheel lights is on', 30],
      ['up', 'asks for Booth extractor off', null],
      ['down', 'Booth extractor is off', 11],
    ])
  })

  /** What is planted: into which capture, and what is to be said of it, once. */
  type Planted = [Blame, number, () => Judged]
  const serial = (as: string, change: (list: At[]) => At[]) => () => {
    const d = room()
    return SERIAL[as]!(
      d,
      change(session(d, COMMANDS)).sort((a, b) => a.ms - b.ms),
    )
  }
  const at = (list: At[], ms: number) => list.findIndex(l => l.ms === ms)
  const without = (ms: number) => (list: At[]) => list.filter(l => l.ms !== ms)
  const instead = (ms: number, text: string) => (list: At[]) =>
    list.map(l => (l.ms === ms ? { ...l, text } : l))
  const more =
    (ms: number, afterMs: number, text?: string) =>
    (list: At[]): At[] => {
      const of = list[at(list, ms)]!
      return [...list, { ...of, ms: ms + afterMs, text: text ?? of.text }]
    }
  const later = (ms: number, byMs: number) => (list: At[]) =>
    list.map(l => (l.ms === ms ? { ...l, ms: ms + byMs } : l))
  const grams = (change: (list: At[]) => At[]) => () => {
    const { d, port } = udpRoom()
    const list = change(session(d, COMMANDS)).sort((a, b) => a.ms - b.ms)
    return read(d, APRON, 'x.pcap', asPcap(datagrams(list, port)))
  }
  const web = (change: (list: Asked[]) => Asked[]) => () => {
    const end = {
      ms: 9000,
      target: '/state',
      answer: { afterMs: 9, status: 200, body: 'booth-extractor=0' },
    }
    return read(
      room(),
      OFFICE,
      'x.pcap',
      asPcap(requests([...change(structuredClone(asks)), end], 80)),
    )
  }
  const LOG = 'a log of a terminal'
  const PLANTED: Planted[] = [
    ['unknown code', 1, serial(LOG, more(2000, 700, 'booth up\n'))],
    ['unknown code', 1, serial('levels in a dump', more(2000, 700, 'bth on\n'))],
    ['unknown code', 1, grams(more(2000, 700, 'boost on\n'))],
    [
      'unknown code',
      1,
      web(l => [
        ...l,
        { ms: 4400, target: '/pump', answer: { afterMs: 9, status: 404, body: 'no such route' } },
      ]),
    ],
    ['missing answer', 1, serial(LOG, without(3540))],
    ['missing answer', 1, serial('levels in a table', without(3540))],
    ['missing answer', 1, grams(without(3540))],
    ['missing answer', 1, web(l => l.map((a, i) => (i === 1 ? { ...a, answer: null } : a)))],
    ['late', 1, serial(LOG, later(3540, 700))],
    ['late', 1, serial('a table of a decoder', later(3540, 700))],
    [
      'late',
      1,
      web(l => l.map((a, i) => (i === 1 ? { ...a, answer: { ...a.answer!, afterMs: 900 } } : a))),
    ],
    ['doubled', 1, serial(LOG, list => more(3540, 12)(list))],
    ['doubled', 1, grams(more(3500, 5))],
    ['doubled', 1, grams(more(3540, 5))],
    [
      'toggled twice',
      1,
      serial(LOG, list =>
        more(5040, 95, 'booth on\n'.replace('booth', '+booth'))(more(5000, 90)(list)),
      ),
    ],
    ['other value', 1, serial(LOG, instead(3540, '+wheel off\n'))],
    [
      'other value',
      1,
      web(l =>
        l.map((a, i) =>
          i === 1 ? { ...a, answer: { ...a.answer!, body: 'booth-extractor=0' } } : a,
        ),
      ),
    ],
    [
      'refused',
      1,
      web(l =>
        l.map((a, i) =>
          i === 1 ? { ...a, answer: { afterMs: 9, status: 409, body: 'not now' } } : a,
        ),
      ),
    ],
    ['answer of another table', 1, serial(LOG, more(3540, 300, '+wheel lit\n'))],
    ['answer of another table', 1, grams(more(3540, 300, '+lights=1\n'))],
    ['half a message', 1, serial('a table of a decoder', more(9500, 700, 'rinse o'))],
  ]
  it.each(PLANTED.map((p, i) => [p[0], i, p] as const))(
    'planted: %s (%i) is blamed, nothing else is',
    (blame, _, [, times, judgedOf]) => {
      const j = judgedOf()
      expect(found(j).map(f => f[0])).toEqual(Array.from({ length: times }, () => blame))
    },
  )

  it.each([
    ['down', 19_200],
    ['down', 4800],
    ['up', 38_400],
  ] as const)('planted: the line %s speaks at %i baud', (way, speed) => {
    const d = room()
    const list = session(d, COMMANDS)
    const levels = levelsOf(list, { up: 9600, down: 9600, [way]: speed })
    for (const file of [asDump(levels), asLevelTable(levels)]) {
      const j = read(d, APRON, file.startsWith('$') ? 'x.vcd' : 'x.csv', bytes(file))
      expect(j.counts['wrong speed']).toBeGreaterThan(0)
      expect(j.words.join()).toMatch(/is no text at 9600 baud/)
    }
    const edges = levels[way === 'up' ? 'rx' : 'tx'].map(e => ({ t: e.us / 1e6, level: e.level }))
    expect(likelySpeed(edges)).toBe(speed)
  })
})

describe('what is no capture of this link', () => {
  it('says what to do', () => {
    const d = room()
    const apron = linkOn(d, APRON)
    const pcap = asPcap(datagrams(session(d, COMMANDS), 4210))
    expect(() => readCapture(apron, 'x.pcap', pcap)).toThrow('choose the link of this capture')
    expect(() => readCapture(apron, 'x.csv', bytes('a,b\n1,2'))).toThrow('no column "time"')
    expect(() => readCapture(apron, 'x.vcd', bytes('$enddefinitions $end\n#0'))).toThrow(
      /no \$timescale|no line in it ever changes/,
    )
  })

  it('a file that ends in the middle is read as far as it goes', () => {
    const d = over(room(), 'udp')
    const { port } = linkOn(d, APRON) as { port: number }
    for (const as of [asPcap, asPcapng]) {
      const file = as(datagrams(session(d, COMMANDS), port))
      const whole = packetsIn(file).length
      for (let cut = 1; cut < 60; cut += 7)
        expect(packetsIn(file.subarray(0, file.length - cut))).toHaveLength(whole - 1)
    }
  })
})

describe('levels', () => {
  it('bytes back out of their levels, a bit read in its middle', () => {
    const list: At[] = [{ ms: 1, way: 'up', text: 'U\u0000\u00ffA' }]
    const { rx } = levelsOf(list, { up: 9600, down: 9600 })
    const out = lineBytes(
      rx.map(e => ({ t: e.us / 1e6, level: e.level })),
      9600,
    )
    expect(out.map(b => b.byte)).toEqual([0x55, 0, 0xff, 0x41])
    expect(out.every(b => b.framed)).toBe(true)
  })
})

describe('a capture beside the design', () => {
  const laid = (design: Design, list: readonly At[]) => {
    const link = linkOn(design, APRON)
    const capture = readCapture(link, 'evening.log', bytes(asLog(list)))
    const j = judged(design, link, capture)
    return { ...beside(design, link, capture), steps: askedFor(design, link, j.lines) }
  }
  const words = (r: BesideRow) => [r.line?.words ?? null, r.design?.words ?? null]

  it('a clean one: every answer on both sides, 40 ms and more after the design', () => {
    const design = room()
    const b = laid(design, session(design, COMMANDS))
    expect(b).toMatchObject({ board: 0, missing: 0, why: '' })
    expect(b.both).toBe(COMMANDS.length - 1 + 4)
    for (const r of b.rows) if (r.design) expect(r.atMs - r.design.atMs).toBeGreaterThanOrEqual(40)
    // What was asked for can be played: all but the question for the state.
    expect(b.steps).toHaveLength(COMMANDS.length - 1)
    expect(b.steps[0]).toMatchObject({
      atMs: 1500,
      action: { do: 'key', loadId: 'booth-extractor', want: 'on' },
    })
  })

  it('an answer that is missing stands on the side of the design', () => {
    const design = room()
    const whole = session(design, COMMANDS)
    const at = whole.findIndex(m => m.text.includes('wheel') && m.way === 'down' && m.ms > 3000)
    const b = laid(design, whole.toSpliced(at, 1))
    expect(b).toMatchObject({ board: 0, missing: 1 })
    expect(b.rows.filter(r => !r.line).map(words)).toEqual([[null, 'Wheel lights is on']])
  })

  it('what somebody did at the wall is of the board only, and the design goes on from there', () => {
    const design = room()
    const list = session(design, [
      [500, '?'],
      [9000, 'booth toggle'],
    ])
    const on = list.find(m => m.ms > 9000 && m.way === 'down')!
    // Switched on by hand, so that the toggle puts it off.
    const wall: At = { ms: 4000, way: 'down', text: on.text }
    const off: At = { ...on, text: on.text.replace('on', 'off') }
    const b = laid(
      design,
      list.flatMap(m => (m === on ? [wall, off] : [m])).sort((x, y) => x.ms - y.ms),
    )
    expect(b).toMatchObject({ board: 1, missing: 0 })
    expect(b.rows.filter(r => r.line?.way === 'down' && !r.design).map(words)).toEqual([
      ['Booth extractor is on', null],
    ])
    expect(b.rows.at(-1) && words(b.rows.at(-1)!)).toEqual([
      'Booth extractor is off',
      'Booth extractor is off',
    ])
  })

  it('what has no times is told in its order: a switch that is turned over and over', () => {
    const design = room()
    const link = linkOn(design, APRON)
    const list = session(design, [
      [500, 'booth toggle'],
      [1500, 'booth toggle'],
      [2500, 'booth toggle'],
    ])
    const bare = list.map(m => `${m.way === 'up' ? '>' : '<'} ${m.text.trim()}`).join('\n')
    const b = beside(design, link, readCapture(link, 'bare.log', bytes(bare)))
    expect(b).toMatchObject({ both: 3, board: 0, missing: 0 })
    expect(b.rows.flatMap(r => r.design?.words ?? [])).toEqual([
      'Booth extractor is on',
      'Booth extractor is off',
      'Booth extractor is on',
    ])
  })

  it('what the design says by itself from time to time is expected at its times', () => {
    const design = room()
    const link = linkOn(design, APRON)
    const often = edited(design, {
      type: 'setLink',
      linkId: link.id,
      patch: { everyMs: 10_000 },
    } as never)
    const told = linkOn(often, APRON)
    const list: At[] = [
      { ms: 500, way: 'up', text: wireOf(told, 'booth on', 'command') },
      { ms: 35_000, way: 'up', text: wireOf(told, 'booth off', 'command') },
    ]
    const capture = readCapture(told, 'x.log', bytes(asLog(list)))
    const { rows } = beside(often, told, capture)
    // The board of the capture said nothing: three rounds of reports are missing, and two answers.
    const missing = rows.filter(r => !r.line && r.design?.words === 'Booth extractor is on')
    expect(missing.length).toBeGreaterThanOrEqual(4)
    expect(rows.every(r => Number.isFinite(r.atMs) && r.atMs > -60_000)).toBe(true)
  })

  it('signed commands cannot be answered without their key', () => {
    const design = glazeRoom()
    const link = design.links.find(l => l.auth.kind !== 'none') ?? {
      ...linkOn(room(), APRON),
      auth: { kind: 'word' } as never,
    }
    const capture = readCapture(link, 'x.log', bytes('0 > a'))
    expect(beside(design, link, capture).why).toContain('key')
  })
})

const canStamp = has('socat') && has('ts')
if (!canStamp) console.warn('SKIPPED: a log of a terminal with times needs socat and ts')
describe.runIf(canStamp)('lines of a terminal with the times of another tool', () => {
  it('every report in words, with its time', async () => {
    const design = room()
    const folder = mkdtempSync(join(tmpdir(), 'nolvi-terminal-'))
    const [port, log] = [join(folder, 'port'), join(folder, 'evening.log')]
    const terminal = spawn(
      'sh',
      ['-c', `socat -u pty,link=${port},raw,echo=0 stdout | ts '%H:%M:%.S' > ${log}`],
      { detached: true },
    )
    try {
      await expect.poll(() => existsSync(port)).toBe(true)
      const reports = session(design, COMMANDS.slice(0, 3)).filter(m => m.way === 'down')
      const board = openSync(port, 'w')
      for (const { text } of reports) {
        writeSync(board, text)
        await new Promise(done => setTimeout(done, 60))
      }
      closeSync(board)
      const lines = () => readFileSync(log, 'utf8').trim().split('\n').length
      await expect.poll(lines).toBe(6)
      const j = read(design, APRON, 'evening.log', readFileSync(log))
      expect(found(j)).toEqual([])
      expect(j.lines.map(l => l.words)).toContain('Booth extractor is on')
      expect(j.lines.every(l => l.way === 'down' && l.atMs !== null)).toBe(true)
      // The stamps themselves, read a second way: how far apart lines came is up to the machine.
      const stamps = [...readFileSync(log, 'utf8').matchAll(/^(\d+):(\d+):([\d.]+) /gm)].map(
        ([, h, m, s]) => (Number(h) * 3600 + Number(m) * 60 + Number(s)) * 1000,
      )
      const day = 24 * 3600 * 1000
      const since = (ms: number) => (ms - stamps[0]! + day) % day
      expect(j.lines.map(l => l.atMs! - j.lines[0]!.atMs!)).toEqual(
        stamps.map(ms => expect.closeTo(since(ms), 2)),
      )
    } finally {
      process.kill(-terminal.pid!)
      rmSync(folder, { recursive: true, force: true })
    }
  })
})

const canSimulate = has('iverilog') && has('vvp')
if (!canSimulate) console.warn('SKIPPED: dumps as iverilog writes them need iverilog')
/** Lines whose levels a simulator of circuits sends and writes down, after its own manner. */
function simulated(list: readonly At[], baud: number, folder: string): Uint8Array {
  const bit = Math.round(1e9 / baud)
  const sends = (way: At['way']) =>
    list
      .filter(m => m.way === way)
      .flatMap(({ ms, text }) => [
        `if ($time < ${ms * 1_000_000}) #(${ms * 1_000_000} - $time);`,
        ...[...text].map(c => `send(8'd${c.charCodeAt(0)});`),
      ])
      .join('\n')
  const line = (name: string, way: At['way']) => `
module ${name}(output reg line);
  integer i;
  task send(input [7:0] b); begin
    line = 0; #${bit};
    for (i = 0; i < 8; i = i + 1) begin line = b[i]; #${bit}; end
    line = 1; #${bit};
  end endtask
  initial begin line = 1; ${sends(way)} end
endmodule`
  const file = join(folder, 'lines.v')
  writeFileSync(
    file,
    `\`timescale 1ns/1ns
${line('hand', 'up')}
${line('board', 'down')}
module bench;
  wire rx, tx;
  hand h(rx);
  board b(tx);
  initial begin
    $dumpfile("${join(folder, 'lines.vcd')}");
    $dumpvars(1, bench);
  end
endmodule
`,
  )
  execFileSync('iverilog', ['-o', join(folder, 'lines.out'), file])
  execFileSync('vvp', ['-n', join(folder, 'lines.out')])
  return readFileSync(join(folder, 'lines.vcd'))
}
describe.runIf(canSimulate)('dumps as a simulator of circuits writes them', () => {
  const inFolder = (does: (folder: string) => void) => {
    const folder = mkdtempSync(join(tmpdir(), 'nolvi-levels-'))
    try {
      does(folder)
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  }
  it('every message in words, nothing blamed', () => {
    const design = room()
    const list = session(design, COMMANDS)
    inFolder(folder => {
      const j = read(design, APRON, 'lines.vcd', simulated(list, 9600, folder))
      expect(found(j)).toEqual([])
      const log = read(design, APRON, 'evening.log', bytes(asLog(list)))
      expect(j.lines.map(l => l.words)).toEqual(log.lines.map(l => l.words))
    })
  })
  it('an unknown code is blamed, nothing else is', () => {
    const design = room()
    const list = session(design, COMMANDS)
    const planted: At = { ms: 7200, way: 'up', text: list[0]!.text.replace('?', 'attic on') }
    inFolder(folder => {
      const file = simulated(
        [...list, planted].sort((a, b) => a.ms - b.ms),
        9600,
        folder,
      )
      expect(found(read(design, APRON, 'lines.vcd', file)).map(([b]) => b)).toEqual([
        'unknown code',
      ])
    })
  })
  it('a line at another speed is told', () => {
    const design = room()
    inFolder(folder => {
      const j = read(
        design,
        APRON,
        'lines.vcd',
        simulated(session(design, COMMANDS), 19_200, folder),
      )
      expect(j.words[0]).toContain('19200 baud')
    })
  })
})

const canDump = has('tcpdump') && process.getuid?.() === 0
if (!canDump) console.warn('SKIPPED: packets as tcpdump writes them need tcpdump and its rights')
describe.runIf(canDump)('packets as tcpdump writes them', () => {
  it('requests on loopback', async () => {
    const design = room()
    const answers: Record<string, string> = {
      '/state': 'booth-extractor=0\nwheel-lights=0',
      '/extractor/on': 'booth-extractor=1',
    }
    const server = createServer((q, a) => a.end(answers[q.url ?? ''] ?? ''))
    await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
    const { port } = server.address() as AddressInfo
    const folder = mkdtempSync(join(tmpdir(), 'nolvi-dump-'))
    const file = join(folder, 'x.pcap')
    const dump = spawn('tcpdump', [
      '-i',
      'lo',
      '--immediate-mode',
      '-U',
      '-w',
      file,
      `tcp port ${port}`,
    ])
    try {
      await new Promise(done => dump.stderr.once('data', done))
      for (const path of Object.keys(answers))
        await (await fetch(`http://127.0.0.1:${port}${path}`)).text()
      await new Promise(done => setTimeout(done, 500))
      dump.kill()
      await new Promise(done => dump.once('exit', done))
      const link = { ...(linkOn(design, OFFICE) as HttpLink), address: `http://127.0.0.1:${port}` }
      const j = judged(design, link, readCapture(link, 'x.pcap', readFileSync(file)))
      expect(j.lines.map(l => l.words)).toContain('Booth extractor is on')
      expect(found(j)).toEqual([])
    } finally {
      server.close()
      server.closeAllConnections()
      rmSync(folder, { recursive: true, force: true })
    }
  })
})
