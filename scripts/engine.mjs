/**
 * The engine beside the definition of behaviour: scenarios passed, random events compared, small
 * wrongs found. `npm run engine -- 1000000` compares that many events.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'

const root = resolve(import.meta.dirname, '..')
const folder = mkdtempSync(join(tmpdir(), 'nolvi-engine-report-'))
try {
  const outfile = join(folder, 'report.mjs')
  await build({
    entryPoints: [join(root, 'tests/fixtures/engine-board/report.ts')],
    bundle: true,
    platform: 'node',
    format: 'esm',
    outfile,
    define: { 'import.meta.dirname': JSON.stringify(join(root, 'tests/fixtures/engine-board')) },
    banner: {
      js: 'import { createRequire } from "node:module"; const require = createRequire(import.meta.url)',
    },
    logLevel: 'error',
  })
  process.chdir(root)
  const { report } = await import(pathToFileURL(outfile).href)
  process.exitCode = report(Number(process.argv[2] ?? 200_000)) ? 0 : 1
} finally {
  rmSync(folder, { recursive: true, force: true })
}
