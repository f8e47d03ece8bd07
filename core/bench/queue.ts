/**
 * Priority queue of timed events: a binary heap ordered by (time, rank, sequence), so that equal
 * times have their stated order.
 */
export interface Timed {
  t: number
  rank: number
  seq: number
}

export class EventQueue<T extends Timed> {
  private readonly heap: T[] = []
  get size(): number {
    return this.heap.length
  }
  peek(): T | undefined {
    return this.heap[0]
  }

  push(item: T): void {
    const { heap } = this
    let i = heap.push(item) - 1
    while (i > 0) {
      const up = (i - 1) >> 1
      const parent = heap[up] as T
      if (before(parent, item)) break
      heap[i] = parent
      i = up
    }
    heap[i] = item
  }

  pop(): T | undefined {
    const { heap } = this
    const top = heap[0]
    const last = heap.pop()
    if (last === undefined || heap.length === 0) return top
    let i = 0
    for (;;) {
      let down = 2 * i + 1
      if (down >= heap.length) break
      if (down + 1 < heap.length && before(heap[down + 1] as T, heap[down] as T)) down++
      const child = heap[down] as T
      if (before(last, child)) break
      heap[i] = child
      i = down
    }
    heap[i] = last
    return top
  }
}

/** Whether one thing happens before another: by time, then by rank, then as they were planned. */
export function before(a: Timed, b: Timed): boolean {
  return a.t < b.t || (a.t === b.t && (a.rank < b.rank || (a.rank === b.rank && a.seq < b.seq)))
}
