/** Designs that measurements are made with. */
import { blankDesign } from '../../core/design/blank'
import { applyEdit, type Edit } from '../../core/design/edits/edits'
import type { Design, PanelKey, Message } from '../../core/design/schema'
import { assign } from '../../core/messages/assign'

/**
 * Ten loads on four surfaces: a wall with a button each, a phone, a browser that asks, a box over
 * radio. Everything is reported.
 */
export function tenLoads(): Design {
  return manyLoads(10)
}

/** Forty loads, with a desk over a wire and a board over datagrams besides. */
export function fortyLoads(): Design {
  return manyLoads(40, [
    { type: 'addPanel', name: 'Desk', over: 'wire' },
    { type: 'addPeer', name: 'Hall', over: 'udp' },
  ])
}

function manyLoads(n: number, more: readonly Edit[] = []): Design {
  let design = blankDesign('ten', 'Ten loads')
  const edits: Edit[] = [
    { type: 'setBoard', board: 'board-linux-header' },
    { type: 'addHandSurface', name: 'Wall' },
    { type: 'addPanel', name: 'Phone', over: 'bluetooth-serial' },
    { type: 'addPanel', name: 'Browser', over: 'http' },
    { type: 'addPeer', name: 'Box', over: 'peer' },
    ...more,
  ]
  for (let i = 0; i < n; i++) edits.push({ type: 'addLoad', name: `Lamp ${i}`, id: `lamp-${i}` })
  for (const edit of edits) {
    const applied = applyEdit(design, edit)
    if (applied.ok) design = applied.design
  }
  design = structuredClone(design)
  design.surfaces.forEach(s => {
    if (s.kind === 'hand')
      s.controls = design.loads.map((l, i) => ({
        kind: 'push',
        id: `${l.id}-button`,
        loadId: l.id,
        sceneId: null,
        asks: 'toggle',
        pin: 40 + i,
        debounceMs: 30,
        lockoutMs: 300,
        leadMeters: 1,
        pullOhms: null,
        gestures: [],
        doubleMs: 350,
        holdMs: 700,
      }))
    else if (s.kind === 'panel')
      s.keys = design.loads.map((l, i): PanelKey => ({
        id: l.id,
        page: 0,
        loadId: l.id,
        form: 'state',
        guard: 'none',
        icon: 'none',
        xMm: 3 + (i % 2) * 30,
        yMm: 10 + i * 8,
        widthMm: 28,
        heightMm: 12,
      }))
    else s.keys = design.loads.map(l => ({ loadId: l.id, form: 'state', asks: null }))
  })
  for (const link of design.links) {
    ;(link as { messages: Message[] }).messages = design.loads.map(l => ({
      loadId: l.id,
      ack: true,
      change: true,
      codes: { on: '', off: '' },
    }))
    const codes = assign(
      design,
      link,
      link.kind === 'http' ? 'routes' : link.kind === 'bluetooth-serial' ? 'letters' : 'template',
    )
    for (const m of link.messages) m.codes = codes[m.loadId] ?? m.codes
  }
  return design
}
