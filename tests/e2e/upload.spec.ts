/** Onto the board from Build, through a double of the browser's serial ports: a loader in it. */
import { writeHex } from '../../core/bytes/intel-hex'
import { fingerprintMark } from '../../core/boards/upload-record'
import { expect, test } from './nolvi'

/** A boot loader with 32 kB of flash behind a port; `spoils`: a byte that it writes wrongly. */
function loader({ spoils }: { spoils: number | null }): void {
  const flash = new Uint8Array(32_768).fill(0xff)
  let waiting: number[] = []
  let address = 0
  let out: ReadableStreamDefaultController<Uint8Array> | null = null
  const answer = (...bytes: number[]) => out?.enqueue(Uint8Array.of(0x14, ...bytes, 0x10))
  const lengthOf = () =>
    ({ 0x55: 4, 0x64: 5 + waiting[1]! * 256 + waiting[2]!, 0x74: 5, 0x75: 2 })[waiting[0]!] ?? 2
  const work = () => {
    while (waiting.length >= 2 && waiting.length >= lengthOf()) {
      const c = waiting.splice(0, lengthOf())
      if (c[0] === 0x55) address = 2 * (c[1]! + 256 * c[2]!)
      if (c[0] === 0x64) {
        c.slice(4, -1).forEach((byte, i) => {
          flash[address + i] = address + i === spoils ? byte ^ 1 : byte
        })
      }
      if (c[0] === 0x75) answer(0x1e, 0x95, 0x0f)
      else if (c[0] === 0x74) answer(...flash.subarray(address, address + c[1]! * 256 + c[2]!))
      else answer()
    }
  }
  const port = {
    open: () => Promise.resolve(),
    close: () => Promise.resolve(),
    setSignals: () => {
      waiting = []
      return Promise.resolve()
    },
    readable: new ReadableStream<Uint8Array>({
      start(controller) {
        out = controller
      },
    }),
    writable: new WritableStream<Uint8Array>({
      write(bytes) {
        waiting.push(...bytes)
        work()
      },
    }),
  }
  Object.defineProperty(navigator, 'serial', {
    value: { requestPort: () => Promise.resolve(port) },
  })
}

const hexOf = (fingerprint: string, bytes = 2000) => {
  const image = Uint8Array.from({ length: bytes }, (_, i) => (i * 31) & 0xff)
  image.set(new TextEncoder().encode(`${fingerprintMark(fingerprint)}\0`), 900)
  return writeHex(image)
}

for (const [spoils, ends] of [
  [null, 'are on the board, read back and equal. It is in the log.'],
  [1300, 'Byte 1300 is'],
] as const)
  test(`a program is written and read back: ${ends}`, async ({ page, copy, request }) => {
    await page.addInitScript(loader, { spoils })
    const { fingerprint } = (await (await request.get(`/api/designs/${copy}/build`)).json()) as {
      fingerprint: string
    }
    await page.goto(`/d/${copy}/build`)
    await page.getByRole('button', { name: 'Write onto the board' }).click()
    const dialog = page.getByRole('dialog')
    const take = async (name: string, text: string) => {
      await dialog
        .locator('input[type=file]')
        .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
    }
    await take('broken.hex', hexOf(fingerprint).replace(':10', ':11'))
    await expect(dialog.getByRole('alert')).toContainText('broken.hex, line 1: it says 17 bytes')
    await take('other.hex', hexOf('ABCDEF'))
    await expect(dialog).toContainText(`was made of ABCDEF; the design is ${fingerprint} now`)
    await take('program.hex', hexOf(fingerprint))
    await expect(dialog).toContainText(`2,000 bytes, of ${fingerprint}`)
    await dialog.getByRole('button', { name: 'Choose the port and write' }).click()
    await expect(dialog).toContainText(ends)
    await dialog.getByRole('button', { name: 'Close' }).click()
    await page.goto(`/d/${copy}/log`)
    await page.getByText('Boards', { exact: true }).click()
    if (spoils === null) await expect(page.locator('.view')).toContainText('as the design is now')
    else await expect(page.locator('.view')).toContainText('0 entries')
  })

test('the ready-made program goes onto the board without a compiler', async ({
  page,
  copy,
  request,
}) => {
  await page.addInitScript(loader, { spoils: null })
  const { fingerprint } = (await (await request.get(`/api/designs/${copy}/build`)).json()) as {
    fingerprint: string
  }
  await page.goto(`/d/${copy}/build`)
  await page.getByRole('button', { name: 'Write onto the board' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(`${copy}.hex`)
  await expect(dialog).toContainText(`bytes, of ${fingerprint}`)
  const steps = dialog.getByRole('checkbox')
  await expect(dialog).toContainText(`${await steps.count()} of ${await steps.count()} steps`)
  for (const step of await dialog.locator('.ticks .el-checkbox').all()) await step.click()
  await expect(dialog).not.toContainText('are not ticked')
  const place = page
    .getByRole('navigation', { name: 'Where the sides go' })
    .getByRole('button')
    .first()
  await expect(place).not.toContainText('as designed')
  await dialog.getByRole('button', { name: 'Choose the port and write' }).click()
  await expect(dialog).toContainText('are on the board, read back and equal. It is in the log.')
  await dialog.getByRole('button', { name: 'Close' }).click()
  await expect(place).toContainText('as designed')
})
