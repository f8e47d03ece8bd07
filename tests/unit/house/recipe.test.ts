/**
 * docs/recipes.md, followed to the letter in a copy of the core: the schemas alone make the
 * compiler ask for every file of the recipe and for no other, and with them a design runs.
 */
import fs from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import ts from 'typescript'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { ROWS, SCHEMAS, type Recipe } from '../../fixtures/made-up-kinds'

const root = resolve(import.meta.dirname, '../../..')
const place = fs.mkdtempSync(join(tmpdir(), 'nolvi-recipe-'))
const core = join(place, 'core')
let program: ts.Program | undefined

beforeAll(() => {
  fs.cpSync(join(root, 'core'), core, { recursive: true })
  fs.cpSync(join(root, 'demo'), join(place, 'demo'), { recursive: true })
  fs.symlinkSync(join(root, 'node_modules'), join(place, 'node_modules'))
  follow(SCHEMAS)
})
afterAll(() => fs.rmSync(place, { recursive: true, force: true }))

function follow({ files, lines }: Recipe): void {
  for (const [path, text] of Object.entries(files)) fs.writeFileSync(join(core, path), text)
  for (const [path, list] of Object.entries(lines)) {
    let text = fs.readFileSync(join(core, path), 'utf8')
    for (const [before, line] of list) {
      if (!text.includes(before)) throw new Error(`${path} has no "${before}" any more`)
      text = text.replace(before, () => `${line}\n${before}`)
    }
    fs.writeFileSync(join(core, path), text)
  }
}

/** Files that the compiler finds something in, and what. */
function troubles(): Map<string, string[]> {
  const config = ts.readConfigFile(join(core, 'tsconfig.json'), path => ts.sys.readFile(path))
  const { fileNames, options } = ts.parseJsonConfigFileContent(config.config, ts.sys, core)
  program = ts.createProgram(fileNames, options, undefined, program)
  const found = new Map<string, string[]>()
  for (const { file, messageText } of ts.getPreEmitDiagnostics(program)) {
    const path = file ? relative(core, file.fileName) : ''
    const words = ts.flattenDiagnosticMessageText(messageText, ' ')
    found.set(path, [...(found.get(path) ?? []), words.slice(0, 200)])
  }
  return found
}

it('the compiler asks for the files of the recipe, and with them it asks for nothing', () => {
  expect([...troubles().keys()].toSorted()).toEqual(Object.keys(ROWS.lines).toSorted())
  follow(ROWS)
  expect(Object.fromEntries(troubles())).toEqual({})
})

it('a design with made-up kinds is checked, told, proved and told apart', async () => {
  const entry = join(place, 'entry.ts')
  fs.writeFileSync(
    entry,
    `export { applyEdit } from './core/design/edits/edits'
export { validateDesign } from './core/design/validate'
export { check } from './core/checks/check'
export { proveAll } from './core/proof/prove'
export { dialectEdit } from './core/messages/assign'
export { compileController } from './core/controller/program'
export { startController, step } from './core/controller/step'
export { readingText } from './core/controller/readings'
export { exactWireMs } from './core/links/timing'
export { classOf } from './core/boards/classes'
export { default as board } from './core/boards/profiles/board-8bit-5v.json' with { type: 'json' }
export { default as starter } from './demo/starter.json' with { type: 'json' }
`,
  )
  const outfile = join(place, 'entry.mjs')
  await build({ entryPoints: [entry], outfile, bundle: true, format: 'esm', logLevel: 'error' })
  const made = await import(pathToFileURL(outfile).href)
  const [load] = made.starter.loads
  const { timers: _, limits: __, powerUp: ___, saveDelayMs: ____, ...output } = load.output
  const scale = { kind: 'scale', id: 'bin', name: 'Bin', controllerId: load.controllerId, pin: 14 }
  const tiny = { ...made.board, id: 'tiny-board', name: 'tiny board', toolchain: 'tiny' }
  const document = {
    ...made.starter,
    boards: [tiny],
    controllers: [{ ...made.starter.controllers[0], board: tiny.id }],
    loads: [{ ...load, output: { ...output, kind: 'latched', resetPin: 7 } }],
    sensors: [scale],
    links: made.starter.links.map((link: Record<string, unknown>) => {
      const { baud: _b, radio: _r, statusPin: _s, ...rest } = link
      return link['kind'] === 'bluetooth-serial' ? { ...rest, kind: 'light', flashHz: 100 } : link
    }),
  }
  const checked = made.validateDesign(document)
  expect(checked.ok ? [] : checked.problems).toEqual([])
  const light = checked.design.links.find((l: { kind: string }) => l.kind === 'light')
  const spoken = made.applyEdit(
    checked.design,
    made.dialectEdit(checked.design, light.id, { kind: 'shout' }),
  )
  expect(spoken.ok ? [] : spoken.problems).toEqual([])
  const { design } = spoken

  expect(made.exactWireMs(design, light, '12345')).toBe(400)
  expect(made.readingText(scale, [1500])).toBe('1.5')
  expect(made.classOf(tiny).selfAmps).toBe(0.01)
  // What drives a kind that the program does not know gets none.
  expect(made.check(design).findings.map((f: { code: string }) => f.code)).toContain('no-program')

  const program = made.compileController(design)
  const link = program.links.findIndex((l: { link: { id: string } }) => l.link.id === light.id)
  const levels = program.inputs.map(() => 1)
  const start = made.startController(program)
  let { state } = made.step(program, start, { kind: 'boot', now: 0, levels })
  state = made.step(program, state, { kind: 'linkUp', now: 10, link }).state
  const { messages } = design.links.find((l: { id: string }) => l.id === light.id)
  const text = `${messages[0].codes.on.toUpperCase()}!`
  const after = made.step(program, state, { kind: 'received', now: 20, link, text })
  expect(after.state.value[0]).toBe('on')
  expect(after.effects.filter((e: { kind: string }) => e.kind === 'pin')).toHaveLength(2)

  const verdicts = made.proveAll(design, load.id)
  expect(JSON.stringify(verdicts)).toContain('"state":"holds"')
})
