import { z } from 'zod'

export const packedSchema = z
  .strictObject({
    kind: z.literal('packed'),
    crc: z.string().max(20).describe('Name of a CRC, or ""'),
    endian: z.enum(['little', 'big']),
    framing: z
      .enum(['slip', 'cobs', 'length', 'none'])
      .describe('How frames are told apart; none only where each message is a datagram'),
    packed: z.boolean().describe('Without padding, by attribute'),
    fields: z
      .array(
        z.strictObject({
          name: z.string().regex(/^[a-z][a-zA-Z0-9]{0,15}$/),
          type: z.enum(['u8', 'i8', 'u16', 'i16', 'u32', 'i32']),
          is: z
            .enum(['kind', 'load', 'value', 'started', 'spare'])
            .describe('started: 1 in what a sender says first after a start, else 0'),
        }),
      )
      .min(2)
      .max(8),
  })
  .describe('A packed structure in frames')
