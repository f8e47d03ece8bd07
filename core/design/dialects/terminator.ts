import { z } from 'zod'

/** What ends a line. */
export const terminator = z.enum(['lf', 'crlf', 'cr', 'semicolon'])
