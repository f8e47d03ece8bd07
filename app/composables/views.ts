/**
 * The views in the order of the work: the key that opens each, what it is for, and its own keys.
 */
export interface View {
  id: string
  name: string
  key: string
  purpose: string
  keys: readonly (readonly [key: string, does: string])[]
}
export const VIEWS: readonly View[] = [
  {
    id: 'sheet',
    name: 'Sheet',
    key: 's',
    purpose:
      'Loads against surfaces: what each says, what it hears, and whether it shows the truth.',
    keys: [
      ['arrows', 'move between cells'],
      ['Enter', 'edit the code of a cell'],
      ['Alt and arrows', 'move a row up or down'],
    ],
  },
  {
    id: 'wiring',
    name: 'Wiring',
    key: 'w',
    purpose: 'Pins, drivers, supply and sums: what is soldered where, and whether it holds.',
    keys: [['arrows', 'move a part to the next pin that takes it']],
  },
  {
    id: 'messages',
    name: 'Messages',
    key: 'm',
    purpose: 'What is said over each link, and what could be taken for something else.',
    keys: [['arrows, Enter', 'to the next code']],
  },
  {
    id: 'panels',
    name: 'Panels',
    key: 'p',
    purpose: 'Pages for phones and browsers, laid out in millimetres of glass.',
    keys: [
      ['1 2 3', 'lay out, on the bench, on a stand-in'],
      ['0', 'real size, or all at once'],
      ['arrows', 'move what is chosen by 1 mm; with Ctrl by 5, with Shift the size'],
      ['Enter', 'the next form'],
      ['Space', 'choose one more'],
      ['Ctrl D', 'another of the same'],
      ['Page keys', 'to another page'],
      ['Delete', 'take it off'],
    ],
  },
  {
    id: 'bench',
    name: 'Bench',
    key: 'b',
    purpose: 'The whole design plays: press, cut, wait, and see who shows what.',
    keys: [
      ['Space', 'run, pause'],
      ['arrows', 'move the cursor, or from change to change'],
      ['n N', 'search on, and back'],
      ['k', 'mark the place'],
      ['+ - 0', 'larger, smaller, the whole run'],
      ['Home End', 'to the beginning, to now'],
    ],
  },
  {
    id: 'proof',
    name: 'Proof',
    key: 'f',
    purpose: 'Nine promises, for any number of presses and faults; what breaks one is a story.',
    keys: [
      ['arrows', 'move between promises'],
      ['Enter', 'play the story, or prove it'],
    ],
  },
  {
    id: 'build',
    name: 'Build',
    key: 'u',
    purpose: 'Programs, pages and papers, by where they go and what is done there.',
    keys: [],
  },
  {
    id: 'live',
    name: 'Live',
    key: 'l',
    purpose: 'The real thing beside the design: what boards say, how long it takes, who is wrong.',
    keys: [],
  },
  {
    id: 'log',
    name: 'Log',
    key: 'g',
    purpose: 'What was built, written, measured and changed, and when.',
    keys: [],
  },
]

/** Keys that work in every view. */
export const KEYS_EVERYWHERE: View['keys'] = [
  ['I', 'findings'],
  ['Ctrl K', 'go anywhere, press any fix'],
  ['Ctrl Z, Ctrl Y', 'undo, redo'],
  ['?', 'these keys'],
]

/** Rules in the rail stand before these. */
export const VIEW_GROUPS = new Set<string>(['bench', 'build'])
