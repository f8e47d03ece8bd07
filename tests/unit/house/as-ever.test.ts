/**
 * What a refit must not change: fingerprints, built files, findings and verdicts of the demos and
 * the fixtures, held against what was written down before. Where something is changed on
 * purpose, `NOLVI_AS_EVER=write npx vitest run tests/unit/house/as-ever.test.ts` writes it anew,
 * and the change shows which designs it met.
 */
import { createHash } from 'node:crypto'
import fs from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { buildFiles, type BuiltFile } from '../../../core/sides/files'
import { check } from '../../../core/checks/check'
import type { Finding } from '../../../core/checks/finding'
import { agreedText, fingerprint } from '../../../core/design/fingerprint'
import type { Design } from '../../../core/design/schema'
import { proveAll } from '../../../core/proof/prove'
import { demoDesigns } from '../../../demo/demo'
import { corpus } from '../../fixtures/corpus'
import { wildDesign } from '../../fixtures/wild'

const written = join(import.meta.dirname, '../../fixtures/as-ever.json')
const writes = process.env.NOLVI_AS_EVER === 'write'

type Digests = Record<string, string>
const before = (
  fs.existsSync(written) ? JSON.parse(fs.readFileSync(written, 'utf8')) : {}
) as Record<string, Digests>
const now: Record<string, Digests> = {}

/** Pages carry the program of the page, which is made anew whenever its sources change. */
const withoutProgram = (text: string) =>
  text
    .replace(/<script>[^]*?<.script>/g, '')
    .replace(/sha256-[^']*/g, '')
    .replace(/CACHE = "[^"]*"/g, '')

/** So is what is told of its size. The document itself is of its version. */
const withoutSize = (finding: Finding): Finding =>
  finding.code === 'page-heavy'
    ? { ...finding, reason: finding.reason.replace(/[\d.]+ kB as/, 'kB as') }
    : finding

const digest = (value: unknown) =>
  createHash('sha256').update(JSON.stringify(value)).digest('hex').slice(0, 12)

function digests(design: Design, proves: boolean): Digests {
  // The engine is the same for all, and is held elsewhere.
  const ofDesign = (f: BuiltFile) => !f.within || f.name.endsWith('-design.cpp')
  const files = buildFiles(design)
    .filter(ofDesign)
    .map(({ name, inZip, type, side, surfaceId, text }) => [
      ...[name, inZip ?? name, type, side, surfaceId],
      name === 'design.json' || typeof text !== 'string' ? '' : withoutProgram(text),
    ])
  return {
    fingerprint: fingerprint(design),
    agreed: digest(agreedText(design)),
    files: digest(files),
    findings: digest(check(design).findings.map(withoutSize)),
    ...(proves ? { verdicts: digest(design.loads.map(l => proveAll(design, l.id))) } : {}),
  }
}

const designs: [name: string, design: Design, proves: boolean][] = [
  // All that is proved of the large one is proved of the others, too.
  ...demoDesigns().map((d): [string, Design, boolean] => [d.id, d, d.id !== 'old-dairy']),
  ...corpus.slice(0, 40).map((c): [string, Design, boolean] => [c.name, c.design, true]),
  ...Array.from({ length: 12 }, (_, i): [string, Design, boolean] => [
    `wild ${i}`,
    wildDesign(100 + i),
    i < 4,
  ]),
]

describe('as ever', () => {
  it.each(designs)('%s', (name, design, proves) => {
    now[name] = digests(design, proves)
    if (!writes) expect(now[name]).toEqual(before[name])
  })
  it('nothing is left out', () => {
    if (writes) fs.writeFileSync(written, `${JSON.stringify(now, null, 2)}\n`)
    else expect(Object.keys(before).toSorted()).toEqual(designs.map(d => d[0]).toSorted())
  })
})
