/** What is wrong with sensors. */
import type { Sensor } from '../schema'
import { asksOf } from '../values'
import type { Target } from '../targets'
import type { Path, Problems } from './problems'
import { isAnalog, isKnob, isLadder, isReceiver, isStick } from '../sensors/traits'

/** Finds what is wrong with each sensor. */
export function sensorProblems(found: Problems): void {
  const { design } = found
  design.sensors.forEach((s, i) => {
    found.refers(found.controllers, s.controllerId, 'controller', ['sensors', i, 'controllerId'])
    if (isKnob(s)) found.withinReach(s.loadId, s.controllerId, ['sensors', i, 'loadId'])
    if (isKnob(s)) found.refers(found.loads, s.loadId, 'load', ['sensors', i, 'loadId'])
    if (isLadder(s))
      s.floats.forEach((f, j) => {
        if (j > 0 && f.level <= (s.floats[j - 1]?.level ?? 0))
          found.say(
            ['sensors', i, 'floats', j, 'level'],
            'floats go up: each level lies above the one before',
          )
      })
    if (isAnalog(s) && s.calibration && s.calibration.raw1 === s.calibration.raw2)
      found.say(
        ['sensors', i, 'calibration', 'raw2'],
        'the two readings are equal; calibrate at two different values',
      )
    if (isReceiver(s)) {
      remoteProblems(found, s, i)
      targetProblems(found, s, s.keys, ['sensors', i, 'keys'])
    }
    if (isStick(s)) {
      found.unique(
        s.ways.map((w, j) => ({ id: w.on, path: ['sensors', i, 'ways', j, 'on'] })),
        'way',
      )
      targetProblems(found, s, s.ways, ['sensors', i, 'ways'])
    }
  })
}

function remoteProblems(
  found: Problems,
  s: Extract<Sensor, { kind: 'infrared' }>,
  i: number,
): void {
  found.unique(
    s.keys.map((k, j) => ({
      id: `${k.address} ${k.command}`,
      path: ['sensors', i, 'keys', j, 'command'],
    })),
    'key with address and command',
  )
}

/** What a sensor asks for has to be there, and within reach of its board. */
function targetProblems(
  found: Problems,
  { controllerId }: Sensor,
  targets: readonly Target[],
  at: Path,
): void {
  targets.forEach((k, j) => {
    if ('sceneId' in k) return found.refersToScene(k.sceneId, [...at, j, 'sceneId'])
    found.refers(found.loads, k.loadId, 'load', [...at, j, 'loadId'])
    found.withinReach(k.loadId, controllerId, [...at, j, 'loadId'])
    const output = found.outputOf(k.loadId)
    const asks = output && asksOf(output, 'push')
    if (asks && !asks.includes(k.asks))
      found.say(
        [...at, j, 'asks'],
        `this load cannot be asked for "${k.asks}"; take one of ${asks.join(', ')}`,
      )
  })
}
