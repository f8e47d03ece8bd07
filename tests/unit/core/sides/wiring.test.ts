import { partRows, partsCsv } from '../../../../core/sides/parts-list'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import {
  flashingSteps,
  flashingText,
  wiringCsv,
  wiringRows,
} from '../../../../core/sides/wiring-sheet'
import { NEW_DRIVERS } from '../../../../core/design/drivers'
import type { Edit } from '../../../../core/design/edits/edits'
import { SENSORS } from '../../../../core/design/sensors/rows'
import type { SensorKind } from '../../../../core/design/sensors/schema'
import { partOf } from '../../../../core/design/part'
import { sumsOf } from '../../../../core/electrical/of-design'
import { edited, fanDesign, glazeRoom, showroom, starter } from '../../../fixtures/designs'

describe('wiring table', () => {
  it('of the fan design, line by line', () => {
    expect(
      wiringRows(fanDesign()).map(r => `${r.pin} | ${r.what} | ${r.direction} | ${r.through}`),
    ).toEqual([
      'D4 | Fan | from the board | relay module, on when low',
      'D2 | Fan, button | to the board | contact to ground, 1 m of lead, pull-up in the board',
      'D0 | Phone link, receives | to the board | transmit line of the module',
      'D1 | Phone link, sends | from the board | receive line of the module, through a divider of 1 kΩ and 2 kΩ to 3.3 V',
      'D7 | Phone link, connected line | to the board | connected line of the module',
    ])
  })
  it('of every kind of sensor, and of a board in front: what stands between', () => {
    const kinds = Object.keys(SENSORS) as SensorKind[]
    const all = edited(
      fanDesign(),
      { type: 'setBoard', board: 'board-8bit-5v-small' },
      { type: 'setFront', front: {} },
      ...kinds.map((kind): Edit => ({ type: 'addSensor', kind, name: `My ${kind}` })),
    )
    const rows = wiringRows(all)
    expect(rows.filter(r => r.what.startsWith('My ')).map(r => `${r.what} | ${r.through}`)).toEqual(
      [
        'My infrared | output of a receiver on 5 V, 100 nF at its supply',
        'My knob, line A | contact to ground, 300 mm of lead, pull-up in the board',
        'My knob, line B | contact to ground, 300 mm of lead, pull-up in the board',
        'My contact | contact to ground, 1 m of lead, pull-up in the board',
        'My floats, float at 20 l | float contact to ground, 2 m of lead, pull-up in the board',
        'My floats, float at 60 l | float contact to ground, 2 m of lead, pull-up in the board',
        'My floats, float at 100 l | float contact to ground, 2 m of lead, pull-up in the board',
        'My thermometer | data line, 4.7 kΩ to 5 V, 1 m of lead',
        'My thermistor | between 10 kΩ to 5 V and the thermistor to ground, 100 nF to ground',
        'My analog | straight, 100 nF to ground',
        'My battery | between 47 kΩ to the battery and 10 kΩ to ground, fuse at the battery',
        'My two-axis, first axis | slider of a potentiometer between 5 V and ground',
        'My two-axis, second axis | slider of a potentiometer between 5 V and ground',
      ],
    )
    expect(rows.slice(-2).map(r => `${r.what} | ${r.through}`)).toEqual([
      'Network board, hears | TX of Network board, straight, 9600 baud',
      'Network board, tells | RX of Network board, through 1 kΩ, then 2 kΩ to ground, 9600 baud',
    ])
    expect(new Set(rows.map(r => r.chip)).size).toBe(rows.length)
    const parts = partRows(all).map(r => `${r.count} x ${r.part}, ${r.value}`)
    expect(parts).toEqual(
      expect.arrayContaining([
        '3 x float contact, low voltage',
        '1 x board, small Wi-Fi module, 8 pins on its header',
        '1 x rotary encoder, 24 detents',
        '1 x digital thermometer, one line',
      ]),
    )
  })
  it.each<[string, Edit[], string[], string]>([
    [
      'bridge',
      [
        { type: 'setKind', loadId: 'fan', kind: 'opposed' },
        { type: 'setOutput', loadId: 'fan', patch: { drive: 'bridge' } },
      ],
      [
        'forward input of the bridge; motor and bridge on a supply of their own, grounds joined',
        'reverse input of the bridge; motor and bridge on a supply of their own, grounds joined',
      ],
      '1 x motor bridge, 2 A, 4 A peak',
    ],
    [
      'stepper',
      [
        { type: 'setKind', loadId: 'fan', kind: 'opposed' },
        { type: 'setOutput', loadId: 'fan', patch: { drive: 'stepper' } },
      ],
      [
        'step input of the stepper driver; set its current to 800 mA',
        'direction input of the stepper driver; set its current to 800 mA',
      ],
      '1 x stepper driver, 1.5 A',
    ],
    [
      'dimmer',
      [
        { type: 'setKind', loadId: 'fan', kind: 'level' },
        { type: 'setOutput', loadId: 'fan', patch: { drive: 'dimmer' } },
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: { load: { type: 'tungsten', volts: 230, amps: 0.3, mains: true } },
        },
      ],
      ['low-voltage input of the dimmer; mains side: closed box, by a qualified person'],
      '1 x dimmer with low-voltage input, 50 mA to 1 A',
    ],
    // (5 V - 1.2 V) / 5 mA = 760 Ω, so 750 Ω of E24.
    [
      'follower',
      [
        { type: 'setKind', loadId: 'fan', kind: 'follower' },
        { type: 'setWiring', loadId: 'fan', patch: { driver: NEW_DRIVERS.opto } },
      ],
      [
        '750 Ω to the lamp of an optocoupler, its transistor across the contact of the knob that clicks up',
        '750 Ω to the lamp of an optocoupler, its transistor across the contact of the knob that clicks down',
      ],
      '2 x optocoupler, transfer at least 50%',
    ],
  ])('of a %s, line by line', (_, edits, through, part) => {
    const design = edited(fanDesign(), ...edits)
    expect(
      wiringRows(design)
        .filter(r => r.direction === 'from the board' && !r.what.startsWith('Phone'))
        .map(r => r.through),
    ).toEqual(through)
    expect(partRows(design).map(r => `${r.count} x ${r.part}, ${r.value}`)).toContain(part)
  })
  it('CSV reads back with a pin for every need', () => {
    const { data } = Papa.parse<string[]>(wiringCsv(glazeRoom()).trimEnd())
    expect(data).toHaveLength(wiringRows(glazeRoom()).length + 2)
    expect(data.every(r => r.length === 6)).toBe(true)
    expect(
      Papa.parse<string[]>(partsCsv(glazeRoom()).trimEnd()).data.every(r => r.length === 4),
    ).toBe(true)
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
    const design = edited(starter(), {
      type: 'setWiring',
      loadId: 'bench-lamp',
      patch: {
        driver: {
          kind: 'coil',
          volts: 5,
          ohms: 70,
          henries: 0.1,
          gainMin: 100,
          baseOhms: 0,
          gate: null,
          transistorMaxAmps: 0.6,
        },
      },
    })
    expect(partRows(design).map(r => `${r.part} ${r.value}`)).toEqual(
      expect.arrayContaining(['resistor 560 Ω', 'diode 1 A', 'relay coil 5 V, 70 Ω']),
    )
  })
})

