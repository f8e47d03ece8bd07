/** What is done on the bench, in the maker's words. */
import { handSurfaces, loadOf, maybeRemoteOnLink } from '../design/find'
import { readingWords } from '../design/items'
import type { Control, Design } from '../design/schema'
import { readingText } from '../controller/readings'
import { commandWords } from '../messages/clashes'
import { gestureWords } from './fingers'
import type { Action } from './script'

/** The load that a press is meant for. */
export function gestureLoad(control: Control, action: Action): string {
  const on = action.do === 'press' ? action.gesture : undefined
  return (
    (control.kind === 'push' ? control.gestures.find(g => g.on === on)?.loadId : undefined)
    ?? control.loadId
  )
}

export function actionWords(design: Design, action: Action): string {
  const linkName = (id: string) =>
    maybeRemoteOnLink(design, id)?.name ?? design.links.find(l => l.id === id)?.name ?? id
  const sensorName = (id: string) => design.sensors.find(s => s.id === id)?.name ?? id
  switch (action.do) {
    case 'press':
    case 'hold':
    case 'letGo': {
      const control = handSurfaces(design)
        .flatMap(s => s.controls)
        .find(c => c.id === action.controlId)
      const gesture = action.do === 'press' ? (action.gesture ?? 'single') : 'single'
      const does =
        action.do === 'hold'
          ? 'hold'
          : action.do === 'letGo'
            ? 'let go of'
            : control?.kind === 'latching'
              ? 'flip'
              : gestureWords(gesture)
      return control
        ? `${does} ${loadOf(design, control.loadId).name}${gesture === 'single' ? '' : ` for ${loadOf(design, gestureLoad(control, action)).name}`}`
        : does
    }
    case 'key':
      return commandWords(design, action.loadId, action.want)
    case 'slide':
      return `draw ${commandWords(design, action.loadId, action.want)}`
    case 'scene':
      return design.scenes.find(s => s.id === action.sceneId)?.name ?? action.sceneId
    case 'sense': {
      const sensor = design.sensors.find(s => s.id === action.sensorId)
      return sensor
        ? `${sensor.name} gives ${readingWords(sensor, readingText(sensor, action.raw))}`
        : action.sensorId
    }
    case 'turn':
      return `turn ${sensorName(action.sensorId)} ${action.detents < 0 ? 'down' : 'up'} by ${Math.abs(action.detents)}`
    case 'remote': {
      const sensor = design.sensors.find(s => s.id === action.sensorId)
      const key = sensor?.kind === 'infrared' ? sensor.keys[action.key] : undefined
      return `remote: ${key ? `${loadOf(design, key.loadId).name} ${key.asks}` : `key ${action.key + 1}`}${action.repeats ? ', held' : ''}`
    }
    case 'linkDown':
      return `${linkName(action.linkId)} out of reach`
    case 'linkUp':
      return `${linkName(action.linkId)} back in reach`
    case 'loseNext':
      return `next message of ${linkName(action.linkId)} lost`
    case 'doubleNext':
      return `next message of ${linkName(action.linkId)} comes twice`
    case 'replay':
      return `a stranger plays ${action.back ? 'an earlier' : 'the last'} command of ${linkName(action.linkId)} again`
    case 'strangerOn':
      return `somebody else connects in place of ${linkName(action.linkId)}`
    case 'strangerOff':
      return `somebody else leaves the place of ${linkName(action.linkId)}`
    case 'restartBox':
      return `${design.surfaces.find(s => s.id === action.surfaceId)?.name ?? action.surfaceId} starts anew`
    case 'frontDown':
      return `${design.front?.name ?? 'board in front'} stops`
    case 'frontUp':
      return `${design.front?.name ?? 'board in front'} runs again`
    case 'contacts':
      return action.bounce ? 'contacts bounce' : 'contacts are clean'
    case 'routerDown':
      return 'router down'
    case 'routerUp':
      return 'router back'
    case 'powerOff':
      return 'power cut'
    case 'powerOn':
      return 'power back'
    case 'restart':
      return 'board restarts'
  }
}
