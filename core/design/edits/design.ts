/** The design as a whole: its name, its place, what it is fed by and joins. */
import { defineEdit } from './define'
import type { Design } from '../schema'
import { listed } from './parts'

export const designEdits = {
  renameDesign: defineEdit<{ name: string }>({
    apply: (d, a) => {
      d.name = a.name
    },
    words: (d, a) => `Design ${d.name} renamed to ${a.name}`,
  }),
  setPlace: defineEdit<{ place: string }>({
    apply: (d, a) => {
      d.place = a.place
    },
    words: (_, a) => `Place set to ${a.place || 'none'}`,
  }),
  setNetworks: defineEdit<{ networks: string[] }>({
    apply: (d, a) => {
      d.networks = a.networks
    },
    words: (_, a) => `Networks tried: ${a.networks.join(', ') || 'none'}`,
  }),
  setSupply: defineEdit<{ patch: Partial<Design['supply']> }>({
    apply: (d, a) => {
      Object.assign(d.supply, a.patch)
    },
    words: (_, a) => `Supply: ${listed(a.patch)}`,
  }),
  setWires: defineEdit<{ patch: Partial<Design['wires']> }>({
    apply: (d, a) => {
      Object.assign(d.wires, a.patch)
    },
    words: (_, a) => `Wires: ${listed(a.patch)}`,
  }),
}