describe('checklist of uploading', () => {
  it('of two boards: the wire pulled, each alone, the wire plugged in again', () => {
    const steps = flashingSteps(edited(fanDesign(), { type: 'setFront', front: {} }))
    const at = (start: string) => steps.findIndex(s => s.startsWith(start))
    expect(at('Pull the wire between')).toBeGreaterThan(-1)
    expect(at('Then Network board, the small Wi-Fi module')).toBeGreaterThan(at('Pull the wire'))
    expect(at('Plug the wire in again')).toBeGreaterThan(at('Then Network board'))
  })
  it('unplugs what sits on the upload pins, and plugs it in again', () => {
    const steps = flashingSteps(glazeRoom())
    expect(steps[0]).toContain('mains')
    expect(steps).toContain('Unplug Apron phone link, receives from D0: it disturbs the upload.')
    expect(steps.some(s => s.includes('9600 baud') && s.includes('send "?"'))).toBe(true)
    expect(flashingText(glazeRoom()).match(/\[ \]/g)).toHaveLength(steps.length)
  })
  it('names straps that are in use', () => {
    const radio = edited(
      fanDesign(),
      { type: 'setBoard', board: 'board-wifi-full' },
      { type: 'setPins', pins: { 'load:fan': 0 } },
    )
    expect(
      flashingSteps(radio).some(s => s.startsWith('D3 (Fan) low at the start means upload')),
    ).toBe(true)
  })
})

describe('a serial wire on a board without a module', () => {
  it('is told as a wire, with its part, and its speed is reckoned', () => {
    const design = partOf(showroom(), 'porch-board')
    expect(wiringCsv(design)).toContain('transmit line of the other side')
    expect(partsCsv(design)).toContain('serial lead of three wires,9600 baud')
    expect(`${wiringCsv(design)}${partsCsv(design)}`).not.toContain('module of')
    expect(partsCsv(design)).not.toContain('Bluetooth')
    expect(sumsOf(design).find(s => s.kind === 'uart-clock')?.path).toBe('/links/0')
  })
})
