/** What is kept of a board that was written to: which program, onto what, when. */
import { z } from 'zod'

export const uploadRunSchema = z.strictObject({
  kind: z.literal('upload'),
  revision: z.number().int().min(1),
  title: z.string().max(400),
  controllerId: z.string().max(60),
  chip: z.string().max(60),
  bytes: z.number().int().min(1),
  /** Of the design that the program was made of, as it stands in it; null where none does. */
  fingerprint: z.string().max(20).nullable(),
})
export type UploadRun = z.infer<typeof uploadRunSchema>

const MARK = 'nolvi '

/** What a program carries of the design that it was made of. */
export function fingerprintMark(fingerprint: string): string {
  return `${MARK}${fingerprint}`
}

/** The fingerprint that an image carries; null where it carries none. */
export function fingerprintIn(image: Uint8Array): string | null {
  const text = Array.from(image, b => String.fromCharCode(b)).join('')
  return /nolvi ([0-9A-F]{6})\0/.exec(text)?.[1] ?? null
}
