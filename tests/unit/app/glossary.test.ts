import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { explained, glossaryOf } from '../../../app/composables/glossary'
import { VIEWS } from '../../../app/composables/views'

const document = readFileSync('docs/glossary.md', 'utf8')
const words = glossaryOf(document)

describe('the glossary', () => {
  it('has a row for each word, and two words of one row mean the same', () => {
    expect(words.get('load')).toBe('what is switched')
    expect(words.get('seal')).toBe(words.get('signature'))
    expect(words.has('word')).toBe(false)
    expect([...words.values()].filter(meaning => meaning.length < 11)).toEqual([])
  })
  it('stands in the order of the alphabet, each word once', () => {
    const heads = [...document.matchAll(/^\| ([^|]+) \|/gm)].map(([, head = '']) => head).slice(1)
    expect(new Set(heads).size).toBe(heads.length)
    expect(heads).toEqual(heads.toSorted((a, b) => a.localeCompare(b)))
    expect(words.size).toBeGreaterThanOrEqual(heads.length)
  })
})

describe('a text that is explained', () => {
  const termsOf = (text: string) =>
    explained(text, words)
      .filter(p => p.means)
      .map(p => p.text)
  it('is the same text', () => {
    for (const { purpose } of VIEWS) {
      const pieces = explained(purpose, words)
      expect(pieces.map(p => p.text).join('')).toBe(purpose)
    }
  })
  it('explains a word where it stands first, in the plural too, and none within another', () =>
    expect(termsOf('Loads against loads: a load, an upload, boxes.')).toEqual(['Loads', 'boxes']))
  it('takes the longer of two words', () =>
    expect(termsOf('The emulated board runs it.')).toEqual(['emulated board']))
  it('of no words is left as it is', () =>
    expect(explained('a load', new Map())).toEqual([{ text: 'a load', means: null }]))
})
