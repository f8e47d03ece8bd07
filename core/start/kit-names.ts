/** What kits are called, for who chooses one. */
export const KIT_IDS = ['one-lamp', 'four-loads', 'knob', 'two-boards', 'vehicle'] as const

export const KIT_NAMES: readonly {
  id: (typeof KIT_IDS)[number] | 'empty'
  name: string
  words: string
}[] = [
  {
    id: 'one-lamp',
    name: 'One lamp, by phone and button',
    words: 'The smallest thing that shows the truth: no router, no app.',
  },
  {
    id: 'four-loads',
    name: 'Four loads, by browser and wall',
    words: 'A board with two radios, wall switches, and a page for every browser of the house.',
  },
  {
    id: 'knob',
    name: 'A knob and what it dims',
    words: 'A knob with detents and a button at the board, and the same lamp on a phone.',
  },
  {
    id: 'two-boards',
    name: 'Two boards in one house',
    words: 'One in the house and one outside, each with loads, buttons and a page of its own.',
  },
  {
    id: 'vehicle',
    name: 'A vehicle at 12 V',
    words: 'Lights, pump, fan, heater and a step, by buttons and a phone that needs no router.',
  },
  {
    id: 'empty',
    name: 'Nothing on it yet',
    words: 'One 8-bit board: loads and surfaces are named on the sheet.',
  },
]
