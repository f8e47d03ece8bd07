/**
 * From unknown input to a valid design, or to a list of problems that each name their place (JSON
 * Pointer, RFC 6901) and a way out. Nothing is repaired silently.
 */
import { maybeShipped } from '../boards/boards'
import { canTell, hasReading, readingForms } from './items'
import { hasRoomBehind } from './links'
import { migrate } from './migrate'
import { asksOf, formsOf, relativeOf, spokenValues, valuesOf } from './values'
import { codeTrouble, dialectProblems } from './wire'
import {
  DESIGN_FORMAT,
  DESIGN_VERSION,
  designSchema,
  LIMITS,
  type Control,
  type Design,
} from './schema'

export interface Problem {
  path: string
  message: string
}
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

/** RFC 6901 pointer of a path. */
export function pointer(path: readonly PropertyKey[]): string {
  return path.map(part => '/' + String(part).replaceAll('~', '~0').replaceAll('/', '~1')).join('')
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
  const problems: Problem[] = []
  const say = (path: PropertyKey[], message: string) =>
    problems.push({ path: pointer(path), message })
  const unique = (ids: { id: string; path: PropertyKey[] }[], what: string) => {
    const seen = new Map<string, PropertyKey[]>()
    for (const { id, path } of ids) {
      const first = seen.get(id)
      if (first)
        say(
          path,
          `${what} "${id}" is there already, at ${pointer(first)}; give one of them another id`,
        )
      else seen.set(id, path)
    }
    return seen
  }
  const indexed = (list: { id: string }[], key: string) =>
    list.map((item, i) => ({ id: item.id, path: [key, i, 'id'] as PropertyKey[] }))
  const boards = unique(indexed(design.boards, 'boards'), 'board')
  const controllers = unique(indexed(design.controllers, 'controllers'), 'controller')
  const loads = unique(indexed(design.loads, 'loads'), 'load')
  const links = unique(indexed(design.links, 'links'), 'link')
  unique(indexed(design.surfaces, 'surfaces'), 'surface')
  unique(
    design.surfaces.flatMap((s, i) =>
      s.kind === 'hand'
        ? s.controls.map((c, j) => ({ id: c.id, path: ['surfaces', i, 'controls', j, 'id'] }))
        : [],
    ),
    'hand control',
  )

  const refers = (known: Map<string, unknown>, id: string, what: string, path: PropertyKey[]) => {
    if (!known.has(id)) say(path, `there is no ${what} "${id}"; add it or name another`)
  }
  const sameBoard = (loadId: string, controllerId: string, path: PropertyKey[]) => {
    const load = design.loads.find(l => l.id === loadId)
    if (load && load.controllerId !== controllerId)
      say(
        path,
        `"${loadId}" is switched by controller "${load.controllerId}", this belongs to "${controllerId}"; take a load of the same controller`,
      )
  }
  const outputOf = (loadId: string) => design.loads.find(l => l.id === loadId)?.output
  design.controllers.forEach((c, i) => {
    if (!maybeShipped(c.board)) refers(boards, c.board, 'board', ['controllers', i, 'board'])
  })
  design.boards.forEach((b, i) => {
    if (maybeShipped(b.id))
      say(['boards', i, 'id'], `"${b.id}" is the name of a shipped board; give yours another`)
  })
  design.loads.forEach((load, i) =>
    refers(controllers, load.controllerId, 'controller', ['loads', i, 'controllerId']),
  )
  design.links.forEach((link, i) => {
    refers(controllers, link.controllerId, 'controller', ['links', i, 'controllerId'])
    if (link.kind !== 'http')
      for (const [key, message] of dialectProblems(design, link)) say(['links', i, ...key], message)
    for (const sceneId of Object.keys(link.scenes))
      if (!design.scenes.some(s => s.id === sceneId))
        say(
          ['links', i, 'scenes', sceneId],
          `there is no scene "${sceneId}"; add it or take its code away`,
        )
    if (link.numbered && !hasRoomBehind(link))
      say(
        ['links', i, 'numbered'],
        'short codes and structures have no room for a number; take another dialect for this link',
      )
    if (link.kind !== 'http' && link.restartMark !== '') {
      const trouble = codeTrouble(link, link.restartMark)
      if (trouble) say(['links', i, 'restartMark'], trouble)
    }
    link.readings.forEach((r, j) => {
      const at = ['links', i, 'readings', j]
      const sensor = design.sensors.find(s => s.id === r.sensorId)
      if (!sensor)
        say([...at, 'sensorId'], `there is no sensor "${r.sensorId}"; add it or name another`)
      else if (!hasReading(sensor)) say([...at, 'sensorId'], `"${r.sensorId}" has no value to tell`)
      else if (sensor.controllerId !== link.controllerId)
        say(
          [...at, 'sensorId'],
          `"${r.sensorId}" is wired to controller "${sensor.controllerId}", this link belongs to "${link.controllerId}"`,
        )
      if (!canTell(link))
        say(at, 'structures have no field for a reading; take another dialect for this link')
      const trouble =
        link.kind !== 'http' && 'code' in r && typeof r.code === 'string'
          ? codeTrouble(link, r.code)
            || (/[0-9.,;-]$/.test(r.code)
              ? 'the code before a value ends with a letter or mark, not with a digit, sign, point or semicolon'
              : '')
          : ''
      if (trouble) say([...at, 'code'], trouble)
    })
    unique(
      link.readings.map((r, j) => ({
        id: r.sensorId,
        path: ['links', i, 'readings', j, 'sensorId'],
      })),
      'reading of sensor',
    )
    link.messages.forEach((m, j) => {
      refers(loads, m.loadId, 'load', ['links', i, 'messages', j, 'loadId'])
      sameBoard(m.loadId, link.controllerId, ['links', i, 'messages', j, 'loadId'])
      const output = outputOf(m.loadId)
      if (!output) return
      const values = valuesOf(output)
      for (const value of values)
        if (!(value in m.codes))
          say(
            ['links', i, 'messages', j, 'codes'],
            `there is no code for "${value}"; give one, or "" for none yet`,
          )
      const relative = relativeOf(output)
      for (const value of Object.keys(m.codes))
        if (!values.includes(value) && !relative.includes(value))
          say(
            ['links', i, 'messages', j, 'codes', value],
            `"${value}" is no value of this load; it has ${values.join(', ')}${relative.length ? `; ${relative.join(', ')} can be asked for` : ''}`,
          )
      for (const [value, code] of Object.entries(m.codes)) {
        const trouble = codeTrouble(link, code)
        if (trouble) say(['links', i, 'messages', j, 'codes', value], trouble)
      }
    })
    unique(
      link.messages.map((m, j) => ({ id: m.loadId, path: ['links', i, 'messages', j, 'loadId'] })),
      'messages for load',
    )
  })
  unique(indexed(design.sensors, 'sensors'), 'sensor')
  unique(indexed(design.scenes, 'scenes'), 'scene')
  design.scenes.forEach((s, i) =>
    s.sets.forEach((x, j) => {
      refers(loads, x.loadId, 'load', ['scenes', i, 'sets', j, 'loadId'])
      const output = outputOf(x.loadId)
      if (output && !valuesOf(output).includes(x.value))
        say(
          ['scenes', i, 'sets', j, 'value'],
          `"${x.value}" is no value of this load; it has ${valuesOf(output).join(', ')}`,
        )
    }),
  )
  unique(indexed(design.rules, 'rules'), 'rule')
  design.rules.forEach((r, i) => {
    const sensor = design.sensors.find(s => s.id === r.sensorId)
    if (!sensor)
      say(['rules', i, 'sensorId'], `there is no sensor "${r.sensorId}"; add it or name another`)
    else if (!hasReading(sensor))
      say(['rules', i, 'sensorId'], `"${r.sensorId}" has no value to go by`)
    r.sets.forEach((x, j) => {
      refers(loads, x.loadId, 'load', ['rules', i, 'sets', j, 'loadId'])
      if (sensor) sameBoard(x.loadId, sensor.controllerId, ['rules', i, 'sets', j, 'loadId'])
      const output = outputOf(x.loadId)
      if (output && !valuesOf(output).includes(x.value))
        say(
          ['rules', i, 'sets', j, 'value'],
          `"${x.value}" is no value of this load; it has ${valuesOf(output).join(', ')}`,
        )
    })
  })
  design.loads.forEach(({ output, controllerId }, i) => {
    if (
      output.kind === 'switched'
      && output.limits
      && output.limits.longestOnMs > 0
      && output.limits.longestOnMs <= output.limits.minOnMs
    )
      say(
        ['loads', i, 'output', 'limits', 'longestOnMs'],
        'the longest time on lies above the least time on',
      )
    if (output.kind !== 'opposed') return
    for (const key of ['forwardEnd', 'reverseEnd'] as const) {
      if (output[key] === null) continue
      const contact = design.sensors.find(s => s.id === output[key])
      if (contact?.kind !== 'contact')
        say(
          ['loads', i, 'output', key],
          `there is no contact "${output[key]}"; add it on the wiring view, or name another`,
        )
      else if (contact.controllerId !== controllerId)
        say(
          ['loads', i, 'output', key],
          `"${contact.id}" is wired to another controller; an end contact belongs to the board that drives`,
        )
    }
  })
  if (design.front)
    refers(controllers, design.front.controllerId, 'controller', ['front', 'controllerId'])
  design.sensors.forEach((s, i) => {
    refers(controllers, s.controllerId, 'controller', ['sensors', i, 'controllerId'])
    if (s.kind === 'knob') sameBoard(s.loadId, s.controllerId, ['sensors', i, 'loadId'])
    if (s.kind === 'knob') refers(loads, s.loadId, 'load', ['sensors', i, 'loadId'])
    if (s.kind === 'floats')
      s.floats.forEach((f, j) => {
        if (j > 0 && f.level <= (s.floats[j - 1]?.level ?? 0))
          say(
            ['sensors', i, 'floats', j, 'level'],
            'floats go up: each level lies above the one before',
          )
      })
    if (s.kind === 'analog' && s.calibration && s.calibration.raw1 === s.calibration.raw2)
      say(
        ['sensors', i, 'calibration', 'raw2'],
        'the two readings are equal; calibrate at two different values',
      )
    if (s.kind !== 'infrared') return
    unique(
      s.keys.map((k, j) => ({
        id: `${k.address} ${k.command}`,
        path: ['sensors', i, 'keys', j, 'command'],
      })),
      'key with address and command',
    )
    s.keys.forEach((k, j) => {
      refers(loads, k.loadId, 'load', ['sensors', i, 'keys', j, 'loadId'])
      sameBoard(k.loadId, s.controllerId, ['sensors', i, 'keys', j, 'loadId'])
      const output = outputOf(k.loadId)
      const asks = output && asksOf(output, 'push')
      if (asks && !asks.includes(k.asks))
        say(
          ['sensors', i, 'keys', j, 'asks'],
          `this load cannot be asked for "${k.asks}"; take one of ${asks.join(', ')}`,
        )
    })
  })
  if (design.front && !maybeShipped(design.front.board))
    refers(boards, design.front.board, 'board', ['front', 'board'])
  const gestureProblems = (control: Extract<Control, { kind: 'push' }>, at: PropertyKey[]) => {
    if (control.gestures.length && outputOf(control.loadId)?.kind === 'held')
      say(at, 'a load that is on while held takes no further gestures of its button')
    unique(
      control.gestures.map((g, k) => ({ id: g.on, path: [...at, k, 'on'] })),
      'gesture',
    )
    control.gestures.forEach((g, k) => {
      sameBoard(g.loadId, design.loads.find(l => l.id === control.loadId)?.controllerId ?? '', [
        ...at,
        k,
        'loadId',
      ])
      refers(loads, g.loadId, 'load', [...at, k, 'loadId'])
      const output = outputOf(g.loadId)
      if (output?.kind === 'held')
        say(
          [...at, k, 'loadId'],
          'a load that is on while held cannot be held by a gesture; give it a button of its own',
        )
      const asks = output && asksOf(output, 'push')
      if (asks && !asks.includes(g.asks))
        say(
          [...at, k, 'asks'],
          `this load cannot be asked for "${g.asks}" by hand; take one of ${asks.join(', ')}`,
        )
    })
  }
  const pictures = design.surfaces.reduce(
    (sum, s) =>
      sum
      + (s.kind === 'panel' ? s.pages.reduce((all, p) => all + (p.picture?.length ?? 0), 0) : 0),
    0,
  )
  if (pictures > LIMITS.picturesLength)
    say(
      ['surfaces'],
      `the pictures of all panels have ${Math.round(pictures / 1000)} kB together; at most ${LIMITS.picturesLength / 1000} kB travel with a design: take some away`,
    )
  const panelOf = new Map<string, number>()
  design.surfaces.forEach((surface, i) => {
    if (surface.kind === 'hand') {
      surface.controls.forEach((c, j) => {
        refers(loads, c.loadId, 'load', ['surfaces', i, 'controls', j, 'loadId'])
        const output = outputOf(c.loadId)
        const asks = output && asksOf(output, c.kind)
        if (asks && !asks.includes(c.asks))
          say(
            ['surfaces', i, 'controls', j, 'asks'],
            `this load cannot be asked for "${c.asks}" by hand; take one of ${asks.join(', ')}`,
          )
        if (c.kind === 'push') gestureProblems(c, ['surfaces', i, 'controls', j, 'gestures'])
      })
      return
    }
    refers(links, surface.linkId, 'link', ['surfaces', i, 'linkId'])
    if (panelOf.has(surface.linkId))
      say(
        ['surfaces', i, 'linkId'],
        `link "${surface.linkId}" serves the panel at /surfaces/${panelOf.get(surface.linkId)} already; each panel has its own link`,
      )
    panelOf.set(surface.linkId, i)
    const messages = new Map(
      design.links.find(l => l.id === surface.linkId)?.messages.map(m => [m.loadId, m]),
    )
    surface.keys.forEach((key, j) => {
      refers(messages, key.loadId, 'message on this link for load', [
        'surfaces',
        i,
        'keys',
        j,
        'loadId',
      ])
      const output = outputOf(key.loadId)
      if (output && !formsOf(output).includes(key.form))
        say(
          ['surfaces', i, 'keys', j, 'form'],
          `the form "${key.form}" does not fit this load; take one of ${formsOf(output).join(', ')}`,
        )
    })
    if (surface.kind === 'peer') {
      unique(
        surface.keys.map((k, j) => ({ id: k.loadId, path: ['surfaces', i, 'keys', j, 'loadId'] })),
        'key for load',
      )
      return
    }
    const link = design.links.find(l => l.id === surface.linkId)
    const has = (list: 'keys' | 'parts') =>
      surface[list].map((k, j) => ({
        id: k.id,
        path: ['surfaces', i, list, j, 'id'] as PropertyKey[],
      }))
    unique([...has('keys'), ...has('parts')], 'key or part')
    for (const list of ['keys', 'parts'] as const) {
      surface[list].forEach((item, j) => {
        if (item.page >= surface.pages.length)
          say(
            ['surfaces', i, list, j, 'page'],
            `there is no page ${item.page + 1}; the panel has ${surface.pages.length}`,
          )
      })
    }
    surface.parts.forEach((part, j) => {
      const at = ['surfaces', i, 'parts', j]
      const sensor =
        'sensorId' in part ? design.sensors.find(s => s.id === part.sensorId) : undefined
      if ('sensorId' in part && !link?.readings.some(r => r.sensorId === part.sensorId))
        say([...at, 'sensorId'], `"${part.sensorId}" is not told on this link; tell it there first`)
      else if ('sensorId' in part && sensor && !readingForms(sensor).includes(part.form))
        say(
          [...at, 'form'],
          `the form "${part.form}" does not fit this sensor; take one of ${readingForms(sensor).join(', ')}`,
        )
      if (part.form === 'scene' && link && (link.scenes[part.sceneId] ?? '') === '')
        say(
          [...at, 'sceneId'],
          `scene "${part.sceneId}" has no code on this link; give it one first`,
        )
      if ('low' in part && part.high <= part.low)
        say([...at, 'high'], 'the upper end of the scale lies above the lower one')
    })
  })
  return problems
}
