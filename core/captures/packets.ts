/**
 * Packets of a capture file: libpcap's classic format and pcapng (both as the drafts of the IETF's
 * opsawg describe them), down to what UDP and TCP carry over IPv4 and IPv6 (RFC 791, 8200, 768,
 * 9293). What is no such packet is passed over; a file that ends in the middle is read as far as it
 * goes.
 */

/** One packet with something in it. `atMs`: since 1970, with its fraction. */
export interface Packet {
  atMs: number
  protocol: 'udp' | 'tcp'
  from: { host: string; port: number }
  to: { host: string; port: number }
  /** Place in the stream, of TCP. */
  seq: number
  /** The first of a connection, its last, or one that breaks it off. */
  flags: { syn: boolean; fin: boolean; rst: boolean }
  data: Uint8Array
}

export class BadCapture extends Error {}

interface Frame {
  atMs: number
  linkType: number
  bytes: Uint8Array
}

const PCAP_MICRO = 0xa1b2c3d4
const PCAP_NANO = 0xa1b23c4d
const PCAPNG = 0x0a0d0d0a
const BYTE_ORDER = 0x1a2b3c4d

/** Whether a file is one of packets. */
export function isPacketFile(bytes: Uint8Array): boolean {
  if (bytes.length < 24) return false
  const view = viewOf(bytes)
  const first = view.getUint32(0)
  return (
    first === PCAPNG
    || [PCAP_MICRO, PCAP_NANO].some(m => first === m || view.getUint32(0, true) === m)
  )
}

/** Throws `BadCapture` for what is no such file. */
export function packetsIn(bytes: Uint8Array): Packet[] {
  if (!isPacketFile(bytes)) throw new BadCapture('this is no file of packets (pcap or pcapng)')
  const frames = viewOf(bytes).getUint32(0) === PCAPNG ? nextGeneration(bytes) : classic(bytes)
  return frames.flatMap(f => packetOf(f) ?? [])
}

function viewOf(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
}

function classic(bytes: Uint8Array): Frame[] {
  const view = viewOf(bytes)
  const first = view.getUint32(0)
  const little = first !== PCAP_MICRO && first !== PCAP_NANO
  const isNano = view.getUint32(0, little) === PCAP_NANO
  const linkType = view.getUint32(20, little) & 0xffff
  const frames: Frame[] = []
  for (let at = 24; at + 16 <= bytes.length;) {
    const captured = view.getUint32(at + 8, little)
    if (at + 16 + captured > bytes.length) break
    const part = view.getUint32(at + 4, little)
    frames.push({
      atMs: view.getUint32(at, little) * 1000 + part / (isNano ? 1e6 : 1e3),
      linkType,
      bytes: bytes.subarray(at + 16, at + 16 + captured),
    })
    at += 16 + captured
  }
  return frames
}

/** An interface of a section: its kind, and how many of its time units a second has. */
interface Interface {
  linkType: number
  perSecond: number
}
const SECTION = 0x0a0d0d0a
const INTERFACE = 1
const SIMPLE = 3
const ENHANCED = 6
const TIME_RESOLUTION = 9

function nextGeneration(bytes: Uint8Array): Frame[] {
  const view = viewOf(bytes)
  const frames: Frame[] = []
  let little = true
  let interfaces: Interface[] = []
  for (let at = 0; at + 12 <= bytes.length;) {
    const type = view.getUint32(at, little)
    if (type === SECTION) {
      little = view.getUint32(at + 8, true) === BYTE_ORDER
      interfaces = []
    }
    const length = view.getUint32(at + 4, little)
    if (length < 12 || at + length > bytes.length) break
    const block = bytes.subarray(at + 8, at + length - 4)
    if (type === INTERFACE) interfaces.push(interfaceOf(block, little))
    if (type === ENHANCED) frames.push(...enhanced(block, little, interfaces))
    if (type === SIMPLE) {
      const [first] = interfaces
      if (first) frames.push({ atMs: 0, linkType: first.linkType, bytes: block.subarray(4) })
    }
    at += length
  }
  return frames
}

