import { spawnSync } from 'node:child_process'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { wiringSvg } from '../../../../core/build/wiring-drawing'
import { flashingSteps, flashingText, partRows, partsCsv, wiringCsv, wiringRows } from '../../../../core/build/wiring-sheet'
import { edited, fanDesign, glazeRoom, starter } from '../../../fixtures/designs'

describe('wiring table', () => {
  it('of the fan design, line by line', () => {
    expect(wiringRows(fanDesign()).map(r => `${r.pin} | ${r.what} | ${r.direction} | ${r.through}`)).toEqual([
      'D4 | Fan | from the board | relay module, on when low',
      'D2 | Fan, button | to the board | contact to ground, 1 m of lead, pull-up in the board',
      'D0 | Phone link, receives | to the board | transmit line of the module',
      'D1 | Phone link, sends | from the board | receive line of the module, through a divider of 1 kΩ and 2 kΩ to 3.3 V',
      'D7 | Phone link, connected line | to the board | connected line of the module',
    ])
  })
  it('CSV reads back with a pin for every need', () => {
    const { data } = Papa.parse<string[]>(wiringCsv(glazeRoom()).trimEnd())
    expect(data).toHaveLength(wiringRows(glazeRoom()).length + 2)
    expect(data.every(r => r.length === 6)).toBe(true)
    expect(Papa.parse<string[]>(partsCsv(glazeRoom()).trimEnd()).data.every(r => r.length === 4)).toBe(true)
  })
})

describe('parts list', () => {
  it('counts equal parts together and names all they are for', () => {
    const rows = partRows(glazeRoom()).map(r => `${r.count} x ${r.part}, ${r.value}`)
    expect(rows).toContain('3 x relay module channel, on when low')
    expect(rows).toContain('3 x resistor, 4.7 kΩ')
    expect(rows).toContain('1 x MOSFET, N-channel, 25 mΩ at 4.5 V')
    expect(rows).toContain('1 x fuse, 2 A')
  })
  it('names the base resistor that the sum chose', () => {
    const design = edited(starter(), { type: 'setWiring', loadId: 'bench-lamp', patch: { driver: { kind: 'coil', volts: 5, ohms: 70, henries: 0.1, gainMin: 100, transistorMaxAmps: 0.6 } } })
    expect(partRows(design).map(r => `${r.part} ${r.value}`)).toEqual(expect.arrayContaining(['resistor 560 Ω', 'diode 1 A', 'relay coil 5 V, 70 Ω']))
  })
})

describe('drawing', () => {
  const nasty = edited(glazeRoom(), { type: 'renameLoad', loadId: 'rinse-pump', name: '"Pump" & \'Co\'' })
  it('is well-formed XML with a line for every need, mains as a closed box', () => {
    const svg = wiringSvg(nasty)
    expect(svg.match(/<line /g)).toHaveLength(wiringRows(nasty).length)
    expect(svg).toContain('Booth extractor - MAINS, closed box')
    expect(svg).toContain('&quot;Pump&quot;')
    const parsed = spawnSync('python3', ['-c', 'import sys,xml.dom.minidom; xml.dom.minidom.parseString(sys.stdin.buffer.read()); print("ok")'], { input: svg })
    if (parsed.error) return void console.warn('SKIPPED: no python3 here to parse the drawing with')
    expect(parsed.stdout.toString().trim()).toBe('ok')
  })
  it('takes the maker\'s colours', () => {
    const svg = wiringSvg(edited(glazeRoom(), { type: 'setWires', patch: { contact: '#aa3300' } }))
    expect(svg.match(/stroke="#aa3300"/g)).toHaveLength(3)
  })
  it('tells its lines apart without colour', () => {
    const dashes = [...wiringSvg(glazeRoom()).matchAll(/<line [^>]*?(?:stroke-dasharray="([^"]*)")?\/>/g)].map(m => m[1] ?? 'solid')
    expect(new Set(dashes).size).toBe(4)
  })
})

describe('checklist of uploading', () => {
  it('unplugs what sits on the upload pins, and plugs it in again', () => {
    const steps = flashingSteps(glazeRoom())
    expect(steps[0]).toContain('mains')
    expect(steps).toContain('Unplug Apron phone link, receives from D0: it disturbs the upload.')
    expect(steps.some(s => s.includes('9600 baud') && s.includes('send "?"'))).toBe(true)
    expect(flashingText(glazeRoom()).match(/\[ \]/g)).toHaveLength(steps.length)
  })
  it('names straps that are in use', () => {
    const radio = edited(fanDesign(), { type: 'setBoard', board: 'board-wifi-full' }, { type: 'setPins', pins: { 'load:fan': 0 } })
    expect(flashingSteps(radio).some(s => s.startsWith('D3 (Fan) low at the start means upload'))).toBe(true)
  })
})
