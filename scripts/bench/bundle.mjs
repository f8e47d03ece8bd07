/** The measures of the core of a checkout, bundled into a file and loaded from it. */
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'

export async function bundledCore(root, outfile) {
  await build({
    entryPoints: [join(root, 'scripts/bench/core.ts')],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    external: ['stream'],
    logLevel: 'error',
  })
  return import(pathToFileURL(outfile).href)
}
