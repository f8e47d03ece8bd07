/**
 * Signed commands worked out with the practice secret, so that a program of one's own can be held
 * against them.
 */
import type { Design, Link } from '../design/schema'
import { firstCounter, practiceSecret, sealedText, tagOf, exampleCount } from '../messages/sealing'
import { commands } from '../messages/table'
import { commandWords } from '../messages/clashes'
import { shownWire } from '../design/wire'
import { hexText } from '../bytes/text'
import { csv } from './csv'
import { speaksRoutes, structureOn, isSigned } from '../design/links/traits'

/** Signed commands with practice secrets as CSV, for whoever writes the other side. */
export function signatureVectors(design: Design, link: Link): string {
  const secret = practiceSecret(link)
  const tagBytes = isSigned(link.auth) ? link.auth.tagBytes : 32
  const first = exampleCount(link)
  const counts = link.auth.kind === 'time' ? [first, first + 1] : [1, 2, firstCounter(1) + 1]
  const packed = structureOn(link)
  const rows = commands(design, link).flatMap(c =>
    counts.map(counter => {
      const whole = sealedText(link, c.code, { secret, counter })
      return [
        secret,
        String(counter),
        commandWords(design, c.loadId, c.value),
        packed ? c.code : c.body,
        packed ? '' : tagOf(secret, counter, c.body, tagBytes),
        shownWire(link, whole),
        speaksRoutes(link) ? '' : hexText(whole),
      ]
    }),
  )
  return csv(['secret', 'counter', 'means', 'signed', 'tag', 'message', 'hex'], rows)
}
