import { z } from 'zod'
import { byteLink, byteMessages, uuid } from './shapes'

export const lowEnergySchema = z
  .strictObject({
    kind: z.literal('low-energy'),
    ...byteLink,
    service: uuid.describe('Service of the board'),
    writeTo: uuid.describe('Characteristic that commands are written to'),
    notifyFrom: uuid.describe('Characteristic that reports are notified from'),
    packetBytes: z
      .number()
      .int()
      .min(20)
      .max(512)
      .describe('Bytes of a message in one packet; 20 unless both sides agree on more'),
    clients: z.number().int().min(1).max(8).describe('Phones that the board serves at once'),
    intervalMs: z
      .number()
      .int()
      .min(8)
      .max(4000)
      .describe('From one connection event to the next, ms'),
    ...byteMessages,
  })
  .describe('Low-energy Bluetooth: a service with a characteristic to write to and one to hear')
