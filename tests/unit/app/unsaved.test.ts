import { describe, expect, it } from 'vitest'
import { digest, forgetUnsaved, keepUnsaved, unsavedOf } from '../../../app/composables/unsaved'
import { starter } from '../../fixtures/designs'

function place(most = Infinity) {
  const kept = new Map<string, string>()
  return {
    kept,
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (value.length > most) throw new Error('no room')
      kept.set(key, value)
    },
    removeItem: (key: string) => void kept.delete(key),
  }
}
const design = starter()
const unsaved = {
  by: 'one',
  bases: [digest(design)],
  baseRevision: 3,
  words: ['Named'],
  design: { ...design, name: 'Another' },
}

describe('what was changed and not stored', () => {
  it('is kept for its design, and read back whole', () => {
    const there = place()
    keepUnsaved(there, unsaved)
    expect(unsavedOf(there, design.id)).toEqual({ ok: true, kept: unsaved })
    expect(unsavedOf(there, 'another')).toBeNull()
  })
  it('is forgotten by the window that keeps it, and by no other', () => {
    const there = place()
    keepUnsaved(there, unsaved)
    forgetUnsaved(there, design.id, 'two')
    expect(there.kept.size).toBe(1)
    forgetUnsaved(there, design.id, 'one')
    expect(there.kept.size).toBe(0)
    forgetUnsaved(there, design.id, 'one')
  })
  it('where there is no room, nothing is lost of what was there', () => {
    const there = place(100)
    keepUnsaved(there, unsaved)
    expect(unsavedOf(there, design.id)).toBeNull()
  })
  it('that does not belong is told with its place, and stays', () => {
    const there = place()
    keepUnsaved(there, { ...unsaved, design: { ...unsaved.design, version: 99 } as never })
    expect(unsavedOf(there, design.id)).toMatchObject({
      ok: false,
      problems: [{ path: '/version' }],
    })
    there.setItem(`nolvi unsaved ${design.id}`, '{"by":')
    expect(unsavedOf(there, design.id)).toMatchObject({ ok: false })
    expect(there.kept.size).toBe(1)
  })
  it('a digest is of all that a design says, in whatever order its keys stand', () => {
    const turned = Object.fromEntries(Object.entries(design).toReversed()) as typeof design
    expect(digest(turned)).toBe(digest(design))
    expect(digest(unsaved.design)).not.toBe(digest(design))
  })
})
