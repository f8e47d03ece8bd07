/** Words of messages, sorted: against lists that are sorted by the language. */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { lengthOf, messageAt, sorted, sortedWith } from '../../../../core/proof/packing'

const messages = fc.array(fc.integer({ min: 1, max: 255 }), { maxLength: 4 })
const word = (list: readonly number[]) => list.reduce((all, m, i) => all | (m << (8 * i)), 0)
const listOf = (queue: number) =>
  Array.from({ length: lengthOf(queue) }, (_, i) => messageAt(queue, i))

describe('messages of a word', () => {
  it('are sorted', () => {
    fc.assert(
      fc.property(messages, list => {
        expect(listOf(sorted(word(list)))).toEqual(list.toSorted((a, b) => a - b))
      }),
    )
  })

  it('are sorted with their tags, and a tag of no message is dropped', () => {
    const few = fc.array(fc.integer({ min: 1, max: 3 }), { maxLength: 4 })
    fc.assert(
      fc.property(fc.oneof(messages, few), fc.integer({ min: 0, max: 15 }), (list, tags) => {
        const pairs = list
          .map((m, i) => [m, (tags >> i) & 1] as const)
          .toSorted((a, b) => a[0] - b[0] || a[1] - b[1])
        expect(sortedWith(word(list), tags)).toEqual({
          queue: word(pairs.map(p => p[0])),
          tags: pairs.reduce((all, p, i) => all | (p[1] << i), 0),
        })
      }),
      { numRuns: 2000 },
    )
  })
})
