/**
 * Refusals as RFC 9457 problem documents; `problems` names the place of each bad field (JSON
 * Pointer).
 */
import type { H3Event } from 'h3'
import type { z } from 'zod'
import { pointer, type Problem } from '../../core/design/validate'

export interface ProblemData {
  problems: Problem[]
  extra?: Record<string, unknown>
}

export function refuse(
  status: number,
  title: string,
  problems: Problem[] = [],
  extra?: Record<string, unknown>,
) {
  return createError({
    statusCode: status,
    message: title,
    data: { problems, extra } satisfies ProblemData,
  })
}

export function notFound(id: string) {
  return refuse(404, `There is no design "${id.slice(0, 60)}"`, [
    { path: '', message: 'It may have been deleted, or the address is mistyped.' },
  ])
}

/** Told of one refusal: more helps nobody, and a hostile document could have thousands. */
export const MOST_PROBLEMS = 50

const MAX_BODY_BYTES = 1_500_000

/** JSON body, read with a bound: what is too large is not even collected. */
export async function readJson(event: H3Event): Promise<unknown> {
  const tooLarge = () =>
    refuse(413, 'The document is too large', [
      { path: '', message: `at most ${MAX_BODY_BYTES} bytes are taken` },
    ])
  if (Number(getHeader(event, 'content-length') ?? 0) > MAX_BODY_BYTES) throw tooLarge()
  const pieces: Buffer[] = []
  let size = 0
  for await (const piece of event.node.req as AsyncIterable<Buffer>) {
    size += piece.length
    if (size > MAX_BODY_BYTES) throw tooLarge()
    pieces.push(piece)
  }
  event.context.bodyBytes = size
  const text = Buffer.concat(pieces).toString('utf8')
  if (text.trim() === '') return {}
  try {
    return JSON.parse(text)
  } catch (error) {
    throw refuse(400, 'The body is not JSON', [{ path: '', message: (error as Error).message }])
  }
}

/** What is wrong with a body, each with its place. */
export function problemsOf(error: z.ZodError): Problem[] {
  return error.issues
    .slice(0, MOST_PROBLEMS)
    .map(i => ({ path: pointer(i.path), message: i.message }))
}

/**
 * JSON body of a shape. What does not fit is refused with its places, or with what is `wanted` in
 * its stead.
 */
export async function readAs<T>(
  event: H3Event,
  schema: z.ZodType<T>,
  title: string,
  wanted?: Problem,
): Promise<T> {
  return readValue(await readJson(event), schema, title, wanted)
}

/** The same of what was read already. */
export function readValue<T>(
  value: unknown,
  schema: z.ZodType<T>,
  title: string,
  wanted?: Problem,
): T {
  const read = schema.safeParse(value)
  if (read.success) return read.data
  throw refuse(400, title, wanted ? [wanted] : problemsOf(read.error))
}

/** How long the body was that `readJson` took. */
export function bodyBytes(event: H3Event): number {
  return Number(event.context.bodyBytes ?? 0)
}
