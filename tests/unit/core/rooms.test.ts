/**
 * The house rules of core, held against its files: imports go one way, and it runs where there is
 * nothing but JavaScript.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { createContext, runInContext } from 'node:vm'
import { build } from 'esbuild'
import { describe, expect, it } from 'vitest'

const root = resolve('core')
const ROOMS = [
  'units',
  'bytes',
  'boards',
  'design',
  'electrical',
  'messages',
  'links',
  'controller',
  'surfaces',
  'bench',
  'live',
  'proof',
  'panels',
  'sides',
  'emulated',
  'read',
  'captures',
  'checks',
  'start',
]
const PACKAGES = [
  '@noble/hashes',
  'avr8js',
  'fflate',
  'immer',
  'lucide',
  'papaparse',
  'qrcode',
  'zod',
]

const files = readdirSync(root, { recursive: true, encoding: 'utf8' })
  .filter(f => f.endsWith('.ts'))
  .map(f => join(root, f))
const imports = files.flatMap(file =>
  [...readFileSync(file, 'utf8').matchAll(/(?:from|import)\s+'([^']+)'/g)].map(m => ({
    file: relative(root, file),
    to: m[1] ?? '',
  })),
)
const roomOf = (path: string) => path.split('/')[0] ?? ''

describe('rooms of core', () => {
  it('hold enough files for this test to mean something', () => {
    expect(files.length).toBeGreaterThan(40)
    expect(imports.length).toBeGreaterThan(120)
  })
  it('import only from rooms above them', () => {
    const wrong = imports
      .filter(({ to }) => to.startsWith('.'))
      .filter(({ file, to }) => {
        const target = relative(root, resolve(root, dirname(file), to))
        return (
          target.startsWith('..')
          || ROOMS.indexOf(roomOf(target)) > ROOMS.indexOf(roomOf(file))
          || !ROOMS.includes(roomOf(file))
        )
      })
    expect(wrong).toEqual([])
  })
  it('use few packages, none of them of an interface or a server', () => {
    const foreign = imports.filter(
      ({ to }) => !to.startsWith('.') && !PACKAGES.some(p => to === p || to.startsWith(`${p}/`)),
    )
    expect(foreign).toEqual([])
  })
  it('import each other without a circle of files', () => {
    const edges = new Map<string, string[]>()
    for (const { file, to } of imports)
      if (to.startsWith('.'))
        edges.set(file, [
          ...(edges.get(file) ?? []),
          `${relative(root, resolve(root, dirname(file), to))}.ts`,
        ])
    const state = new Map<string, 'open' | 'done'>()
    const circles: string[] = []
    const visit = (file: string, path: string[]) => {
      if (state.get(file) === 'open') circles.push([...path, file].join(' > '))
      if (state.has(file)) return
      state.set(file, 'open')
      for (const next of edges.get(file) ?? []) visit(next, [...path, file])
      state.set(file, 'done')
    }
    for (const file of edges.keys()) visit(file, [])
    expect(circles).toEqual([])
  })
})

describe('core without a browser, a server or Node', () => {
  it('checks, proves, runs and builds a design in an empty JavaScript world', async () => {
    const bundle = await build({
      stdin: {
        resolveDir: resolve('.'),
        loader: 'ts',
        contents: `
          import glaze from './demo/glaze-room.json'
          import { check } from './core/checks/check'
          import { validateDesign } from './core/design/validate'
          import { prove } from './core/proof/prove'
          import { runScript } from './core/bench/bench'
          import { buildFiles } from './core/sides/files'
          const checked = validateDesign(glaze)
          const design = checked.design
          result = { findings: check(design).findings.length, verdict: prove(design, 'wheel-lights').result,
            moves: runScript(design, { seed: 1, steps: [{ atMs: 10, action: { do: 'press', controlId: 'lights-button' } }] }).trace.moves['wheel-lights'],
            files: buildFiles(design).filter(f => !f.within).length }`,
      },
      // The CSV package asks for Node's streams only when it is handed one; here the asking would
      // throw.
      external: ['stream'],
      bundle: true,
      write: false,
      format: 'iife',
      platform: 'neutral',
      mainFields: ['module', 'main'],
      conditions: ['import'],
      target: 'es2022',
    })
    // No process, no window, no timers: what the language itself has, and the UTF-8 encoder that
    // hashing and ZIP take.
    const world = createContext({ result: null as unknown, TextEncoder, TextDecoder })
    runInContext('delete globalThis.console; delete globalThis.WebAssembly', world)
    runInContext(bundle.outputFiles[0]?.text ?? '', world)
    expect(JSON.parse(JSON.stringify(world.result))).toEqual({
      findings: 12,
      verdict: 'broken',
      moves: 1,
      files: 19,
    })
  })
})
