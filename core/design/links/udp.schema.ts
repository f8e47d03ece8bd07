import { z } from 'zod'
import { byteLink, byteMessages, network, port } from './shapes'

export const udpSchema = z
  .strictObject({
    kind: z.literal('udp'),
    ...byteLink,
    network,
    address: z
      .string()
      .max(60)
      .regex(/^[A-Za-z0-9.-]+$/, 'an address looks like 192.168.4.1'),
    port,
    toAll: z.boolean().describe('Reports go to everybody in the network; else to who asked last'),
    ...byteMessages,
  })
  .describe('Datagrams: each may be lost, come twice or overtake another')
