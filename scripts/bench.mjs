/**
 * Measurements: medians of seven runs with their spread, most as a ratio to something measured in
 * the same run, because machines are noisy. Prints a table and writes docs/measurements.md. Nothing
 * here is asserted in tests.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundledCore } from './bench/bundle.mjs'
import { browserMeasures } from './bench/browser.mjs'
import { serverMeasures } from './bench/server.mjs'
import { buildIfNeeded, startServer, stopServer } from './serve.mjs'

const RUNS = 7
const root = resolve(import.meta.dirname, '..')
const folder = mkdtempSync(join(tmpdir(), 'nolvi-bench-'))
const rows = []
/** The design of ten loads, for the browser. */
let ten

try {
  await coreMeasures()
  buildIfNeeded()
  const data = join(folder, 'data')
  const server = await startServer({ demo: true, port: '4688', data })
  if (!server) process.exit(1)
  try {
    for (const row of await browserMeasures(server.address, median, ten)) add(...row)
    for (const row of await serverMeasures(server, median, join(folder, 'direct'))) add(...row)
  } finally {
    await stopServer(server)
  }
  write()
} finally {
  rmSync(folder, { recursive: true, force: true })
}

async function coreMeasures() {
  const outfile = join(folder, 'core.mjs')
  const core = await bundledCore(root, outfile)
  ten = core.tenLoads()
  const { measures } = core
  // A process of its own: what is asked for the first time has to be made ready by the machine
  // first.
  const first = () =>
    Number(
      execFileSync(
        process.execPath,
        [
          '--input-type=module',
          '-e',
          `const core = await import(${JSON.stringify(pathToFileURL(outfile).href)}); console.log(core.tenProved())`,
        ],
        { encoding: 'utf8' },
      ),
    )
  add(
    'Proof: ten loads, four surfaces, all nine promises, the first time in a new process',
    spread(Array.from({ length: RUNS }, first), 'ms'),
    '',
  )
  measures((what, options) => {
    for (let n = options.warmUp ?? 0; n > 0; n--) options.value?.()
    if (options.value)
      return add(what, spread(Array.from({ length: RUNS }, options.value), options.unit), '')
    const rate = run => {
      const since = performance.now()
      return (run() / (performance.now() - since)) * 1000
    }
    options.ours()
    options.other?.()
    const pairs = Array.from({ length: RUNS }, () => [
      rate(options.ours),
      options.other ? rate(options.other) : 0,
    ])
    add(
      what,
      spread(
        pairs.map(p => p[0]),
        options.unit,
      ),
      options.other ? `${short(median(pairs.map(p => p[0] / p[1])))} x ${options.otherName}` : '',
    )
  })
}

function add(what, figure, ratio) {
  rows.push([what, figure, ratio])
  console.log(`${what.padEnd(76)} ${figure.padStart(34)}  ${ratio}`)
}

export function median(list) {
  return list.toSorted((a, b) => a - b)[list.length >> 1]
}

export function spread(list, unit) {
  return `${short(median(list))} ${unit} (${short(Math.min(...list))} to ${short(Math.max(...list))})`
}

function short(n) {
  return n >= 1000 ? Math.round(n).toLocaleString('en') : n >= 100 ? n.toFixed(0) : n.toPrecision(3)
}

function write() {
  const text = [
    '# Measurements',
    '',
    'Made by `npm run bench`: median of seven runs, smallest and largest beside it. Ratios compare two things measured in the same run; absolute figures say little on another machine.',
    '',
    `Node ${process.version}, ${cpus().length} cores (${cpus()[0]?.model.trim()}), ${new Date().toISOString().slice(0, 10)}.`,
    '',
    '| what | figure | against |',
    '|---|---|---|',
    ...rows.map(r => `| ${r.join(' | ')} |`),
    '',
  ].join('\n')
  writeFileSync(join(root, 'docs/measurements.md'), text)
  console.log('\nwritten to docs/measurements.md')
}
