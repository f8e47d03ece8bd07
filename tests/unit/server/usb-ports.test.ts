/** Uploads through a port of this computer: the boot loader's machine code behind a terminal. */
import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { upload, USUAL_CHIP } from '../../../core/boards/upload'
import { programImage } from '../../../core/sides/program/image'
import { openUsbPort, usbPorts } from '../../../server/live/usb-ports'
import { BootBoard, bootTools } from '../../fixtures/boot-board/board'
import { fanDesign } from '../../fixtures/designs'
import { avrTools, canRun, has } from '../../fixtures/tools'

describe('ports of this computer', () => {
  const can = canRun('Uploading through a port', {
    ...avrTools(),
    ...bootTools(),
    socat: has('socat'),
  })
  const folder = mkdtempSync(join(tmpdir(), 'nolvi-port-'))
  const path = join(folder, 'board')
  let board: BootBoard | undefined
  let socat: ChildProcess | undefined
  beforeAll(() => {
    if (can) board = new BootBoard()
  })
  beforeEach(async () => {
    if (!board) return
    socat = spawn('socat', [`PTY,link=${path},raw,echo=0`, `EXEC:${board.command}`], {
      stdio: 'ignore',
    })
    while (!existsSync(path)) await new Promise(done => setTimeout(done, 20))
    process.env.NOLVI_SERIAL = path
  })
  const unplug = async () => {
    if (socat?.exitCode !== null || socat.signalCode !== null) return
    const ended = new Promise(done => socat?.once('exit', done))
    socat.kill()
    await ended
  }
  afterEach(unplug)
  afterAll(async () => {
    delete process.env.NOLVI_SERIAL
    await board?.dispose()
    rmSync(folder, { recursive: true, force: true })
  })

  it('lists what is named, and opens nothing else', async () => {
    const list = await usbPorts()
    if (can) expect(list[0]).toEqual({ path, name: '' })
    await expect(openUsbPort('/etc/passwd', 115_200)).rejects.toThrow('no port /etc/passwd')
  })
  // The emulated chip goes by this machine's time here: where the machine stands still for a
  // second, the loader has given up, as a real one would have. Then it is tried again.
  it.skipIf(!can)(
    'the ready-made program is written through it and read back',
    { retry: 2 },
    async () => {
      const image = programImage(fanDesign()) as Uint8Array
      const port = await openUsbPort(path, 115_200)
      const steps = new Set<string>()
      try {
        await upload(port, image, USUAL_CHIP, p => steps.add(p.step))
      } finally {
        await port.done()
      }
      expect([...steps]).toEqual(['connecting', 'writing', 'reading back'])
      await unplug()
      const flash = readFileSync(board!.flashFile)
      expect(flash.subarray(0, image.length)).toEqual(Buffer.from(image))
    },
  )
})
