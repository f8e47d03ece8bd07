import { expose, proxy } from 'comlink'
import { describe, expect, it } from 'vitest'
import { NOT_LOADED, workerPort } from '../../../app/composables/worker-port'

type News = (n: number) => void
const api = {
  twice: (n: number) => 2 * n,
  fails: () => {
    throw new Error('the bench is on fire')
  },
  never: () => new Promise<number>(() => undefined),
  kept: [] as News[],
  three: async (onNews: News) => {
    for (const n of [1, 2, 3]) await onNews(n)
    return 'three'
  },
  /** Answers, and keeps what it was given for news. */
  begin(onNews: News): string {
    api.kept.push(onNews)
    return 'begun'
  },
  tell: async (n: number) => {
    await Promise.all(api.kept.map(hear => hear(n)))
  },
}

/** Ports in the place of a worker; `broken`: so many of them whose file does not arrive. */
function place({ broken = 0 } = {}) {
  const begun: MessagePort[] = []
  const ended: MessagePort[] = []
  const begin = () => {
    const { port1, port2 } = new MessageChannel()
    const arrives = begun.push(port1) > broken
    if (arrives) expose(api, port2)
    else setTimeout(() => port1.dispatchEvent(new Event('error')))
    const worker = Object.assign(port1, {
      terminate: () => {
        ended.push(port1)
        port1.close()
        port2.close()
      },
    })
    port1.start()
    return worker as unknown as Worker
  }
  const falls = (message: string) =>
    begun.at(-1)?.dispatchEvent(Object.assign(new Event('error'), { message }))
  const end = () => begun.forEach(port => port.close())
  return { port: workerPort<Omit<typeof api, 'kept'>>(begin), begun, ended, falls, end }
}

describe('calls into a worker', () => {
  it('are answered by one worker, begun with the first', async () => {
    const { port, begun, end } = place()
    expect(begun).toHaveLength(0)
    expect(await Promise.all([port.twice(3), port.twice(4)])).toEqual([6, 8])
    await expect(port.fails()).rejects.toThrow('the bench is on fire')
    expect(await port.twice(5)).toBe(10)
    expect(begun).toHaveLength(1)
    end()
  })

  it('hear news until they are answered, and none after', async () => {
    const { port, end } = place()
    api.kept.length = 0
    const heard: number[] = []
    expect(await port.three(n => heard.push(n))).toBe('three')
    expect(heard.splice(0)).toEqual([1, 2, 3])
    await port.begin(n => heard.push(n))
    await port.tell(1)
    expect(heard).toEqual([])
    // With `proxy` around it, it hears on.
    await port.begin(proxy((n: number) => void heard.push(n)))
    await port.tell(2)
    expect(heard).toEqual([2])
    end()
  })

  it('are made once more where the file of the worker did not arrive', async () => {
    const { port, begun, ended, end } = place({ broken: 1 })
    expect(await port.twice(21)).toBe(42)
    expect(begun).toHaveLength(2)
    expect(ended).toEqual([begun[0]])
    end()
  })

  it('say that it did not load, and begin anew with the next', async () => {
    const { port, begun, end } = place({ broken: 2 })
    await expect(port.twice(1)).rejects.toThrow(NOT_LOADED)
    expect(begun).toHaveLength(2)
    expect(await port.twice(1)).toBe(2)
    end()
  })

  it('say what a worker that fell over in the midst of them said, and begin anew after', async () => {
    const { port, begun, falls, end } = place()
    const waiting = [port.never(), port.never()]
    falls('out of memory')
    for (const call of waiting) await expect(call).rejects.toThrow('out of memory')
    expect(await port.twice(2)).toBe(4)
    expect(begun).toHaveLength(2)
    end()
  })
})
