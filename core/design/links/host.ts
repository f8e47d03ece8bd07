/** Where a board is on its network: an address in numbers, or a name. */
import type { Link } from '../schema'
import { onNetwork, type LinkOnNetwork } from './traits'

/** Where a board with Wi-Fi is in a network that it opens itself. */
export const OWN_ADDRESS = '192.168.4.1'

/** Of an address, as a link has it: without what stands before and behind it. */
export function hostOf(address: string): string {
  return address.replace(/^http:\/\//, '').replace(/:\d+$/, '')
}

/** The same address of another board. */
export function atHost(address: string, host: string): string {
  return address.replace(hostOf(address), host)
}

/** Its four bytes; null where it is a name, or nothing. */
export function addressBytes(host: string): number[] | null {
  const parts = host.split('.')
  const bytes = parts.map(Number)
  const is =
    bytes.length === 4 && parts.every(p => /^\d{1,3}$/.test(p)) && bytes.every(b => b < 256)
  return is ? bytes : null
}

const LONGEST_PART = 63
const LONGEST_NAME = 253
/**
 * Whether it can be asked for as a name (RFC 1123, 2.1): parts of letters, digits and dashes, the
 * last of them not a number, for that is what addresses end in.
 */
export function isHostName(host: string): boolean {
  const parts = host.split('.')
  return (
    host.length <= LONGEST_NAME
    && parts.every(p => p.length <= LONGEST_PART && /^[a-z\d]([a-z\d-]*[a-z\d])?$/i.test(p))
    && !/^\d+$/.test(parts.at(-1) ?? '')
  )
}

/** Asked of everybody nearby, where no server of names is (RFC 6762, 3). */
export function isNearby(name: string): boolean {
  return name.toLowerCase().endsWith('.local')
}

/** What the board of a link is called in its network; "" = it has an address, or nothing. */
export function nameOf(link: Link): string {
  const host = onNetwork(link) ? hostOf(link.address) : ''
  return isHostName(host) ? host.toLowerCase() : ''
}

/** Whether it has to be asked first where the board is. */
export const isNamed = (link: Link): boolean => nameOf(link) !== ''

/** Why nobody finds the board at the address of a link, as a clause; null where it can be found. */
export function whyNotFound({ name, address, network }: LinkOnNetwork): string | null {
  const host = hostOf(address)
  if (addressBytes(host)) return null
  if (!isHostName(host))
    return `"${host}" of ${name} is neither an address like 192.168.4.1 nor a name`
  if (network === 'router' || isNearby(host)) return null
  return `in the network that the board opens itself nobody knows "${host}": there a name ends in ".local", or it is an address`
}

const LAST = 254
/** An address that no link has. */
export function freeAddress(links: readonly Link[]): string {
  const taken = new Set(links.map(l => ('address' in l ? hostOf(l.address) : '')))
  const all = Array.from({ length: LAST }, (_, i) => `192.168.4.${i + 1}`)
  return all.find(a => !taken.has(a)) ?? OWN_ADDRESS
}
