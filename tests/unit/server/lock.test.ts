import { spawn } from 'node:child_process'
import {
  chownSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { StoreTrouble } from '../../../server/db/folder'
import { FolderInUse, lockFolder } from '../../../server/db/lock'

describe('one server per data folder', () => {
  let folder = ''
  const file = () => join(folder, 'in-use.json')
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'nolvi-lock-'))
  })
  afterEach(() => rmSync(folder, { recursive: true, force: true }))

  it('the second is refused with the process of the first and the way out', async () => {
    const release = await lockFolder(folder)
    await expect(lockFolder(folder)).rejects.toThrow(FolderInUse)
    await expect(lockFolder(folder)).rejects.toThrow(
      new RegExp(`in use by another Nolvi server \\(process ${process.pid}\\).*NOLVI_DATA=`),
    )
    await release()
    expect(existsSync(file())).toBe(false)
    await (
      await lockFolder(folder)
    )()
  })
  it('where the folder cannot be used that is said, and nothing is laid into it', async () => {
    writeFileSync(join(folder, 'file'), '')
    await expect(lockFolder(join(folder, 'file'))).rejects.toThrow(StoreTrouble)
    await expect(lockFolder(join(folder, 'file', 'deeper'))).rejects.toThrow(/NOLVI_DATA=/)
  })
  it.runIf(process.getuid?.() === 0)('one of another user is not touched', async () => {
    chownSync(folder, 12_345, 12_345)
    await expect(lockFolder(folder)).rejects.toThrow(/belongs to another user/)
    expect(readdirSync(folder)).toEqual([])
  })
  it('by another path it is the same folder', async () => {
    const release = await lockFolder(folder)
    symlinkSync(folder, `${folder}-link`)
    await expect(lockFolder(`${folder}-link`)).rejects.toThrow(FolderInUse)
    await release()
    rmSync(`${folder}-link`)
  })
  it.each([
    ['of a killed process', '{"pid":1}'],
    ['that is half written', 'half a li'],
    ['of something else', '[[null]]'],
    ['with the number of a process that lives', JSON.stringify({ pid: process.pid, started: '1' })],
  ])('a file %s holds nobody up', async (_, text) => {
    writeFileSync(file(), text)
    await (
      await lockFolder(folder)
    )()
  })
  it('what the file says is not needed to refuse', async () => {
    const release = await lockFolder(folder)
    for (const text of ['', '{"pid":"<b>"}', '\0\0']) {
      writeFileSync(file(), text)
      await expect(lockFolder(folder)).rejects.toThrow(
        /in use by another Nolvi server\. Stop that one/,
      )
    }
    rmSync(file())
    await expect(lockFolder(folder)).rejects.toThrow(FolderInUse)
    await release()
  })
  it('of many that ask at once one gets it', async () => {
    const asked = await Promise.allSettled(Array.from({ length: 20 }, () => lockFolder(folder)))
    const got = asked.filter(a => a.status === 'fulfilled')
    expect(got).toHaveLength(1)
    await got[0]!.value()
  })
  it('it ends with the process, even one that is killed', async () => {
    const child = spawn(process.execPath, [
      '--import',
      'data:text/javascript,',
      '-e',
      `
      const { createHash } = require('node:crypto'), { statSync } = require('node:fs'), { dev, ino } = statSync(process.argv[1], { bigint: true })
      require('node:net').createServer().listen('\\0nolvi-' + createHash('sha256').update(dev + ' ' + ino).digest('hex').slice(0, 32), () => console.log('held'))`,
      folder,
    ])
    await new Promise(said => child.stdout.once('data', said))
    await expect(lockFolder(folder)).rejects.toThrow(FolderInUse)
    child.kill('SIGKILL')
    await new Promise(ended => child.once('exit', ended))
    await (
      await lockFolder(folder)
    )()
  })
})
