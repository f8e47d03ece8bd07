/** The engine is given away: it reads as it should, and another hand finds nothing wrong in it. */
import { spawnSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { canRun, has } from '../../fixtures/tools'

const FILES = readdirSync('engine', { recursive: true, encoding: 'utf8' })
  .filter(f => /\.(cpp|h)$/.test(f))
  .map(f => `engine/${f}`)

it.skipIf(!canRun('the form of the engine', { 'clang-format': has('clang-format') }))(
  'is formatted',
  () => {
    const { status, stderr } = spawnSync('clang-format', ['--dry-run', '-Werror', ...FILES], {
      encoding: 'utf8',
    })
    expect(stderr).toBe('')
    expect(status).toBe(0)
  },
)

it.skipIf(!canRun('a second look at the engine', { cppcheck: has('cppcheck') }))(
  'holds nothing that cppcheck objects to',
  () => {
    const { status, stderr } = spawnSync(
      'cppcheck',
      [
        '--std=c++11',
        '--enable=warning,style,performance,portability',
        '--suppress=missingIncludeSystem',
        '--suppress=unusedStructMember',
        // What a board has no room for is left out by constants: on the host all is there.
        '--suppress=knownConditionTrueFalse',
        '--suppress=duplicateValueTernary',
        // Small boards have no such library.
        '--suppress=useStlAlgorithm',
        '--error-exitcode=1',
        '--quiet',
        // Of the library of the chip.
        '-DISR(vector)=void vector()',
        '-DATOMIC_BLOCK(how)=',
        '-I',
        'engine/host',
        '-I',
        'engine',
        ...FILES.filter(f => f.endsWith('.cpp') && !f.startsWith('engine/avr8')),
      ],
      { encoding: 'utf8' },
    )
    expect(stderr).toBe('')
    expect(status).toBe(0)
  },
)

it('has a line of comment at the head of each file', () => {
  for (const f of FILES) expect(readFileSync(f, 'utf8').startsWith('// '), f).toBe(true)
})
