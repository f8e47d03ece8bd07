import { z } from 'zod'
import { pin } from '../shapes'
import { baud, byteLink, byteMessages } from './shapes'

export const bluetoothSerialSchema = z.strictObject({
  kind: z.literal('bluetooth-serial'),
  ...byteLink,
  baud,
  radio: z
    .enum(['module', 'chip'])
    .describe('A module on the serial port, or the radio of the chip itself'),
  statusPin: pin.nullable().describe("Pin wired to the module's connected line; null = not wired"),
  ...byteMessages,
})
