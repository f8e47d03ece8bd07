import { describe, expect, it } from 'vitest'
import { missingFor } from '../../../../core/bench/fits'
import type { BenchScript } from '../../../../core/bench/script'
import { edited, glazeRoom } from '../../../fixtures/designs'

const script: BenchScript = { seed: 1, steps: [{ atMs: 0, action: { do: 'linkUp', linkId: 'apron-phone-link' } }] }

describe('scripts that were kept', () => {
  it('fit the design they were made for', () => {
    const design = glazeRoom()
    const [link] = design.links
    expect(missingFor(design, design.loads[0]!.id, { ...script, steps: [{ atMs: 0, action: { do: 'linkUp', linkId: link!.id } }] })).toBe('')
  })
  it('say what is gone: a load, a link', () => {
    const design = glazeRoom()
    const [load] = design.loads
    expect(missingFor(edited(design, { type: 'removeLoad', loadId: load!.id }), load!.id, script)).toBe(`no load "${load!.id}" in this design`)
    expect(missingFor(design, load!.id, { ...script, steps: [{ atMs: 5, action: { do: 'linkUp', linkId: 'gone' } }] })).toContain('no link "gone"')
  })
})
