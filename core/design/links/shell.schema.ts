import { z } from 'zod'
import { byteLink, byteMessages, network } from './shapes'

export const shellSchema = z
  .strictObject({
    kind: z.literal('shell'),
    ...byteLink,
    network,
    address: z
      .string()
      .max(60)
      .regex(/^[A-Za-z0-9.-]+$/, 'an address looks like 192.168.4.1'),
    account: z
      .string()
      .max(32)
      .regex(/^[a-z_][a-z0-9_-]*$/, 'an account is small letters, digits, _ and -')
      .describe('Who logs in'),
    command: z
      .string()
      .max(80)
      .regex(/^[A-Za-z0-9._/-]+( [A-Za-z0-9._/=-]+)*$/, 'a command is plain words')
      .describe('What is started there: it takes commands and tells reports, a line each'),
    clients: z.number().int().min(1).max(8).describe('Sessions at once'),
    ...byteMessages,
  })
  .describe('A console over a shell: a session for each who logs in')
