/**
 * Onto the board: the boot loader's own machine code, emulated, is written to, read back, cut in
 * the middle, and written again; what it holds then runs and answers.
 */
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { UploadFailed, UploadStep } from '../../../../core/boards/upload'
import { upload, USUAL_CHIP } from '../../../../core/boards/upload'
import { readHex, writeHex } from '../../../../core/bytes/intel-hex'
import { programFolder } from '../../../../core/sides/program/folder'
import { AvrBoard } from '../../../../core/emulated/board'
import { AvrToolchain } from '../../../fixtures/avr-board/toolchain'
import { BootBoard, bootTools } from '../../../fixtures/boot-board/board'
import { fanDesign } from '../../../fixtures/designs'
import { avrTools, canRun } from '../../../fixtures/tools'

describe('Intel HEX', () => {
  it('reads as in the specification: data, moved addresses, gaps', () => {
    const read = readHex(':0300300002337A1E\r\n:020000021000EC\r\n:01000200FFFE\r\n:00000001FF\r\n')
    if (!read.ok) throw new Error(read.why)
    expect([...read.image.bytes.slice(0x30, 0x33)]).toEqual([0x02, 0x33, 0x7a])
    expect(read.image.bytes[0]).toBe(0xff)
    expect(read.image.bytes.length).toBe(0x10003)
  })
  it('what is written reads back', () => {
    const bytes = Uint8Array.from({ length: 1000 }, (_, i) => (i * 7) & 0xff)
    expect(readHex(writeHex(bytes))).toEqual({ ok: true, image: { bytes } })
  })
  it.each([
    [':0300300002337A1F\n:00000001FF', 1, 'its checksum is wrong'],
    ['hello\n', 1, 'no line of Intel HEX'],
    [':0400300002337A1E\n', 1, 'it says 4 bytes and holds 3'],
    [':0300300002337A1E\n', 2, 'the end is missing: the file was cut short'],
    ['\n:00000007F9\n', 2, 'a record of type 7'],
  ])('%j: line %i, %s', (text, line, why) => {
    expect(readHex(text)).toEqual({ ok: false, line, why })
  })
})

describe('upload', () => {
  const failing = async (image: Uint8Array, board: BootBoard, cancelled?: () => boolean) =>
    upload(board.port, image, USUAL_CHIP, () => {}, cancelled).then(
      () => null,
      (error: UploadFailed) => error,
    )
  const can = canRun('Writing to the boot loader', { ...avrTools(), ...bootTools() })
  let tools: AvrToolchain
  let board: BootBoard
  beforeAll(async () => {
    if (!can) return
    tools = new AvrToolchain()
    board = new BootBoard()
    await board.start()
  })
  afterAll(async () => {
    tools?.dispose()
    await board?.dispose()
  })

  it('an image that is too large never reaches the port', async () => {
    const port = {
      write: () => Promise.reject(new Error('nothing is to be written')),
      read: () => Promise.reject(new Error('nothing is to be read')),
      reset: () => Promise.reject(new Error('nothing is to be reset')),
    }
    await expect(upload(port, new Uint8Array(32_257))).rejects.toMatchObject({ code: 'too-large' })
  })
  it('an empty port is told, with what to look at', async () => {
    const port = {
      write: () => Promise.resolve(),
      read: () => Promise.resolve(new Uint8Array()),
      reset: () => Promise.resolve(),
    }
    const error = await upload(port, new Uint8Array(10)).catch((e: Error) => e)
    expect(error).toMatchObject({ code: 'no-answer' })
    expect((error as Error).message).toContain('unplug it')
  })
  it('another chip is not written to', async () => {
    const sent: number[] = []
    const answers = [[], [0x14, 0x10], [0x14, 0x1e, 0x94, 0x06, 0x10]]
    const port = {
      write: (bytes: Uint8Array) => {
        sent.push(bytes[0]!)
        return Promise.resolve()
      },
      read: () => Promise.resolve(Uint8Array.from(answers.shift() ?? [])),
      reset: () => Promise.resolve(),
    }
    await expect(upload(port, new Uint8Array(10))).rejects.toMatchObject({ code: 'other-chip' })
    expect(sent).toEqual([0x30, 0x75])
  })
  it.skipIf(!can)(
    'the boot loader takes a program, cut in the middle and done again, and it runs',
    async () => {
      const { elf } = tools.build(programFolder(fanDesign(), 'program'))
      const all = new Uint8Array(tools.flash(elf).buffer)
      const image = all.slice(0, all.findLastIndex(b => b !== 0xff) + 1)
      const steps = new Set<UploadStep>()
      // Given up in the middle.
      let pages = 0
      expect(await failing(image, board, () => ++pages > 40)).toMatchObject({ code: 'cancelled' })
      // Power gone in the middle.
      board.written = 0
      const halfway = failing(image, board, () => {
        if (board.written > 6000) void board.stop()
        return false
      })
      expect(await halfway).toMatchObject({ code: 'lost' })
      await board.stop()
      expect(board.flash().subarray(0, 1000)).toEqual(Buffer.from(image.subarray(0, 1000)))
      expect(board.flash()[image.length - 1]).toBe(0xff)
      await board.start()
      await upload(board.port, image, USUAL_CHIP, p => steps.add(p.step))
      expect([...steps]).toEqual(['connecting', 'writing', 'reading back'])
      await board.stop()
      const flash = board.flash()
      expect(flash.subarray(0, image.length)).toEqual(Buffer.from(image))
      // The same flash on the emulated board: pressed by its phone it switches and answers.
      const words = new Uint16Array(flash.buffer.slice(flash.byteOffset, flash.byteOffset + 0x8000))
      const avr = new AvrBoard(words, 9600)
      avr.boot(0)
      avr.runTo(100)
      avr.hear(Buffer.from('F'), 200)
      avr.runTo(400)
      const output = fanDesign().loads[0]!.output
      expect(avr.level('pin' in output ? output.pin : -1, false)).toBe(0)
    },
  )
})
