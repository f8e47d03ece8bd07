/** What is wrong with surfaces: hand controls and their gestures, panels, boxes. */
import { readingForms } from '../items'
import { type Control, LIMITS, type Link, type PanelSurface, type PeerSurface } from '../schema'
import { keysOfBox } from '../boxes'
import { seatsOf } from '../seats'
import { asksOf, formsOf } from '../values'
import type { Path, Problems } from './problems'
import { isHeld, isChoice } from '../outputs/traits'

/** Finds what is wrong with each surface, and with all pictures together. */
export function surfaceProblems(found: Problems): void {
  const { design } = found
  const pictures = [
    ...design.surfaces.flatMap(s => (s.kind === 'panel' ? s.pages : [])),
    ...design.loads.flatMap(({ output }) => (isChoice(output) ? output.choices : [])),
  ].reduce((sum, { picture }) => sum + (picture?.length ?? 0), 0)
  if (pictures > LIMITS.picturesLength)
    found.say(
      ['surfaces'],
      `all pictures have ${Math.round(pictures / 1000)} kB together; at most ${LIMITS.picturesLength / 1000} kB travel with a design: take some away`,
    )
  const speakers = new Map<string, number[]>()
  design.surfaces.forEach((surface, i) => {
    if (surface.kind === 'hand') {
      controlProblems(found, surface.controls, i)
      return
    }
    found.refers(found.links, surface.linkId, 'link', ['surfaces', i, 'linkId'])
    const before = speakers.get(surface.linkId) ?? []
    const link = design.links.find(l => l.id === surface.linkId)
    if (link && before.length >= seatsOf(link))
      found.say(
        ['surfaces', i, 'linkId'],
        `link "${surface.linkId}" serves ${seatsOf(link) === 1 ? 'one' : seatsOf(link)} at a time, and /surfaces/${before.join(', /surfaces/')} ${before.length === 1 ? 'is' : 'are'} there already; give this one a link of its own`,
      )
    speakers.set(surface.linkId, [...before, i])
    const messages = new Map(
      design.links.find(l => l.id === surface.linkId)?.messages.map(m => [m.loadId, m]),
    )
    surface.keys.forEach((key, j) => {
      found.refers(messages, key.loadId, 'message on this link for load', [
        'surfaces',
        i,
        'keys',
        j,
        'loadId',
      ])
      const output = found.outputOf(key.loadId)
      if (output && !formsOf(output).includes(key.form))
        found.say(
          ['surfaces', i, 'keys', j, 'form'],
          `the form "${key.form}" does not fit this load; take one of ${formsOf(output).join(', ')}`,
        )
    })
    if (surface.kind === 'peer') {
      found.unique(
        surface.keys.map((k, j) => ({ id: k.loadId, path: ['surfaces', i, 'keys', j, 'loadId'] })),
        'key for load',
      )
      boxScenes(found, surface, i)
      controlProblems(found, surface.controls, i)
      if (surface.boardId !== null) boardOfBox(found, surface, i)
      else if (surface.controls.length)
        found.say(
          ['surfaces', i, 'controls'],
          'a box has controls where it is a board of the design; say which in boardId',
        )
      return
    }
    placeProblems(found, surface, i)
    partProblems(found, surface, link, i)
  })
}

/** What a box asks for has a code on its link. */
function boxScenes(found: Problems, box: PeerSurface, i: number): void {
  const { design } = found
  const link = design.links.find(l => l.id === box.linkId)
  found.unique(
    box.scenes.map((id, j) => ({ id, path: ['surfaces', i, 'scenes', j] })),
    'key for scene',
  )
  box.scenes.forEach((id, j) => {
    const at: Path = ['surfaces', i, 'scenes', j]
    found.refersToScene(id, at)
    if (link && (link.scenes[id] ?? '') === '')
      found.say(at, `scene "${id}" has no code on this link; give it one first`)
  })
}

/** A box that is a board of the design: what it asks for is what is wired to it. */
function boardOfBox(found: Problems, box: PeerSurface, i: number): void {
  const { design } = found
  const say = (key: Path, message: string) => found.say(['surfaces', i, ...key], message)
  const boardId = box.boardId ?? ''
  found.refers(found.controllers, boardId, 'controller', ['surfaces', i, 'boardId'])
  const link = design.links.find(l => l.id === box.linkId)
  if (!link) return
  if (link.controllerId === boardId)
    say(['boardId'], 'a board does not speak to itself; take the link of another controller')
  const carried = (loadId: string) => link.messages.some(m => m.loadId === loadId)
  box.controls.forEach((c, j) => {
    const asked = [c, ...(c.kind === 'push' ? c.gestures : [])]
    for (const a of asked)
      if ('loadId' in a && !carried(a.loadId))
        say(
          ['controls', j, 'loadId'],
          `"${a.loadId}" has no message on link "${link.id}"; put it there first`,
        )
  })
  if (found.list.length) return
  const { keys, scenes } = keysOfBox(design, box)
  if (JSON.stringify(keys) !== JSON.stringify(box.keys))
    say(['keys'], `keys of a board follow from what is wired to it: ${JSON.stringify(keys)}`)
  if (JSON.stringify(scenes) !== JSON.stringify(box.scenes))
    say(['scenes'], `scenes of a board follow from what is wired to it: ${JSON.stringify(scenes)}`)
}

