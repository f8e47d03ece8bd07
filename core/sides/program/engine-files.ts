/** The files of the engine that a program of each kind is made of. */
import type { Target } from '../../boards/classes'
import { ENGINE_TEXT } from './engine-text'

/** A file of a program, by its path within its folder. */
export interface ProgramFile {
  path: string
  text: string
}

/** Whoever builds a program is told. */
export const CAUTION =
  'Mains, heat and motors: wiring by a qualified person, to the local code, fused and enclosed.'

/** Those that are compiled. */
export type Compiled = Exclude<Target, 'router'>

const FOLDERS: Record<Compiled, readonly string[]> = {
  avr8: ['', 'boards/', 'boards/avr8/'],
  'wifi-small': ['', 'boards/', 'boards/web/', 'boards/wifi/', 'boards/wifi/small/'],
  'wifi-sockets': [
    '',
    'boards/',
    'boards/web/',
    'boards/sockets/',
    'boards/wifi/',
    'boards/wifi/dual/',
  ],
  linux: ['', 'boards/', 'boards/web/', 'boards/sockets/', 'boards/linux/'],
}

/** They lie side by side in `src`. */
export function engineFiles(target: Compiled): ProgramFile[] {
  return Object.entries(ENGINE_TEXT).flatMap(([path, text]) => {
    const name = path.slice(path.lastIndexOf('/') + 1)
    const folder = path.slice(0, path.length - name.length)
    return FOLDERS[target].includes(folder) ? [{ path: `src/${name}`, text }] : []
  })
}

/** One file of the engine by its path. */
export function engineFile(path: string): string {
  return ENGINE_TEXT[path] ?? ''
}
