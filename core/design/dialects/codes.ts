/** Short codes that follow one another without ends. */
import type { DialectFacet, DialectProblem, DialectWire } from './facet'
import type { DialectOf } from './schema'

export const codesWire: DialectWire<DialectOf<'codes'>> = {
  bare: true,
  roomBehind: false,
  readable: false,
  tells: true,
  looseSpaces: false,
  end: () => '',
  // A value without a code is not told: a mark alone would begin whatever comes next.
  body: (_, code, direction, reportMark) =>
    direction === 'report' && code !== '' ? reportMark + code : code,
  // A number has no end here: "L1" would be heard before "L10".
  put: () => '',
  number: () => null,
  sized: () => null,
  checks: () => 0,
  started: () => '',
}

export const codes: DialectFacet<DialectOf<'codes'>> = {
  words: 'codes follow one another without separators',
  name: 'short codes',
  marked: true,
  shown: text => text,
  trouble(_, code) {
    if (!/^[!-~]*$/.test(code)) return 'a code is made of visible ASCII characters without spaces'
    return code.length > 8 ? 'a code is at most 8 characters long' : ''
  },
  proves: (_, auth) => auth.kind === 'none',
  problems(_, { auth, reportMark }) {
    const found: DialectProblem[] = []
    if (auth.kind !== 'none')
      found.push([
        ['auth', 'kind'],
        'codes that follow one another have no room for a proof; take lines of text, load=value, JSON or structures',
      ])
    if (reportMark === '')
      found.push([['reportMark'], 'codes without ends need a mark before each report'])
    return found
  },
  // Short codes are told as ever, so that what was built before dialects came still agrees.
  agreed: () => '',
  fresh: { kind: 'codes' },
}
