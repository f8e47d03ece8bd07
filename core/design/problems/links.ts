/** What is wrong with links: their dialect, codes of scenes, readings, messages. */
import { hasReading } from '../items'
import { canTell, speaksBytes, speaksRoutes, structureOn, hasRoomBehind } from '../links/traits'
import type { HttpLink, Link } from '../schema'
import { NUMBER, relativeOf, valuesOf } from '../values'
import { codeTrouble, dialectProblems, hasBareCodes } from '../wire'
import { PLACE } from '../dialects/place'
import type { Problems } from './problems'

/** Finds what is wrong with each link. */
export function linkProblems(found: Problems): void {
  const { design } = found
  design.links.forEach((link, i) => {
    found.refers(found.controllers, link.controllerId, 'controller', ['links', i, 'controllerId'])
    if (speaksBytes(link))
      for (const [key, message] of dialectProblems(design, link))
        found.say(['links', i, ...key], message)
    for (const sceneId of Object.keys(link.scenes))
      if (!design.scenes.some(s => s.id === sceneId))
        found.say(
          ['links', i, 'scenes', sceneId],
          `there is no scene "${sceneId}"; add it or take its code away`,
        )
    if (link.numbered && !hasRoomBehind(link))
      found.say(
        ['links', i, 'numbered'],
        'short codes and structures have no room for a number; take another dialect for this link',
      )
    if (speaksBytes(link) && link.restartMark !== '') {
      const trouble = codeTrouble(link, link.restartMark)
      if (trouble) found.say(['links', i, 'restartMark'], trouble)
    }
    if (speaksRoutes(link)) routeProblems(found, link, i)
    readingProblems(found, link, i)
    messageProblems(found, link, i)
  })
}

/** Parameters of routes that are not of messages. */
function routeProblems(found: Problems, link: HttpLink, i: number): void {
  const { askRoute, eventsRoute, helloRoute } = link
  const say = (key: string[], route: string) => {
    const trouble = codeTrouble(link, route)
    if (trouble) found.say(['links', i, ...key], trouble)
  }
  for (const [key, route] of Object.entries({ askRoute, eventsRoute, helloRoute }))
    say([key], route)
  link.readings.forEach((r, j) => say(['readings', String(j), 'route'], r.route))
  if (link.page) {
    say(['page', 'route'], link.page.route)
    const program = /<script|\son[a-z]+\s*=|javascript:/i.exec(link.page.template)
    if (program)
      found.say(
        ['links', i, 'page', 'template'],
        `"${program[0].trim()}": no program runs in the page of a board; a panel page does that`,
      )
  }
  if (link.bodies !== 'none' && link.method === 'get')
    found.say(['links', i, 'bodies'], 'a body goes with POST; ask for commands by POST first')
  for (const [sceneId, route] of Object.entries(link.scenes)) say(['scenes', sceneId], route)
}

function readingProblems(found: Problems, link: Link, i: number): void {
  const { design } = found
  link.readings.forEach((r, j) => {
    const at = ['links', i, 'readings', j]
    const sensor = design.sensors.find(s => s.id === r.sensorId)
    if (!sensor)
      found.say([...at, 'sensorId'], `there is no sensor "${r.sensorId}"; add it or name another`)
    else if (!hasReading(sensor))
      found.say([...at, 'sensorId'], `"${r.sensorId}" has no value to tell`)
    else if (sensor.controllerId !== link.controllerId)
      found.say(
        [...at, 'sensorId'],
        `"${r.sensorId}" is wired to controller "${sensor.controllerId}", this link belongs to "${link.controllerId}"`,
      )
    if (!canTell(link))
      found.say(at, 'structures have no field for a reading; take another dialect for this link')
    const trouble =
      speaksBytes(link) && 'code' in r && typeof r.code === 'string'
        ? codeTrouble(link, r.code)
          || (/[0-9.,;-]$/.test(r.code)
            ? 'the code before a value ends with a letter or mark, not with a digit, sign, point or semicolon'
            : '')
        : ''
    if (trouble) found.say([...at, 'code'], trouble)
  })
  found.unique(
    link.readings.map((r, j) => ({
      id: r.sensorId,
      path: ['links', i, 'readings', j, 'sensorId'],
    })),
    'reading of sensor',
  )
}

/** What is wrong with a code for one value, or "". */
function valueTrouble(link: Link, code: string): string {
  return speaksRoutes(link) && code.includes(PLACE)
    ? 'only the code for numbers holds a place for one'
    : codeTrouble(link, code)
}

/** What is wrong with a code that holds a place for a number, or "". */
function numberTrouble(link: Link, code: string): string {
  if (code === '') return ''
  if (hasBareCodes(link))
    return 'short codes have no end behind a number; take another dialect for this link, or a code for each value'
  if (!structureOn(link) && code.split(PLACE).length !== 2)
    return `a code for numbers holds their place once: ${PLACE}`
  return codeTrouble(link, code.replace(PLACE, '0'))
}

/** Their codes may hold a place for how many. */
const STEPS: ReadonlySet<string> = new Set(['up', 'down'])

function messageProblems(found: Problems, link: Link, i: number): void {
  link.messages.forEach((m, j) => {
    found.refers(found.loads, m.loadId, 'load', ['links', i, 'messages', j, 'loadId'])
    found.sameBoard(m.loadId, link.controllerId, ['links', i, 'messages', j, 'loadId'])
    const output = found.outputOf(m.loadId)
    if (!output) return
    const values = valuesOf(output)
    for (const value of values)
      if (!(value in m.codes))
        found.say(
          ['links', i, 'messages', j, 'codes'],
          `there is no code for "${value}"; give one, or "" for none yet`,
        )
    const relative = relativeOf(output)
    for (const value of Object.keys(m.codes))
      if (!values.includes(value) && !relative.includes(value))
        found.say(
          ['links', i, 'messages', j, 'codes', value],
          `"${value}" is no value of this load; it has ${values.join(', ')}${relative.length ? `; ${relative.join(', ')} can be asked for` : ''}`,
        )
    for (const [value, code] of Object.entries(m.codes)) {
      const places = value === NUMBER || (STEPS.has(value) && code.includes(PLACE))
      const trouble = places ? numberTrouble(link, code) : valueTrouble(link, code)
      if (trouble) found.say(['links', i, 'messages', j, 'codes', value], trouble)
    }
  })
  found.unique(
    link.messages.map((m, j) => ({ id: m.loadId, path: ['links', i, 'messages', j, 'loadId'] })),
    'messages for load',
  )
}