function interfaceOf(block: Uint8Array, little: boolean): Interface {
  const view = viewOf(block)
  let perSecond = 1e6
  for (let at = 8; at + 4 <= block.length;) {
    const code = view.getUint16(at, little)
    const length = view.getUint16(at + 2, little)
    if (code === 0) break
    if (code === TIME_RESOLUTION && length >= 1) {
      const value = block[at + 4] ?? 6
      perSecond = value & 0x80 ? 2 ** (value & 0x7f) : 10 ** value
    }
    at += 4 + Math.ceil(length / 4) * 4
  }
  return { linkType: view.getUint16(0, little), perSecond }
}

function enhanced(block: Uint8Array, little: boolean, interfaces: readonly Interface[]): Frame[] {
  if (block.length < 20) return []
  const view = viewOf(block)
  const of = interfaces[view.getUint32(0, little)]
  if (!of) return []
  const units = view.getUint32(4, little) * 2 ** 32 + view.getUint32(8, little)
  const captured = view.getUint32(12, little)
  return [
    {
      atMs: (units / of.perSecond) * 1000,
      linkType: of.linkType,
      bytes: block.subarray(20, 20 + captured),
    },
  ]
}

/** Where the packet of the network begins in a frame; null where it is none. */
function networkAt({ linkType, bytes }: Frame): number | null {
  const view = viewOf(bytes)
  switch (linkType) {
    case 0: // loopback of BSD: a family in front
      return 4
    case 1: {
      if (bytes.length < 14) return null
      // VLAN tags stand between the addresses and the type.
      let at = 12
      while (view.getUint16(at) === 0x8100 && at + 6 <= bytes.length) at += 4
      const type = view.getUint16(at)
      return type === 0x0800 || type === 0x86dd ? at + 2 : null
    }
    case 101: // IP, bare
    case 228:
    case 229:
      return 0
    case 113: // Linux, all interfaces
      return 16
    case 276:
      return 20
    default:
      return null
  }
}

function packetOf(frame: Frame): Packet | null {
  const at = networkAt(frame)
  if (at === null || at >= frame.bytes.length) return null
  const bytes = frame.bytes.subarray(at)
  const version = (bytes[0] ?? 0) >> 4
  if (version === 4 && bytes.length >= 20) return fourOf(frame, bytes)
  if (version === 6 && bytes.length >= 40) return sixOf(frame, bytes)
  return null
}

function fourOf(frame: Frame, bytes: Uint8Array): Packet | null {
  const view = viewOf(bytes)
  const head = (bytes[0]! & 15) * 4
  const total = view.getUint16(2)
  // Of a packet in fragments only the first says what it is.
  if (view.getUint16(6) & 0x1fff) return null
  const host = (from: number) => [...bytes.subarray(from, from + 4)].join('.')
  return carriedBy(
    frame,
    bytes[9]!,
    host(12),
    host(16),
    bytes.subarray(head, Math.max(head, total)),
  )
}

function sixOf(frame: Frame, bytes: Uint8Array): Packet | null {
  const view = viewOf(bytes)
  const total = 40 + view.getUint16(4)
  const host = (from: number) =>
    Array.from({ length: 8 }, (_, i) => view.getUint16(from + 2 * i).toString(16)).join(':')
  return carriedBy(frame, bytes[6]!, host(8), host(24), bytes.subarray(40, total))
}

function carriedBy(
  { atMs }: Frame,
  protocol: number,
  from: string,
  to: string,
  bytes: Uint8Array,
): Packet | null {
  const view = viewOf(bytes)
  if (protocol === 17 && bytes.length >= 8)
    return {
      atMs,
      protocol: 'udp',
      from: { host: from, port: view.getUint16(0) },
      to: { host: to, port: view.getUint16(2) },
      seq: 0,
      flags: { syn: false, fin: false, rst: false },
      data: bytes.subarray(8, view.getUint16(4)),
    }
  if (protocol !== 6 || bytes.length < 20) return null
  const flags = bytes[13]!
  return {
    atMs,
    protocol: 'tcp',
    from: { host: from, port: view.getUint16(0) },
    to: { host: to, port: view.getUint16(2) },
    seq: view.getUint32(4),
    flags: { fin: (flags & 1) !== 0, syn: (flags & 2) !== 0, rst: (flags & 4) !== 0 },
    data: bytes.subarray((bytes[12]! >> 4) * 4),
  }
}
