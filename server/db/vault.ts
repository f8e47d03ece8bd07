/**
 * Secrets of links at rest: sealed with AES-256-GCM (NIST SP 800-38D) under a key that lies in the
 * data folder, readable for its owner alone. A copy of the database, or a backup, does not give
 * them away without that file. Each is bound to its design and link.
 */
import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { writeWhole } from './durable-fs'
import { StoreTrouble } from './folder'

export interface Vault {
  /** Tells which key it is, and nothing of the key. */
  keyId: string
  seal: (plain: string, about: string) => string
  /** Null when it was sealed with another key, for something else, or was changed. */
  open: (sealed: string, about: string) => string | null
}

const KEY_BYTES = 32
const NONCE_BYTES = 12
const TAG_BYTES = 16

export function vaultOf(key: Buffer): Vault {
  const keyId = createHash('sha256').update('nolvi key').update(key).digest('hex').slice(0, 12)
  return {
    keyId,
    seal(plain, about) {
      const nonce = randomBytes(NONCE_BYTES)
      const cipher = createCipheriv('aes-256-gcm', key, nonce).setAAD(Buffer.from(about))
      const sealed = Buffer.concat([
        nonce,
        cipher.update(plain, 'utf8'),
        cipher.final(),
        cipher.getAuthTag(),
      ])
      return `${keyId}.${sealed.toString('base64url')}`
    },
    open(text, about) {
      const [id, body = ''] = text.split('.')
      const bytes = Buffer.from(body, 'base64url')
      if (id !== keyId || bytes.length < NONCE_BYTES + TAG_BYTES) return null
      const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, NONCE_BYTES), {
        authTagLength: TAG_BYTES,
      })
        .setAAD(Buffer.from(about))
        .setAuthTag(bytes.subarray(-TAG_BYTES))
      try {
        return (
          decipher.update(bytes.subarray(NONCE_BYTES, -TAG_BYTES)).toString('utf8')
          + decipher.final('utf8')
        )
      } catch {
        return null
      }
    },
  }
}

/** The vault of a data folder; its key is made where there is none. */
export function openVault(folder: string): Vault {
  const path = join(folder, 'secret.key')
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT')
      throw new StoreTrouble(
        `The key ${path} cannot be read: ${(error as Error).message}. Nothing was touched.`,
      )
    text = randomBytes(KEY_BYTES).toString('hex')
    writeWhole(path, `${text}\n`)
  }
  if (!/^[0-9a-f]{64}\s*$/.test(text))
    throw new StoreTrouble(
      `The key ${path} is damaged: it holds ${KEY_BYTES} bytes in hexadecimal. Put it back from a copy, or put it aside: then secrets of links have to be set anew.`,
    )
  return vaultOf(Buffer.from(text.trim(), 'hex'))
}
