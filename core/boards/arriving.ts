/** Bytes that come at a serial port, for who waits for some of them. */
export class Arriving {
  private came: number[] = []
  private open = true
  private wake: () => void = () => undefined

  /** `after`: calls back after some ms, and returns what undoes that. */
  constructor(private readonly after: (ms: number, then: () => void) => () => void) {}

  push(bytes: Iterable<number>): void {
    this.came.push(...bytes)
    this.wake()
  }

  /** Nothing more comes: nobody has to wait for it. */
  close(): void {
    this.open = false
    this.wake()
  }

  /** What came so far is of no matter. */
  clear(): void {
    this.came = []
  }

  /** As many bytes as are asked for; what has come by then where the time is over. */
  async read(count: number, ms: number): Promise<Uint8Array> {
    let over = false
    const undo = this.after(ms, () => {
      over = true
      this.wake()
    })
    while (this.came.length < count && this.open && !over)
      await new Promise<void>(done => {
        this.wake = done
      })
    undo()
    return Uint8Array.from(this.came.splice(0, count))
  }
}
