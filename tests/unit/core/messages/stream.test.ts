import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { clashes } from '../../../../core/messages/clashes'
import { feedAll, type Heard, type Reader } from '../../../../core/messages/stream'
import type { Design, ByteLink } from '../../../../core/design/schema'
import { glazeRoom, linkOn } from '../../../fixtures/designs'

const code = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), minLength: 1, maxLength: 3 })
/** Codes that follow one another. */
const bare = (bodies: readonly string[]): Reader => ({
  end: '',
  bodies: new Set(bodies),
  longest: 0,
  starts: [],
  sized: [],
  looseSpaces: false,
})
const codes = fc.uniqueArray(code, { minLength: 1, maxLength: 5 })

/**
 * The rule once more, from the text instead of from a state: at each place the shortest code that
 * matches is taken.
 */
function decodeWhole(all: readonly string[], text: string): { heard: Heard[]; buffer: string } {
  const heard: Heard[] = []
  let at = 0
  while (at < text.length) {
    const matching = all.filter(c => text.startsWith(c, at)).sort((a, b) => a.length - b.length)[0]
    if (matching) {
      heard.push({ kind: 'code', code: matching })
      at += matching.length
      continue
    }
    const rest = text.slice(at)
    if (all.some(c => c.startsWith(rest))) return { heard, buffer: rest }
    // The longest beginning that some code shares is given up, but for its last byte when that was
    // the wrong one.
    let kept = 0
    while (kept < rest.length && all.some(c => c.startsWith(rest.slice(0, kept + 1)))) kept++
    const lost = Math.max(1, kept)
    heard.push({ kind: 'unknown', bytes: rest.slice(0, lost) })
    at += lost
  }
  return { heard, buffer: '' }
}

describe('codes in a stream', () => {
  it('agree with decoding the whole text at once', () => {
    fc.assert(
      fc.property(
        codes,
        fc.string({ unit: fc.constantFrom('a', 'b', 'c', 'x'), maxLength: 12 }),
        (all, text) => {
          const { heard, buffer } = feedAll(bare(all), '', text)
          expect({ heard, buffer }).toEqual(decodeWhole(all, text))
        },
      ),
      { numRuns: 2000 },
    )
  })
  it('are the same however the bytes come in pieces', () => {
    fc.assert(
      fc.property(codes, fc.array(code, { maxLength: 6 }), (all, pieces) => {
        let buffer = ''
        const heard: Heard[] = []
        for (const piece of pieces) {
          const part = feedAll(bare(all), buffer, piece)
          buffer = part.buffer
          heard.push(...part.heard)
        }
        expect({ heard, buffer }).toEqual(feedAll(bare(all), '', pieces.join('')))
      }),
    )
  })
  it('lose no byte', () => {
    fc.assert(
      fc.property(
        codes,
        fc.string({ unit: fc.constantFrom('a', 'b', 'x'), maxLength: 12 }),
        (all, text) => {
          const { heard, buffer } = feedAll(bare(all), '', text)
          expect(heard.map(h => (h.kind === 'code' ? h.code : h.bytes)).join('') + buffer).toBe(
            text,
          )
        },
      ),
    )
  })
})

function withCodes(pairs: readonly (readonly [string, string])[]): {
  design: Design
  link: ByteLink
} {
  const design = glazeRoom()
  const link = linkOn(design, 'bluetooth-serial') as ByteLink
  link.messages = pairs.map(([on, off], i) => ({
    loadId: design.loads[i]?.id ?? '',
    ack: true,
    change: true,
    codes: { on, off },
  }))
  return { design, link }
}

describe('clashes', () => {
  it('are found exactly where a code is not understood as meant: every sequence of two codes tried', () => {
    const pair = fc.tuple(code, code)
    fc.assert(
      fc.property(fc.array(pair, { minLength: 1, maxLength: 3 }), pairs => {
        const { design, link } = withCodes(pairs)
        const sent = pairs.flatMap(([on, off], i) => [
          { text: on, means: `${i} on` },
          { text: off, means: `${i} off` },
        ])
        const meaning = new Map<string, string>()
        for (const s of sent) if (!meaning.has(s.text)) meaning.set(s.text, s.means)
        const understood = (sequence: typeof sent) => {
          const { heard, buffer } = feedAll(
            bare([...meaning.keys(), link.askCode]),
            '',
            sequence.map(s => s.text).join(''),
          )
          return (
            buffer === ''
            && JSON.stringify(heard.map(h => (h.kind === 'code' ? meaning.get(h.code) : null)))
              === JSON.stringify(sequence.map(s => s.means))
          )
        }
        const allUnderstood = sent.every(
          a => understood([a]) && sent.every(b => understood([a, b])),
        )
        expect(clashes(design, link).length === 0).toBe(allUnderstood)
      }),
      { numRuns: 1000 },
    )
  })
  it('find the rinse pump of the glaze room', () => {
    const design = glazeRoom()
    expect(clashes(design, linkOn(design, 'bluetooth-serial'))).toEqual([
      expect.objectContaining({
        kind: 'prefix',
        short: expect.objectContaining({ code: '1' }),
        long: expect.objectContaining({ code: '10' }),
      }),
    ])
    expect(clashes(design, linkOn(design, 'http'))).toEqual([])
  })
  it.each([
    [[['A', 'A']], 'duplicate'],
    [[['A', '']], 'empty'],
    [[['A', '+a']], 'mark'],
    [[['?', 'a']], 'duplicate'],
    [[['?x', 'a']], 'prefix'],
  ] as const)('%j is a %s', (pairs, kind) => {
    const { design, link } = withCodes(pairs)
    expect(clashes(design, link).map(c => c.kind)).toContain(kind)
  })
  it('does not mind a route that starts another: a route comes whole', () => {
    const clashesWith = (route: string) => {
      const design = glazeRoom()
      const link = linkOn(design, 'http')
      link.messages[0]!.codes.on = route
      return clashes(design, link).map(c => c.kind)
    }
    expect(clashesWith('/fan')).toEqual([])
    expect(clashesWith('/events')).toEqual(['duplicate'])
  })
})
