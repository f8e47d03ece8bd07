/** A link as it stands in the document: one of its kinds. */
import { z } from 'zod'
import { bluetoothSerialSchema } from './bluetooth-serial.schema'
import { httpSchema } from './http.schema'
import { lowEnergySchema } from './low-energy.schema'
import { peerSchema } from './peer.schema'
import { shellSchema } from './shell.schema'
import { udpSchema } from './udp.schema'
import { wireSchema } from './wire.schema'

export const linkSchema = z.discriminatedUnion('kind', [
  bluetoothSerialSchema,
  lowEnergySchema,
  wireSchema,
  udpSchema,
  peerSchema,
  httpSchema,
  shellSchema,
])
export type Link = z.infer<typeof linkSchema>
export type LinkKind = Link['kind']
export type LinkOf<K extends LinkKind> = Extract<Link, { kind: K }>
