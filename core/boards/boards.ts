/** Board profiles by generic class: pins a maker may use, and those that carry something else. Thin until Wiring. */
export interface BoardPin { chip: number, label: string, taken?: string }
export interface BoardProfile { id: string, name: string, pins: readonly BoardPin[] }

const digital = (chip: number, taken?: string): BoardPin => ({ chip, label: `D${chip}`, ...(taken ? { taken } : {}) })

/** 8-bit 5 V class: 14 digital pins and 6 analog ones usable as digital; the only hardware serial port is on 0 and 1. */
const eightBit: BoardProfile = {
  id: 'board-8bit-5v',
  name: '8-bit 5 V board, 20 pins',
  pins: [
    digital(0, 'receives from the Bluetooth module and during upload'),
    digital(1, 'sends to the Bluetooth module and during upload'),
    ...Array.from({ length: 11 }, (_, i) => digital(i + 2)),
    digital(13, 'lights the on-board lamp and blinks while the board starts'),
    ...Array.from({ length: 6 }, (_, i) => ({ chip: 14 + i, label: `A${i}` })),
  ],
}

const profiles: Readonly<Record<string, BoardProfile>> = { [eightBit.id]: eightBit }

export function boardProfile(id: string): BoardProfile {
  const profile = profiles[id]
  if (!profile) throw new RangeError(`no board profile "${id}"`)
  return profile
}
