/**
 * Cyclic redundancy checks by named parameter sets (polynomial, start value, reflection, final
 * exclusive-or), as in the public catalogue of parametrised CRC algorithms; `check` is the
 * published remainder of the ASCII digits 1 to 9.
 */
export interface CrcParameters {
  name: string
  bits: 8 | 16 | 32
  polynomial: number
  init: number
  /** Bytes in and remainder out least significant bit first. */
  reflected: boolean
  xorOut: number
  check: number
  /**
   * Longest data, in bits, in which every error of up to three bits is found (Hamming distance 4;
   * Koopman's tables).
   */
  distance4Bits: number
}

export const CRCS: readonly CrcParameters[] = [
  {
    name: 'CRC-8/SMBUS',
    bits: 8,
    polynomial: 0x07,
    init: 0,
    reflected: false,
    xorOut: 0,
    check: 0xf4,
    distance4Bits: 119,
  },
  {
    name: 'CRC-8/ROHC',
    bits: 8,
    polynomial: 0x07,
    init: 0xff,
    reflected: true,
    xorOut: 0,
    check: 0xd0,
    distance4Bits: 119,
  },
  {
    name: 'CRC-8/I-432-1',
    bits: 8,
    polynomial: 0x07,
    init: 0,
    reflected: false,
    xorOut: 0x55,
    check: 0xa1,
    distance4Bits: 119,
  },
  {
    name: 'CRC-16/ARC',
    bits: 16,
    polynomial: 0x8005,
    init: 0,
    reflected: true,
    xorOut: 0,
    check: 0xbb3d,
    distance4Bits: 32_751,
  },
  {
    name: 'CRC-16/IBM-3740',
    bits: 16,
    polynomial: 0x1021,
    init: 0xffff,
    reflected: false,
    xorOut: 0,
    check: 0x29b1,
    distance4Bits: 32_751,
  },
  {
    name: 'CRC-16/XMODEM',
    bits: 16,
    polynomial: 0x1021,
    init: 0,
    reflected: false,
    xorOut: 0,
    check: 0x31c3,
    distance4Bits: 32_751,
  },
  {
    name: 'CRC-16/KERMIT',
    bits: 16,
    polynomial: 0x1021,
    init: 0,
    reflected: true,
    xorOut: 0,
    check: 0x2189,
    distance4Bits: 32_751,
  },
  {
    name: 'CRC-16/IBM-SDLC',
    bits: 16,
    polynomial: 0x1021,
    init: 0xffff,
    reflected: true,
    xorOut: 0xffff,
    check: 0x906e,
    distance4Bits: 32_751,
  },
  {
    name: 'CRC-32/ISO-HDLC',
    bits: 32,
    polynomial: 0x04c11db7,
    init: 0xffffffff,
    reflected: true,
    xorOut: 0xffffffff,
    check: 0xcbf43926,
    distance4Bits: 91_607,
  },
  {
    name: 'CRC-32/BZIP2',
    bits: 32,
    polynomial: 0x04c11db7,
    init: 0xffffffff,
    reflected: false,
    xorOut: 0xffffffff,
    check: 0xfc891918,
    distance4Bits: 91_607,
  },
  {
    name: 'CRC-32/ISCSI',
    bits: 32,
    polynomial: 0x1edc6f41,
    init: 0xffffffff,
    reflected: true,
    xorOut: 0xffffffff,
    check: 0xe3069283,
    distance4Bits: 2_147_483_615,
  },
]

/** The parameters of a CRC by name. Throws `RangeError` for no such CRC. */
export function crcNamed(name: string): CrcParameters {
  const found = CRCS.find(c => c.name === name)
  if (!found) throw new RangeError(`no CRC "${name}"`)
  return found
}

const tables = new Map<string, Uint32Array>()

/** Remainder by byte, so that a byte costs one look-up. */
function tableOf({ name, bits, polynomial, reflected }: CrcParameters): Uint32Array {
  const known = tables.get(name)
  if (known) return known
  const top = 2 ** (bits - 1)
  const mask = 2 ** bits - 1
  const table = Uint32Array.from({ length: 256 }, (_, byte) => {
    let r = reflected ? byte : byte * 2 ** (bits - 8)
    const poly = reflected ? mirrored(polynomial, bits) : polynomial
    for (let i = 0; i < 8; i++)
      r = reflected
        ? (r & 1 ? (r >>> 1) ^ poly : r >>> 1) >>> 0
        : (r >= top ? ((r * 2) & mask) ^ poly : (r * 2) & mask) >>> 0
    return r
  })
  tables.set(name, table)
  return table
}

/** Its bits the other way round, of so many. */
export function mirrored(value: number, bits: number): number {
  let out = 0
  for (let i = 0; i < bits; i++) if ((value / 2 ** i) & 1) out += 2 ** (bits - 1 - i)
  return out >>> 0
}

/** Remainder of the bytes, 0 to 2^bits - 1. */
export function crc(parameters: CrcParameters, bytes: Uint8Array): number {
  const { bits, init, reflected, xorOut } = parameters
  const table = tableOf(parameters)
  const mask = 2 ** bits - 1
  let r = reflected ? mirrored(init, bits) : init
  for (const byte of bytes) {
    r = reflected
      ? (table[(r ^ byte) & 0xff] as number) ^ (r >>> 8)
      : (table[((r >>> (bits - 8)) ^ byte) & 0xff] as number) ^ (bits === 8 ? 0 : (r << 8) & mask)
    r >>>= 0
  }
  return ((r ^ xorOut) & mask) >>> 0
}

/** The remainder as bytes, least significant first: as most small boards keep numbers. */
export function crcBytes(parameters: CrcParameters, bytes: Uint8Array): Uint8Array {
  const value = crc(parameters, bytes)
  return Uint8Array.from({ length: parameters.bits / 8 }, (_, i) => (value / 2 ** (8 * i)) & 0xff)
}
