/** Calls into a worker that always come to an end: with an answer, or with what went wrong. */
import { proxy, proxyMarker, wrap, type Remote } from 'comlink'

/** The calls of a worker, as whoever makes them sees them. */
export type Calls<Api> = {
  [Name in keyof Api]: Api[Name] extends (...args: infer Given) => infer Answer
    ? (...args: Given) => Promise<Awaited<Answer>>
    : never
}

/** A worker whose file does not arrive, as while a server starts anew, is begun once more. */
const TRIES = 2
/** Said where a worker could not be begun. */
export const NOT_LOADED =
  'A part of Nolvi did not load. Look whether it still runs where you opened it, then try again. '
  + 'Nothing is lost.'

class NotLoaded extends Error {}

/**
 * A function among what is given hears news until the call is answered, and nothing after: what it
 * hears comes on a port of its own, and may be overtaken by the answer. One that `proxy` was put
 * around hears on.
 */
export function workerPort<Api extends object>(begin: () => Worker): Calls<Api> {
  interface Running {
    api: Remote<Api>
    failed: Promise<never>
  }
  let running: Running | null = null

  function open(): Running {
    const worker = begin()
    const failed = new Promise<never>((_, reject) => {
      worker.addEventListener('error', event => {
        if (running === mine) running = null
        worker.terminate()
        // A file that did not arrive gives no reason; what falls over in the midst of work does.
        reject(event.message ? new Error(event.message) : new NotLoaded(NOT_LOADED))
      })
    })
    // Heard by whoever waits for an answer then; there may be nobody.
    failed.catch(() => undefined)
    const mine: Running = { api: wrap<Api>(worker), failed }
    return mine
  }

  async function called(name: string | symbol, given: readonly unknown[]): Promise<unknown> {
    let answered = false
    const heard = given.map(one =>
      typeof one !== 'function' || proxyMarker in one
        ? one
        : proxy((...news: unknown[]) => {
            if (!answered) one(...news)
          }),
    )
    running ??= open()
    const { api, failed } = running
    try {
      const call = api[name as keyof typeof api] as (...args: unknown[]) => Promise<unknown>
      return await Promise.race([call(...heard), failed])
    } finally {
      answered = true
    }
  }

  async function tried(name: string | symbol, given: readonly unknown[]): Promise<unknown> {
    for (let left = TRIES; ; left--) {
      try {
        return await called(name, given)
      } catch (error) {
        if (!(error instanceof NotLoaded) || left === 1) throw error
      }
    }
  }

  return new Proxy({} as Calls<Api>, {
    get:
      (_, name) =>
      (...given: unknown[]) =>
        tried(name, given),
  })
}
