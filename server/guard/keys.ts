/**
 * Who may come in over the network. Bound to any address but this machine's own, every port of
 * Nolvi asks for a key. A device gets one for the pairing code that stands in the terminal (and in
 * the editor of a device that is in); it can be taken from it again.
 */
import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto'
import type { IncomingMessage } from 'node:http'
import { isIP } from 'node:net'
import { Guesses } from './guesses'

export interface Device {
  id: number
  name: string
  keyHash: string
}

export const COOKIE = 'nolvi-key'
/** Answers to datagrams go to addresses of devices that were in within this time. */
const KNOWN_MS = 24 * 3_600_000

const hashOf = (key: string) => createHash('sha256').update(key).digest('hex')

/** Whether an address is reached from this machine alone. */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || (isIP(host) === 4 && host.startsWith('127.'))
}

export class KeyRing {
  private devices = new Map<string, Device>()
  private readonly guesses: Guesses
  private readonly lately = new Map<string, number>()
  private readonly own = randomBytes(32).toString('hex')
  code = freshCode()
  /** Told when there is another code. */
  changed: (code: string) => void = () => undefined

  /** `guarded`: whether keys are asked for at all. */
  constructor(
    readonly guarded: boolean,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.guesses = new Guesses(now)
  }

  setDevices(list: readonly Device[]): void {
    const itself = { id: 0, name: 'Nolvi itself', keyHash: hashOf(this.own) }
    this.devices = new Map([...list, itself].map(d => [d.keyHash, d]))
  }

  /** The server itself goes to its own ports: its address is known, and this is its key. */
  ownKey(address: string): string {
    this.lately.set(plainAddress(address), this.now())
    return this.own
  }

  /** Whose key a request carries; null for nobody's. */
  deviceOf(request: Pick<IncomingMessage, 'headers' | 'socket'>): Device | null {
    const { cookie, authorization } = request.headers
    const key =
      /^Bearer ([0-9a-f]{64})$/.exec(authorization ?? '')?.[1]
      ?? new RegExp(`(?:^|;\\s*)${COOKIE}=([0-9a-f]{64})(?:;|$)`).exec(cookie ?? '')?.[1]
    const device = key === undefined ? undefined : this.devices.get(hashOf(key))
    if (!device) return null
    const address = request.socket.remoteAddress
    if (address) this.lately.set(plainAddress(address), this.now())
    return device
  }

  allows(request: Pick<IncomingMessage, 'headers' | 'socket'>): boolean {
    return !this.guarded || this.deviceOf(request) !== null
  }

  /** Whether a datagram from there may be answered. */
  knows(address: string): boolean {
    return (
      !this.guarded || this.now() - (this.lately.get(plainAddress(address)) ?? -Infinity) < KNOWN_MS
    )
  }

  /** How long nobody is listened to, ms, after too many wrong codes. */
  get pauseMs(): number {
    return this.guesses.waitMs('code')
  }

  /** Whether it is the code of the moment; never during a pause. A right one is used up. */
  confirms(code: string): boolean {
    if (this.pauseMs > 0) return false
    const given = hashOf(code.replaceAll(/\D/g, ''))
    const right = timingSafeEqual(Buffer.from(given), Buffer.from(hashOf(this.code)))
    if (right) this.guesses.right('code')
    // What was guessed at is not guessed on at.
    if (right || this.guesses.failed('code')) this.renew()
    return right
  }

  /** A key for the right code, once; null for a wrong one or during a pause. */
  pair(code: string): { key: string; keyHash: string } | null {
    if (!this.confirms(code)) return null
    const key = randomBytes(32).toString('hex')
    return { key, keyHash: hashOf(key) }
  }

  private renew(): void {
    this.code = freshCode()
    this.changed(this.code)
  }
}

function freshCode(): string {
  return String(randomInt(1_000_000)).padStart(6, '0')
}

/** An IPv4 address may come as one of IPv6. */
function plainAddress(address: string): string {
  return address.replace(/^::ffff:/, '')
}
