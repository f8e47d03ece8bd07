import { z } from 'zod'
import { pin } from '../shapes'
import { baud, byteLink, byteMessages } from './shapes'

export const wireSchema = z
  .strictObject({
    kind: z.literal('wire'),
    ...byteLink,
    baud,
    receivePin: pin,
    sendPin: pin,
    ...byteMessages,
  })
  .describe('Serial wires to another board or a computer')
