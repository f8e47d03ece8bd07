import { describe, expect, it } from 'vitest'
import { missingFor } from '../../../../core/bench/fits'
import type { BenchScript } from '../../../../core/bench/script'
import { edited, glazeRoom } from '../../../fixtures/designs'

const script = (linkId: string): BenchScript => ({
  seed: 1,
  steps: [{ atMs: 5, action: { do: 'linkUp', linkId } }],
})

describe('scripts that were kept', () => {
  it('fit the design they were made for', () => {
    const design = glazeRoom()
    expect(missingFor(design, design.loads[0]!.id, script(design.links[0]!.id))).toBe('')
  })
  it('say what is gone: a load, a link', () => {
    const design = glazeRoom()
    const [load] = design.loads
    expect(
      missingFor(
        edited(design, { type: 'removeLoad', loadId: load!.id }),
        load!.id,
        script(design.links[0]!.id),
      ),
    ).toBe(`no load "${load!.id}" in this design`)
    expect(missingFor(design, load!.id, script('gone'))).toContain('no link "gone"')
  })
})
