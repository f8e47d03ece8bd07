import { z } from 'zod'
import { byteLink, byteMessages, hardwareAddress } from './shapes'

export const peerSchema = z
  .strictObject({
    kind: z.literal('peer'),
    ...byteLink,
    channel: z.number().int().min(1).max(13),
    boardAddress: hardwareAddress.describe('Of the controller'),
    otherAddress: hardwareAddress.describe('Of the other side; FF:FF:FF:FF:FF:FF = everybody'),
    payloadBytes: z.number().int().min(16).max(1470).describe('Longest message the radio takes'),
    ...byteMessages,
  })
  .describe('Radio from board to board, without a network')
