/**
 * The embedded PostgreSQL, watched: where it ends by itself (a flush that fails is a panic, for
 * what was promised cannot be kept) everything that waits for it is told at once. What ships waits
 * for ever.
 */
import { PGlite, type PGliteOptions } from '@electric-sql/pglite'

/** What of the machine is called for a query. */
interface Module {
  _PostgresMainLoopOnce: unknown
  _PostgresMainLongJmp: unknown
  stackRestore: unknown
  _PostgresSendReadyForQueryIfNecessary: unknown
  _pgl_pq_flush: unknown
}

/** How a query that fails leaves the machine: PGlite's POSTGRES_MAIN_LONGJMP. */
const QUERY_FAILED = 100

/** The database has ended and has to be opened anew. */
export class DatabaseEnded extends Error {}

export class WatchedClient extends PGlite {
  /** Why it has ended; null while it runs. */
  ended: DatabaseEnded | null = null
  private lastWords = ''
  /** Whoever waits for an answer. No promise that lasts: a race with one keeps every answer. */
  private readonly waiting = new Set<(why: DatabaseEnded) => void>()

  static of(options: PGliteOptions = {}): WatchedClient {
    const client: WatchedClient = new WatchedClient({
      ...options,
      // Why it ended is told there alone; by then nothing can be answered any more.
      onStderr: text => {
        if (/\b(?:PANIC|FATAL):/.test(text)) client.lastWords = text
        return true
      },
    })
    return client
  }

  override query: PGlite['query'] = (...of) => this.watched(() => super.query(...of))
  override exec: PGlite['exec'] = (...of) => this.watched(() => super.exec(...of))
  override transaction: PGlite['transaction'] = work => this.watched(() => super.transaction(work))

  /**
   * Where PostgreSQL aborts, what ships calls it again and again, and it never returns. From then
   * on every call is refused; that what is called between two of them refuses too is what ends the
   * loop.
   */
  arm(): void {
    const { mod } = this as unknown as { mod: Module }
    let aborted: unknown = null
    const guarded = <T extends unknown[]>(name: keyof Module, whenAborted: () => void) => {
      const real = mod[name] as (...of: T) => unknown
      Object.assign(mod, {
        [name]: (...of: T) => {
          if (aborted) return whenAborted()
          try {
            return real(...of)
          } catch (error) {
            if (isEnd(error)) aborted = error
            throw error
          }
        },
      })
    }
    const refuse = () => {
      throw aborted
    }
    guarded('_PostgresMainLoopOnce', refuse)
    guarded('stackRestore', refuse)
    guarded('_PostgresMainLongJmp', refuse)
    guarded('_PostgresSendReadyForQueryIfNecessary', () => undefined)
    guarded('_pgl_pq_flush', () => undefined)
  }

  override async close(): Promise<void> {
    // One that has ended would never answer.
    if (!this.ended) await super.close()
  }

  private async watched<T>(work: () => Promise<T>): Promise<T> {
    if (this.ended) throw this.ended
    try {
      return await new Promise<T>((answered, failed) => {
        this.waiting.add(failed)
        work()
          .then(answered, failed)
          .finally(() => this.waiting.delete(failed))
      })
    } catch (error) {
      if (isEnd(error)) {
        this.ended ??= new DatabaseEnded(this.lastWords || (error as Error).message, {
          cause: error,
        })
        for (const tell of this.waiting) tell(this.ended)
        throw this.ended
      }
      throw error
    }
  }
}

function isEnd(error: unknown): boolean {
  const severity = (error as { severity?: unknown })?.severity
  // An error of a query leaves the machine as an end with this status, and it goes on.
  const ends =
    (error as Error)?.name === 'ExitStatus'
    && (error as { status?: number }).status !== QUERY_FAILED
  return (
    ends
    || severity === 'PANIC'
    || severity === 'FATAL'
    || error instanceof WebAssembly.RuntimeError
  )
}
