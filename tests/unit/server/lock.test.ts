import { spawn } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { FolderInUse, lockFolder } from '../../../server/db/lock'

describe('one server per data folder', () => {
  let folder = ''
  const file = () => join(folder, 'in-use.json')
  beforeEach(() => { folder = mkdtempSync(join(tmpdir(), 'nolvi-lock-')) })
  afterEach(() => rmSync(folder, { recursive: true, force: true }))

  it('the second is refused with the process of the first and the way out', () => {
    const release = lockFolder(folder)
    expect(() => lockFolder(folder)).toThrow(FolderInUse)
    expect(() => lockFolder(folder)).toThrow(new RegExp(`in use by another Nolvi server \\(process ${process.pid}\\).*NOLVI_DATA=`))
    release()
    expect(existsSync(file())).toBe(false)
    lockFolder(folder)()
  })
  it('a lock left by a killed process is seen through', async () => {
    const child = spawn(process.execPath, ['-e', ''])
    await new Promise(resolve => child.once('exit', resolve))
    writeFileSync(file(), JSON.stringify({ pid: child.pid, started: '1' }))
    lockFolder(folder)()
  })
  it('so is one whose process number was given to another, and one that is not readable', () => {
    writeFileSync(file(), JSON.stringify({ pid: process.pid, started: 'another time' }))
    lockFolder(folder)()
    writeFileSync(file(), 'half a li')
    lockFolder(folder)()
  })
  it('releasing does not take away the lock of a later holder', () => {
    const release = lockFolder(folder)
    const other = JSON.stringify({ pid: 1, started: 'x' })
    writeFileSync(file(), other)
    release()
    expect(existsSync(file())).toBe(true)
  })
})
