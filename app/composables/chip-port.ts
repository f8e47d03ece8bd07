/**
 * The emulated board in the place of a port: its ready-made program runs in a worker of this page,
 * as fast as a clock on the wall, and its bytes go where those of a real board would.
 */
import { proxy } from 'comlink'
import { compileController } from '../../core/controller/program'
import { restingRaw } from '../../core/controller/readings'
import type { Design } from '../../core/design/schema'
import type { Happens } from '../../core/emulated/happens'
import { carriedLinks } from '../../core/sides/program/carried'
import { isSmall } from '../../core/sides/program/can-program'
import type { Transport, Wire } from '../panel-page/transports'
import type { BoardNews, BoardWorker } from '../workers/board.worker'
import { workerPort } from './worker-port'

/** What it said is told so often, and it is driven on so often, ms. */
const NEWS_MS = 10
/** Its pins are driven, its port listens, and somebody is connected by then, ms. */
const READY_MS = 400

/** Links that the program carries; where commands are proved its keys are not in this page. */
export function onChip(part: Design, linkId: string): boolean {
  return (
    isSmall(part)
    && carriedLinks(part).some(c => c.link.id === linkId && c.link.auth.kind === 'none')
  )
}

export function openChip(part: Design, linkId: string, wire: Wire): Transport {
  let thread: Worker | null = null
  const worker = workerPort<BoardWorker>(
    () =>
      (thread = new Worker(new URL('../workers/board.worker.ts', import.meta.url), {
        type: 'module',
        name: 'board in the place of a port',
      })),
  )
  const began = performance.now()
  const now = () => Math.round(performance.now() - began)
  let closed = false
  /** How much of each text was passed on. */
  const passed: number[] = []

  function take({ texts, textsBefore }: BoardNews): void {
    texts.forEach((said, i) => {
      const n = textsBefore + i
      const fresh = said.text.slice(passed[n] ?? 0)
      passed[n] = said.text.length
      if (fresh && said.linkId === linkId) wire.heard(fresh, 'stream')
    })
  }
  const feed = (...happens: Happens[]) => void worker.feed(happens, [], now()).catch(fell)
  function fell(error: unknown): void {
    if (closed) return
    // Nothing drives it on, or another would be begun that knows of no program.
    closed = true
    wire.why((error as Error).message)
  }

  async function begin(): Promise<void> {
    const made = await worker.start(structuredClone(toRaw(part)), proxy(take), NEWS_MS)
    if (closed) return
    if (!made.ok) return wire.why('this design does not fit the ready-made program')
    const t = now()
    feed({ t, kind: 'boot', levels: compileController(part).inputs.map(() => 1 as const) })
    part.sensors.forEach((s, sensor) =>
      feed({ t: t + 1, kind: 'sample', sensor, raw: restingRaw(s) }),
    )
    const drive = () => {
      if (closed) return
      feed()
      setTimeout(drive, NEWS_MS)
    }
    drive()
    setTimeout(() => {
      if (closed) return
      feed({ t: now(), kind: 'link', linkId, up: true })
      wire.up()
    }, READY_MS)
  }
  begin().catch(fell)
  return {
    send: text => feed({ t: now(), kind: 'received', linkId, text }),
    close() {
      closed = true
      thread?.terminate()
    },
  }
}
