/**
 * From unknown input to a valid design, or to a list of problems that each name their place (JSON
 * Pointer, RFC 6901) and a way out. Nothing is repaired silently.
 */
import { maybeShipped } from '../boards/boards'
import { migrate } from './migrate'
import { boardProblems } from './problems/boards'
import { linkProblems } from './problems/links'
import { outputProblems } from './problems/loads'
import { indexed, pointer, Problems, type Problem } from './problems/problems'
import { ruleProblems, sceneProblems } from './problems/scenes'
import { sensorProblems } from './problems/sensors'
import { surfaceProblems } from './problems/surfaces'
import { relativeOf, spokenValues } from './values'
import { DESIGN_FORMAT, DESIGN_VERSION, designSchema, LIMITS, type Design } from './schema'

export { pointer, type Problem }
export type Validated = { ok: true; design: Design } | { ok: false; problems: Problem[] }

const MAX_PROBLEMS = 50

/** Parse JSON text. Size is checked first, so that noise costs nothing. */
export function parseDesignText(text: string): Validated {
  if (text.length > LIMITS.documentBytes)
    return refuse(
      '',
      `the document is ${text.length} characters long; at most ${LIMITS.documentBytes} are taken`,
    )
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    return refuse('', `this is not JSON: ${(error as Error).message}`)
  }
  return validateDesign(value)
}

/**
 * Validate a value: format and version first, then the schema, then references between the parts.
 */
export function validateDesign(value: unknown): Validated {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return refuse('', 'a design is a JSON object')
  const head = value as { format?: unknown; version?: unknown }
  if (head.format !== DESIGN_FORMAT)
    return refuse('/format', `this is not a Nolvi design: format must be "${DESIGN_FORMAT}"`)
  if (typeof head.version !== 'number' || !Number.isInteger(head.version))
    return refuse('/version', 'the version is a whole number')
  if (head.version > DESIGN_VERSION)
    return refuse(
      '/version',
      `this design is of version ${head.version}, made by a newer Nolvi; this one reads up to version ${DESIGN_VERSION}. Open it with the newer one, or export it there as version ${DESIGN_VERSION}`,
    )
  if (head.version < 1)
    return refuse('/version', `there is no version ${head.version}; the first is 1`)
  const parsed = designSchema.safeParse(migrate(value, head.version))
  if (!parsed.success)
    return {
      ok: false,
      problems: parsed.error.issues.slice(0, MAX_PROBLEMS).flatMap(issueProblems),
    }
  const problems = referenceProblems(parsed.data)
  return problems.length
    ? { ok: false, problems: problems.slice(0, MAX_PROBLEMS) }
    : { ok: true, design: parsed.data }
}

/**
 * The validator makes the check of each part when it meets the part first; here one part a step, so
 * that the first edit does not wait for all of them.
 */
export function* warmed(design: Design): Generator<void> {
  for (const [key, part] of Object.entries(designSchema.shape)) {
    part.safeParse(design[key as keyof Design])
    yield
  }
  validateDesign(design)
}

/**
 * The same design with its keys in the order of the schema, and its codes in that of the values,
 * wherever it was kept.
 */
export function inOrder(design: Design): Design {
  const ordered = designSchema.parse(design)
  for (const link of ordered.links) {
    link.scenes = Object.fromEntries(
      ordered.scenes.flatMap(s =>
        link.scenes[s.id] === undefined ? [] : [[s.id, link.scenes[s.id] ?? '']],
      ),
    )
    for (const message of link.messages) {
      const output = ordered.loads.find(l => l.id === message.loadId)?.output
      if (output)
        message.codes = Object.fromEntries(
          [...spokenValues(output), ...relativeOf(output).filter(r => r in message.codes)].map(
            v => [v, message.codes[v] ?? ''],
          ),
        )
    }
  }
  return ordered
}

/** A design as text: the same design gives the same text. */
export function designText(design: Design): string {
  return JSON.stringify(inOrder(design), null, 2) + '\n'
}

function refuse(path: string, message: string): Validated {
  return { ok: false, problems: [{ path, message }] }
}

interface IssueLike {
  code?: string
  keys?: string[]
  path: PropertyKey[]
  message: string
}

function issueProblems(issue: IssueLike): Problem[] {
  if (issue.code !== 'unrecognized_keys' || !issue.keys)
    return [{ path: pointer(issue.path), message: issue.message }]
  return issue.keys.map(key => ({
    path: pointer([...issue.path, key]),
    message: `"${key}" is not known here; remove it or check its spelling`,
  }))
}

/** Duplicate ids and references that lead nowhere. */
function referenceProblems(design: Design): Problem[] {
  const found = new Problems(design)
  found.unique(indexed(design.surfaces, 'surfaces'), 'surface')
  found.unique(
    design.surfaces.flatMap((s, i) =>
      s.kind !== 'panel'
        ? s.controls.map((c, j) => ({ id: c.id, path: ['surfaces', i, 'controls', j, 'id'] }))
        : [],
    ),
    'hand control',
  )
  boardProblems(found)
  linkProblems(found)
  found.unique(indexed(design.sensors, 'sensors'), 'sensor')
  sceneProblems(found)
  ruleProblems(found)
  outputProblems(found)
  const { front } = design
  if (front) found.refers(found.controllers, front.controllerId, 'controller', FRONT)
  sensorProblems(found)
  if (front && !maybeShipped(front.board))
    found.refers(found.boards, front.board, 'board', ['front', 'board'])
  surfaceProblems(found)
  return found.list
}
const FRONT = ['front', 'controllerId']
