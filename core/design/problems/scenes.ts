/** What is wrong with scenes and rules, which both set loads. */
import { hasReading } from '../items'
import { valuesOf } from '../values'
import { indexed, type Problems } from './problems'

/** Finds what is wrong with each scene. */
export function sceneProblems(found: Problems): void {
  const { design } = found
  found.unique(indexed(design.scenes, 'scenes'), 'scene')
  design.scenes.forEach((s, i) =>
    s.sets.forEach((x, j) => {
      found.refers(found.loads, x.loadId, 'load', ['scenes', i, 'sets', j, 'loadId'])
      const output = found.outputOf(x.loadId)
      if (output && !valuesOf(output).includes(x.value))
        found.say(
          ['scenes', i, 'sets', j, 'value'],
          `"${x.value}" is no value of this load; it has ${valuesOf(output).join(', ')}`,
        )
    }),
  )
}

/** Finds what is wrong with each rule. */
export function ruleProblems(found: Problems): void {
  const { design } = found
  found.unique(indexed(design.rules, 'rules'), 'rule')
  design.rules.forEach((r, i) => {
    const sensor = design.sensors.find(s => s.id === r.sensorId)
    if (!sensor)
      found.say(
        ['rules', i, 'sensorId'],
        `there is no sensor "${r.sensorId}"; add it or name another`,
      )
    else if (!hasReading(sensor))
      found.say(['rules', i, 'sensorId'], `"${r.sensorId}" has no value to go by`)
    if (r.sceneId !== null) found.refersToScene(r.sceneId, ['rules', i, 'sceneId'])
    if ((r.sceneId === null) !== r.sets.length > 0)
      found.say(['rules', i, 'sets'], 'a rule sets loads itself, or asks for a scene')
    r.sets.forEach((x, j) => {
      found.refers(found.loads, x.loadId, 'load', ['rules', i, 'sets', j, 'loadId'])
      if (sensor)
        found.withinReach(x.loadId, sensor.controllerId, ['rules', i, 'sets', j, 'loadId'])
      const output = found.outputOf(x.loadId)
      if (output && !valuesOf(output).includes(x.value))
        found.say(
          ['rules', i, 'sets', j, 'value'],
          `"${x.value}" is no value of this load; it has ${valuesOf(output).join(', ')}`,
        )
    })
  })
}
