/** Uploads through a serial port of the computer that Nolvi runs on. */
import { base64 } from '../../core/bytes/base64'
import type { UploadProgress } from '../../core/boards/upload'

export interface ServerPort {
  path: string
  name: string
}

/** Ports that are plugged in there; none where it does not answer. */
export async function serverPorts(): Promise<ServerPort[]> {
  const answer = await ask<ServerPort[]>('/api/ports')
  return answer.ok ? answer.value : []
}

type Line = UploadProgress | { step: 'done' } | { step: 'failed'; words: string }

/** Writes an image; what went wrong in words, or null. Aborting gives up. */
export async function uploadThere(
  port: string,
  baud: number,
  image: Uint8Array,
  told: (progress: UploadProgress) => void,
  signal: AbortSignal,
): Promise<string | null> {
  const response = await fetch('/api/ports/upload', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ port, baud, image: base64(image) }),
    signal,
  }).catch(() => null)
  const reader = response?.ok ? response.body?.getReader() : undefined
  if (!reader) return signal.aborted ? GIVEN_UP : 'Nolvi\u2019s server did not take the upload.'
  const decoder = new TextDecoder()
  let rest = ''
  for (;;) {
    const piece = await reader.read().catch(() => null)
    if (!piece || piece.done) return signal.aborted ? GIVEN_UP : 'The server broke off.'
    const lines = (rest + decoder.decode(piece.value, { stream: true })).split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines.map(text => JSON.parse(text) as Line)) {
      if (line.step === 'done') return null
      if (line.step === 'failed') return line.words
      told(line)
    }
  }
}

const GIVEN_UP = 'Given up. The boot loader is still there: it can be written anew.'
