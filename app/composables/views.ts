/** The views in the order of the work, with the key that opens each. */
export const VIEWS = [
  { id: 'sheet', name: 'Sheet', key: 's' },
  { id: 'wiring', name: 'Wiring', key: 'w' },
  { id: 'messages', name: 'Messages', key: 'm' },
  { id: 'panels', name: 'Panels', key: 'p' },
  { id: 'bench', name: 'Bench', key: 'b' },
  { id: 'proof', name: 'Proof', key: 'f' },
  { id: 'build', name: 'Build', key: 'u' },
  { id: 'live', name: 'Live', key: 'l' },
  { id: 'log', name: 'Log', key: 'g' },
] as const

/** Rules in the rail stand before these. */
export const VIEW_GROUPS = new Set<string>(['bench', 'build'])
