/** What is said on a link: codes, reports, readings. */
import { defineEdit } from './define'
import type { Codes, LinkReading, Message } from '../schema'
import { SENSE } from '../pins'
import {
  dropKey,
  dropMessage,
  dropReading,
  dropSceneKeys,
  listed,
  listedCodes,
  messageOf,
  nextPin,
  sceneOf,
  sensorOf,
} from './parts'
import { hasModule } from '../links/traits'
import { linkOf, loadOf } from '../find'
import { speakersOn } from '../seats'
import { newReading } from '../items'
import { valuesOf } from '../values'

export const messagesEdits = {
  addMessage: defineEdit<{ linkId: string; loadId: string; codes: Codes }>({
    apply: (d, a) => {
      ;(linkOf(d, a.linkId).messages as Message[]).push({
        loadId: a.loadId,
        ack: true,
        change: true,
        codes: a.codes,
      })
    },
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} put on ${linkOf(d, a.linkId).name}: ${listedCodes(d, a.loadId, a.codes)}`,
  }),
  renameCode: defineEdit<{ linkId: string; loadId: string; which: string; code: string }>({
    apply: (d, a) => {
      const { codes } = messageOf(d, a.linkId, a.loadId)
      // A relative code that is empty is none; a value keeps its place.
      if (a.code === '' && !valuesOf(loadOf(d, a.loadId).output).includes(a.which))
        Reflect.deleteProperty(codes, a.which)
      else codes[a.which] = a.code
    },
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} ${a.which} on ${linkOf(d, a.linkId).name}: ${messageOf(d, a.linkId, a.loadId).codes[a.which] || 'no code'} becomes ${a.code || 'no code'}`,
  }),
  assignCodes: defineEdit<{ linkId: string; codes: Record<string, Codes> }>({
    apply: (d, a) => {
      for (const [loadId, codes] of Object.entries(a.codes))
        messageOf(d, a.linkId, loadId).codes = codes
    },
    words: (d, a) =>
      `Codes of ${linkOf(d, a.linkId).name} assigned anew: ${Object.entries(a.codes)
        .map(([loadId, codes]) => listedCodes(d, loadId, codes))
        .join(', ')}`,
  }),
  setReport: defineEdit<{ linkId: string; loadId: string; ack?: boolean; change?: boolean }>({
    apply: (d, a) => {
      const message = messageOf(d, a.linkId, a.loadId)
      if (a.ack !== undefined) message.ack = a.ack
      if (a.change !== undefined) message.change = a.change
    },
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} on ${linkOf(d, a.linkId).name}: ${[said(a.ack, 'acknowledges commands', 'no acknowledgement'), said(a.change, 'reports on change', 'no report on change')].filter(Boolean).join(', ')}`,
  }),
  reportOnConnect: defineEdit<{ linkId: string; onConnect: boolean }>({
    apply: (d, a) => {
      const link = linkOf(d, a.linkId)
      link.onConnect = a.onConnect
      // Without the module's connected line the board cannot know that a phone connected
      // (SEMANTICS, links).
      if (a.onConnect && hasModule(link) && link.statusPin === null)
        link.statusPin = nextPin(d, link.controllerId, SENSE)
    },
    words: (d, a) =>
      `${linkOf(d, a.linkId).name} ${a.onConnect ? 'reports the whole state on connect' : 'reports nothing on connect'}`,
  }),
  removeMessage: defineEdit<{ linkId: string; loadId: string }>({
    apply: (d, a) => {
      messageOf(d, a.linkId, a.loadId)
      dropMessage(linkOf(d, a.linkId), a.loadId)
      for (const remote of speakersOn(d, a.linkId)) dropKey(remote, a.loadId)
    },
    words: (d, a) => `${loadOf(d, a.loadId).name} taken off ${linkOf(d, a.linkId).name}`,
  }),
  setSceneCode: defineEdit<{ linkId: string; sceneId: string; code: string }>({
    apply: (d, a) => {
      sceneOf(d, a.sceneId)
      const { scenes } = linkOf(d, a.linkId)
      if (a.code === '') Reflect.deleteProperty(scenes, a.sceneId)
      else scenes[a.sceneId] = a.code
      dropSceneKeys(d)
    },
    words: (d, a) =>
      `Scene ${sceneOf(d, a.sceneId).name} on ${linkOf(d, a.linkId).name}: ${a.code || 'no code'}`,
  }),
  setReading: defineEdit<{
    linkId: string
    sensorId: string
    patch: Partial<Omit<Extract<LinkReading, { code: string }>, 'sensorId'>> & { route?: string }
  }>({
    apply: (d, a) => {
      const link = linkOf(d, a.linkId)
      const sensor = sensorOf(d, a.sensorId)
      const there = (link.readings as LinkReading[]).find(r => r.sensorId === a.sensorId)
      if (there) Object.assign(there, a.patch)
      else
        (link.readings as LinkReading[]).push({
          ...newReading(link, sensor),
          ...a.patch,
        } as LinkReading)
    },
    words: (d, a) =>
      `${sensorOf(d, a.sensorId).name} on ${linkOf(d, a.linkId).name}: ${listed(a.patch) || 'told'}`,
  }),
  removeReading: defineEdit<{ linkId: string; sensorId: string }>({
    apply: (d, a) => {
      const link = linkOf(d, a.linkId)
      dropReading(d, link, sensorOf(d, a.sensorId).id)
    },
    words: (d, a) =>
      `${sensorOf(d, a.sensorId).name} no longer told on ${linkOf(d, a.linkId).name}`,
  }),
}

/** One of two words; "" where nothing was said. */
function said(what: boolean | undefined, yes: string, no: string): string {
  if (what === undefined) return ''
  return what ? yes : no
}
