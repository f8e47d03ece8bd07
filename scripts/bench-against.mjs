/**
 * The measures of the core of two versions in turns: `npm run bench:against -- COMMIT`. Each
 * measure that both versions name alike is run alternately, so that a machine which grows slow
 * meanwhile is slow for both; what is printed is the median of the ratios of pairs. Nothing is
 * written down.
 */
import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { bundledCore } from './bench/bundle.mjs'

const PAIRS = 9
const root = resolve(import.meta.dirname, '..')
const [commit, only = ''] = process.argv.slice(2)
if (!commit) {
  console.error('Which commit? npm run bench:against -- COMMIT [WORDS OF A MEASURE]')
  process.exit(2)
}
const folder = mkdtempSync(join(tmpdir(), 'nolvi-against-'))
const before = join(folder, 'before')
const git = (...args) => execFileSync('git', args, { cwd: root, stdio: 'pipe' })

try {
  git('worktree', 'add', '--detach', before, commit)
  symlinkSync(join(root, 'node_modules'), join(before, 'node_modules'))
  const now = await measuresOf(root, 'now')
  const then = await measuresOf(before, 'then')
  console.log(`now / ${commit}: above 1 = this version does more in the same time\n`)
  for (const [what, run] of now) {
    const other = then.get(what)
    if (!other || !what.includes(only)) continue
    await Promise.all([run(), other()])
    const ratios = Array.from({ length: PAIRS }, (_, i) => {
      // Who begins changes, for the second may find a warm or a tired machine.
      if (i % 2) return run() / other()
      const old = other()
      return run() / old
    }).sort((a, b) => a - b)
    const [least, middle, most] = [0, PAIRS >> 1, PAIRS - 1].map(i => ratios[i].toFixed(2))
    console.log(`${middle.padStart(6)}  (${least} to ${most})  ${what}`)
  }
  for (const what of now.keys()) if (!then.has(what)) console.log(`   new  ${what}`)
} finally {
  if (existsSync(before)) git('worktree', 'remove', '--force', before)
  rmSync(folder, { recursive: true, force: true })
}

/** By name, one run of each measure: what it got done in a second (of times, their inverse). */
async function measuresOf(place, name) {
  const { measures } = await bundledCore(place, join(folder, `${name}.mjs`))
  const found = new Map()
  measures((what, { value, unit, ours }) => {
    if (ours)
      found.set(what, () => {
        const since = performance.now()
        return ours() / (performance.now() - since)
      })
    else if (/^m?s$/.test(unit)) found.set(what, () => 1 / value())
  })
  return found
}
