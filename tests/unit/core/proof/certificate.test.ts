/** Certificates: the checker takes those of what holds, and refuses each that was tampered with. */
import { describe, expect, it } from 'vitest'
import { DEFAULT_BOUNDS } from '../../../../core/proof/bounds'
import { certificateOf, type Certificate } from '../../../../core/proof/certificate'
import { certificate, checkedAgain } from '../../../../core/proof/certify'
import { checked } from '../../../../core/proof/checker'
import { Exploration } from '../../../../core/proof/explore'
import type { Question } from '../../../../core/proof/frame'
import { proveAll } from '../../../../core/proof/prove'
import { commanding } from '../../../../core/design/find'
import { System } from '../../../../core/proof/system'
import { seededRandom } from '../../../../core/units/random'
import { corpus } from '../../../fixtures/corpus'
import { wildDesign } from '../../../fixtures/wild'

const caseOf = (name: string) => corpus.find(c => c.name === name)!.design
const asked = corpus.flatMap(c => [
  [c.name, null, 'board'] as const,
  ...commanding(c.design, 'fan').flatMap(s =>
    (['truth', 'twice', 'restart'] as const).map(q => [c.name, s.id, q] as const),
  ),
])

/**
 * The situations of a search with what it found; a certificate of it is false where it found
 * something.
 */
function searched(name: string, surfaceId: string | null, question: Question) {
  const system = new System(caseOf(name), 'fan', surfaceId, { question })
  system.room = system.least
  const search = new Exploration(system, [], 20_000)
  while (!search.run(20_000)) {
    /* on */
  }
  if (question === 'truth' || question === 'restart') search.settle()
  return search
}

describe('the checker', () => {
  // Numbers on datagrams take it long; some of each are enough.
  it.each(
    asked
      .filter(
        ([name, , question], i) =>
          !/numbered|numbers soon|box|dimmer/.test(name) && (question === 'board' || i % 2 === 0),
      )
      .concat([['box asks, numbered', 'phone', 'truth']]),
  )('says of "%s", %s, %s what the search says', (name, surfaceId, question) => {
    const search = searched(name, surfaceId, question)
    const breaks = search.finds.filter(
      f => question === 'board' || !['dead', 'clashed', 'astray'].includes(f.what),
    )
    const found = checked(
      caseOf(name),
      JSON.parse(JSON.stringify(certificateOf(search))) as Certificate,
    )
    if (breaks.length) expect(found).toMatch(/situation \d+/)
    else expect(found).toBeNull()
  })

  it('refuses a certificate from which one situation is missing, or in which one is another', () => {
    const right = certificate(
      caseOf('bt told everything'),
      'fan',
      'phone',
      'truth',
      DEFAULT_BOUNDS,
    )!
    const design = caseOf('bt told everything')
    expect(checked(design, right)).toBeNull()
    const count = right.situations.length / 4
    const random = seededRandom(7)
    for (let n = 0; n < 40; n++) {
      const at = Math.floor(random.next() * count)
      const without = {
        ...right,
        situations: right.situations.toSpliced(4 * at, 4),
        ranks: right.ranks.toSpliced(at, 1),
      }
      expect(checked(design, without), `without ${at}`).not.toBeNull()
    }
  })
  it('refuses a surface that shows something else than it was found to show, and ranks that do not fall', () => {
    const design = caseOf('bt told everything')
    const right = certificate(design, 'fan', 'phone', 'truth', DEFAULT_BOUNDS)!
    const lied = {
      ...right,
      surfaces: right.surfaces.map(p => ({
        ...p,
        beliefs: p.beliefs.map(b => ({ ...b, value: b.value === 'on' ? 'off' : 'on' })),
      })),
    }
    expect(checked(design, lied)).not.toBeNull()
    expect(checked(design, { ...right, ranks: right.ranks.map(() => 1) })).toMatch(
      /never comes to rest/,
    )
    expect(checked(design, { ...right, messages: right.messages.toReversed() })).not.toBeNull()
    expect(checked(design, { ...right, room: right.room + 3 })).toMatch(/not in it/)
  })
  it('refuses what was said of another design', () => {
    const right = certificate(
      caseOf('bt told everything'),
      'fan',
      'phone',
      'truth',
      DEFAULT_BOUNDS,
    )!
    expect(checked(caseOf('bt not told of changes'), right)).not.toBeNull()
  })
})

describe('verdicts', () => {
  it('that hold are looked at again, those that are broken have no certificate', () => {
    const design = caseOf('bt told everything')
    const verdicts = proveAll(design, 'fan')
    for (const v of verdicts.filter(x => ['P1', 'P2', 'P3', 'P4', 'P7'].includes(x.promise)))
      expect(
        checkedAgain(design, v).map(c => c.wrong),
        v.promise,
      ).toEqual([''])
    expect(
      checkedAgain(
        design,
        verdicts.find(v => v.promise === 'P9')!,
      ),
    ).toEqual([])
    expect(
      certificate(caseOf('bt not told of changes'), 'fan', 'phone', 'truth', DEFAULT_BOUNDS),
    ).toBeNull()
  })
  it('of designs made at random that hold are all taken', () => {
    let taken = 0
    for (let seed = 3000; seed < 3006; seed++) {
      const design = wildDesign(seed)
      for (const load of design.loads) {
        for (const v of proveAll(
          design,
          load.id,
          { ...DEFAULT_BOUNDS, situations: 30_000 },
          { trials: false },
        )) {
          for (const c of checkedAgain(design, v)) {
            expect(c.wrong, `${seed} ${load.id} ${v.promise}`).toBe('')
            taken++
          }
        }
      }
    }
    expect(taken).toBeGreaterThan(20)
  })
})