function controlProblems(found: Problems, controls: readonly Control[], i: number): void {
  controls.forEach((c, j) => {
    found.refers(found.loads, c.loadId, 'load', ['surfaces', i, 'controls', j, 'loadId'])
    const output = found.outputOf(c.loadId)
    const asks = output && asksOf(output, c.kind)
    if (asks && !asks.includes(c.asks))
      found.say(
        ['surfaces', i, 'controls', j, 'asks'],
        `this load cannot be asked for "${c.asks}" by hand; take one of ${asks.join(', ')}`,
      )
    if (c.sceneId !== null)
      sceneControlProblems(found, c, c.sceneId, ['surfaces', i, 'controls', j])
    if (c.kind === 'push') gestureProblems(found, c, ['surfaces', i, 'controls', j, 'gestures'])
  })
}

function sceneControlProblems(found: Problems, c: Control, sceneId: string, at: Path): void {
  found.refersToScene(sceneId, [...at, 'sceneId'])
  const scene = found.design.scenes.find(s => s.id === sceneId)
  if (scene && !scene.sets.some(x => x.loadId === c.loadId))
    found.say(
      [...at, 'sceneId'],
      `scene "${sceneId}" does not set "${c.loadId}", the load that the control stands with`,
    )
}

function gestureProblems(
  found: Problems,
  control: Extract<Control, { kind: 'push' }>,
  at: Path,
): void {
  const { design } = found
  if (control.gestures.length && isHeld(found.outputOf(control.loadId)))
    found.say(at, 'a load that is on while held takes no further gestures of its button')
  found.unique(
    control.gestures.map((g, k) => ({ id: g.on, path: [...at, k, 'on'] })),
    'gesture',
  )
  control.gestures.forEach((g, k) => {
    if ('sceneId' in g) return found.refersToScene(g.sceneId, [...at, k, 'sceneId'])
    found.sameBoard(g.loadId, design.loads.find(l => l.id === control.loadId)?.controllerId ?? '', [
      ...at,
      k,
      'loadId',
    ])
    found.refers(found.loads, g.loadId, 'load', [...at, k, 'loadId'])
    const output = found.outputOf(g.loadId)
    if (isHeld(output))
      found.say(
        [...at, k, 'loadId'],
        'a load that is on while held cannot be held by a gesture; give it a button of its own',
      )
    const asks = output && asksOf(output, 'push')
    if (asks && !asks.includes(g.asks))
      found.say(
        [...at, k, 'asks'],
        `this load cannot be asked for "${g.asks}" by hand; take one of ${asks.join(', ')}`,
      )
  })
}

/** Ids of keys and parts, and the pages that they stand on. */
function placeProblems(found: Problems, surface: PanelSurface, i: number): void {
  const has = (list: 'keys' | 'parts') =>
    surface[list].map((k, j) => ({
      id: k.id,
      path: ['surfaces', i, list, j, 'id'] as PropertyKey[],
    }))
  found.unique([...has('keys'), ...has('parts')], 'key or part')
  for (const list of ['keys', 'parts'] as const) {
    surface[list].forEach((item, j) => {
      if (item.page >= surface.pages.length)
        found.say(
          ['surfaces', i, list, j, 'page'],
          `there is no page ${item.page + 1}; the panel has ${surface.pages.length}`,
        )
    })
  }
}

function partProblems(
  found: Problems,
  surface: PanelSurface,
  link: Link | undefined,
  i: number,
): void {
  const { design } = found
  surface.parts.forEach((part, j) => {
    const at = ['surfaces', i, 'parts', j]
    const sensor = 'sensorId' in part ? design.sensors.find(s => s.id === part.sensorId) : undefined
    if ('sensorId' in part && !link?.readings.some(r => r.sensorId === part.sensorId))
      found.say(
        [...at, 'sensorId'],
        `"${part.sensorId}" is not told on this link; tell it there first`,
      )
    else if ('sensorId' in part && sensor && !readingForms(sensor).includes(part.form))
      found.say(
        [...at, 'form'],
        `the form "${part.form}" does not fit this sensor; take one of ${readingForms(sensor).join(', ')}`,
      )
    if ('sceneId' in part && link && (link.scenes[part.sceneId] ?? '') === '')
      found.say(
        [...at, 'sceneId'],
        `scene "${part.sceneId}" has no code on this link; give it one first`,
      )
    if ('low' in part && part.high <= part.low)
      found.say([...at, 'high'], 'the upper end of the scale lies above the lower one')
  })
}
