/** The machine code of the ready-made program, tried against the design as a real board is. */
import { describe, expect, it } from 'vitest'
import { bytesText, textBytes } from '../../../../core/bytes/text'
import type { Design } from '../../../../core/design/schema'
import { AvrBoard, flashOf } from '../../../../core/emulated/board'
import { Against, trialsOf, type Deed, type Tried } from '../../../../core/live/against'
import { LiveLink } from '../../../../core/live/link'
import { programImage } from '../../../../core/sides/program/image'
import { DIALECTS, edited, fanDesign, speaking, tellingAll } from '../../../fixtures/designs'

const LOOK_MS = 5

/** `image`: of the design that the board runs. */
function tried(design: Design, on = design): Tried[] {
  const link = design.links[0]!
  const board = new AvrBoard(flashOf(programImage(on)!), 'baud' in link ? link.baud : 9600)
  const status = 'statusPin' in link ? link.statusPin : null
  if (status !== null) board.setPin(status, 1)
  board.boot(0)
  let now = 0
  const live = new LiveLink(design, link.id, text => {
    const bytes = textBytes(text)
    board.hear(bytes, now + 1 + board.lineMs(bytes.length))
  })
  const pass = () => {
    now += LOOK_MS
    board.runTo(now)
    const { sent } = board
    board.sent = []
    if (sent.length) live.heard(bytesText(Uint8Array.from(sent)), 'stream', -1, now)
    if (live.due !== null && live.due <= now) live.tick(now)
  }
  while (now < 400) pass()
  live.opened(now)
  while (now < 1500) pass()
  const does = (deed: Deed) => {
    if (deed.do === 'say') live.say(deed.text, now)
    if (deed.do === 'press') live.press(deed.loadId, deed.want, now)
  }
  // Letting a link go is not tried here: its module would be the test's own.
  const trials = trialsOf(design, [link.id]).filter(t => t.kind === 'message')
  const against = new Against(design, trials, { link: () => live, does }, {}, 0, now)
  live.tap = (text, at) => against.sent(link.id, text, at)
  for (let n = 0; !against.over && n < 40_000; n++) {
    against.look(now)
    pass()
  }
  expect(against.over).toBe(true)
  return against.results
}
const failed = (results: Tried[]) =>
  results.filter(r => !r.passed).map(r => `${r.words}: ${r.found}`)
const plain = fanDesign()
const lines = (): Design =>
  edited(
    tellingAll(speaking(fanDesign(), { ...DIALECTS.lines!, template: '{load} {value}' } as never)),
    {
      type: 'setLink',
      linkId: plain.links[0]!.id,
      patch: { helloCode: 'hello', errorText: 'what' },
    } as never,
  )

describe('the emulated board against the design', () => {
  it.each([
    ['codes', () => plain],
    ['lines, who is there, an answer to what is not understood', lines],
  ] as const)('%s: all as the design says', (_, made) => {
    const results = tried(made())
    expect(failed(results)).toEqual([])
    expect(results.length).toBeGreaterThan(6)
  })

  it('one of an older design is found out', () => {
    const old = edited(lines(), {
      type: 'renameCode',
      linkId: plain.links[0]!.id,
      loadId: plain.loads[0]!.id,
      which: 'on',
      code: 'fan go',
    })
    expect(failed(tried(lines(), old)).length).toBeGreaterThan(0)
  })
})
