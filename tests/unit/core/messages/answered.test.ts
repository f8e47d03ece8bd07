/** Commands that sign a number which the board hands out. */
import { createHmac } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import { FRESH } from '../../../../core/bytes/signing'
import { answeredAuth, authEdit } from '../../../../core/checks/auth-rules'
import { compileController } from '../../../../core/controller/program'
import { nextDue, startController, step } from '../../../../core/controller/step'
import type { Edit } from '../../../../core/design/edits/edits'
import { speaksRoutes, takesOnce } from '../../../../core/design/links/traits'
import type { Design } from '../../../../core/design/schema'
import { validateDesign } from '../../../../core/design/validate'
import { budgetOf } from '../../../../core/links/budget'
import {
  drawn,
  practiceSecret,
  sealedText,
  toldCounter,
  unsealed,
} from '../../../../core/messages/sealing'
import { replaySearch } from '../../../../core/proof/replay'
import { compileSurface, startSurface, surfaceStep } from '../../../../core/surfaces/surface'
import { openApi } from '../../../../core/sides/openapi'
import { edited, fanDesign, kilnCorridor, linkOn, twoPanelDesign } from '../../../fixtures/designs'

const proved = (start: Design, linkId: string, validS = 10): Design => {
  const link = start.links.find(l => l.id === linkId)
  if (!link) throw new Error('no such link')
  const plain = edited(start, authEdit(start, link, answeredAuth(validS)))
  const lines: Edit = {
    type: 'assignCodes',
    linkId,
    codes: { fan: { on: 'fan on', off: 'fan off', toggle: 'fan toggle' } },
  }
  return link.kind === 'http' ? plain : edited(plain, lines)
}
const serial = (validS = 10) => proved(fanDesign(), 'phone-link', validS)
const linkOf = (design: Design) => linkOn(design, 'bluetooth-serial')
const first = (design: Design, count = 1, starts = 1) =>
  drawn(practiceSecret(linkOf(design)), '', { starts, link: 0, drawn: count })
const sealed = (design: Design, counter: number, code = 'fan on') =>
  sealedText(linkOf(design), code, { secret: practiceSecret(linkOf(design)), counter })

/** A board that hears texts at given moments: what it says, and what the load is. */
function board(design: Design) {
  const program = compileController(design)
  let state = startController(program)
  const said: string[] = []
  const at = (now: number, event: Parameters<typeof step>[2]) => {
    const due = nextDue(state)
    if (due !== null && due <= now) state = step(program, state, { kind: 'tick', now: due }).state
    const stepped = step(program, state, event)
    ;({ state } = stepped)
    for (const e of stepped.effects) if (e.kind === 'send') said.push(e.text.trim())
  }
  at(0, { kind: 'boot', now: 0, levels: program.inputs.map(() => 1) })
  at(0, { kind: 'linkUp', now: 0, link: 0 })
  return {
    hears(now: number, text: string) {
      said.length = 0
      at(now, { kind: 'received', now, link: 0, text })
      return [...said]
    },
    cut(now: number) {
      at(now, { kind: 'powerOff', now })
      at(now, { kind: 'boot', now, levels: program.inputs.map(() => 1) })
      at(now, { kind: 'linkUp', now, link: 0 })
    },
    value: () => state.value[0],
  }
}

describe('a number that the board hands out', () => {
  it('is the first four bytes of HMAC-SHA-256 over starts, link and count', () => {
    const design = serial()
    const bytes = createHmac('sha256', practiceSecret(linkOf(design)))
      .update('7.0.3')
      .digest()
    expect(first(design, 3, 7)).toBe(bytes.readUInt32BE(0))
    expect(
      new Set(Array.from({ length: 2000 }, (_, i) => first(design, i, 1 + (i % 3)))).size,
    ).toBe(2000)
  })

  it('stands with its tag behind the command, and opens only while it is the one handed out', () => {
    const design = serial()
    const link = linkOf(design)
    const text = sealed(design, 4711).trim()
    const number = Buffer.from([0, 0, 0x12, 0x67])
    const tag = createHmac('sha256', practiceSecret(link)).update(number).update('fan on')
    expect(text).toBe(`fan on 4711.${tag.digest('hex').slice(0, 16).toUpperCase()}`)
    const opened = (handed: number | null, said = text) =>
      unsealed(link, practiceSecret(link), FRESH, said, 0, handed)
    expect(opened(4711)).toMatchObject({ ok: true, body: 'fan on' })
    for (const handed of [null, 4712, 1])
      expect(opened(handed)).toEqual({
        ok: false,
        why: 'it does not answer what the board asks now',
        asks: true,
      })
    expect(opened(4711, text.replace('on', 'off'))).toEqual({
      ok: false,
      why: 'the tag does not fit: another key, or changed on its way',
    })
    expect(opened(4711, 'fan on')).toEqual({ ok: false, why: 'it carries no number and tag' })
    expect(takesOnce(link.auth)).toBe(true)
  })

  it('is told with a refusal, the same until it is used or old, and then never again', () => {
    const design = serial()
    const link = linkOf(design)
    const b = board(design)
    const told = (n: number, starts = 1) => toldCounter(link, first(design, n, starts))
    // Given to whoever asks; a wrong tag does not use it up.
    expect(b.hears(100, sealed(design, 1))).toEqual([told(1)])
    expect(b.hears(200, sealed(design, 99))).toEqual([told(1)])
    expect(b.hears(300, sealed(design, first(design)).replace('on', 'off'))).toEqual([])
    expect(b.value()).toBe('off')
    expect(b.hears(400, sealed(design, first(design)))).toEqual(['+fan on'])
    expect(b.value()).toBe('on')
    // Used: neither the same again nor another command with it.
    expect(b.hears(500, sealed(design, first(design)))).toEqual([told(2)])
    expect(b.hears(600, sealed(design, first(design), 'fan off'))).toEqual([told(2)])
    // Good for ten seconds from when it was handed out, at 500 ms.
    expect(b.hears(10_499, sealed(design, first(design, 2), 'fan off'))).toEqual(['+fan off'])
    expect(b.hears(11_000, sealed(design, 1))).toEqual([told(3)])
    expect(b.hears(21_000, sealed(design, first(design, 3)))).toEqual([told(4)])
    expect(b.value()).toBe('off')
    // Over a power cut others are drawn.
    b.cut(22_000)
    expect(b.hears(22_100, sealed(design, first(design, 4)))).toEqual([told(1, 2)])
    expect(b.hears(22_200, sealed(design, first(design, 1, 2)))).toEqual(['+fan on'])
  })
})

describe('on the bench', () => {
  const pressed = (design: Design, wants: readonly string[], gapMs: number) => {
    const bench = new Bench(design, 1)
    bench.advance(1000)
    for (const want of wants) {
      bench.act({ do: 'key', surfaceId: 'phone', loadId: 'fan', want })
      bench.advance(bench.now + gapMs)
    }
    bench.advance(bench.now + 3000)
    return bench
  }

  it('each press acts once, one after another or all at once', () => {
    for (const gap of [0, 5, 40, 700]) {
      const bench = pressed(serial(), ['flip', 'flip', 'flip'], gap)
      const changes = bench.trace.truth.fan ?? []
      expect(changes.map(c => c.value)).toEqual(['off', 'on', 'off', 'on'])
      expect(bench.value('fan')).toBe('on')
      expect(bench.shown('phone', 'fan')).toBe('on')
    }
  })

  it('whatever the policy of the panel', () => {
    for (const policy of ['assume', 'confirm', 'report'] as const) {
      const design = edited(serial(), {
        type: 'setBelief',
        surfaceId: 'phone',
        patch: { policy },
      })
      expect(pressed(design, ['on'], 0).value('fan')).toBe('on')
      expect(pressed(design, ['on', 'off'], 50).value('fan')).toBe('off')
    }
  })

  it('a recorded command does nothing, and a lost one is said again', () => {
    const bench = pressed(serial(), ['on'], 0)
    bench.act({ do: 'press', controlId: 'fan-button' })
    bench.advance(bench.now + 1000)
    expect(bench.value('fan')).toBe('off')
    bench.act({ do: 'replay', linkId: 'phone-link' })
    bench.advance(bench.now + 1000)
    bench.act({ do: 'replay', linkId: 'phone-link', back: 1 })
    bench.advance(bench.now + 1000)
    expect(bench.value('fan')).toBe('off')
  })

  it('over HTTP too, and the panel is not told of the refusal that only asks', () => {
    const bench = new Bench(proved(twoPanelDesign(), 'browser-link'), 3)
    bench.advance(1000)
    for (const want of ['on', 'off', 'on']) {
      bench.act({ do: 'key', surfaceId: 'browser', loadId: 'fan', want })
      bench.advance(bench.now + 1500)
      expect(bench.value('fan')).toBe(want)
      expect(bench.shown('browser', 'fan')).toBe(want)
    }
  })
})

describe('what it keeps out (P8)', () => {
  it('who listens, and who jams where whoever pressed waits longer than a number is good', () => {
    const waits = (validS: number, retries = 2) =>
      edited(serial(validS), {
        type: 'setBelief',
        surfaceId: 'phone',
        patch: { policy: 'confirm', timeoutMs: 3000, retries },
      })
    const safe = replaySearch(waits(2), 'fan', 'phone')
    expect(safe.story).toBeNull()
    expect(safe.why).toContain('nothing can be kept back longer')
    // As long is not longer: the question for a number can be held up.
    for (const [validS, retries] of [
      [3, 0],
      [3, 2],
      [8, 0],
      [8, 1],
      [8, 2],
    ] as const) {
      const { story } = replaySearch(waits(validS, retries), 'fan', 'phone')
      expect(story?.what).toBe('kept back by a stranger')
      expect(story?.replayed).toBe(true)
    }
  })

  it('what is asked for too late is not signed, or it would be good beyond the wait', () => {
    const signedAt = (validS: number, heardMs: number, policy: 'confirm' | 'assume') => {
      const design = edited(serial(validS), {
        type: 'setBelief',
        surfaceId: 'phone',
        patch: { policy, timeoutMs: 3000 },
      })
      const panel = compileSurface(design, 'phone')
      const up = surfaceStep(panel, startSurface(panel), { kind: 'linkUp', now: 0 }).state
      const said = surfaceStep(panel, up, { kind: 'key', now: 0, load: 0, want: 'on' })
      const text = `${toldCounter(linkOf(design), 4711)}\n`
      const heard = { kind: 'received', now: heardMs, text, via: 'stream' } as const
      return surfaceStep(panel, said.state, heard).sends.length
    }
    // Good for 2 s of the 3 s of waiting: signed within the first second only.
    expect([999, 1000, 2999].map(ms => signedAt(2, ms, 'confirm'))).toEqual([1, 0, 0])
    // Where there is nothing to spare it is signed as long as somebody waits.
    expect([999, 1000, 2999, 3000].map(ms => signedAt(3, ms, 'confirm'))).toEqual([1, 1, 1, 0])
    expect([999, 2999].map(ms => signedAt(2, ms, 'assume'))).toEqual([1, 1])
  })

  it('nobody waits where the panel assumes', () => {
    const design = edited(serial(1), {
      type: 'setBelief',
      surfaceId: 'phone',
      patch: { policy: 'assume' },
    })
    const { story } = replaySearch(design, 'fan', 'phone')
    expect(story?.what).toBe('kept back by a stranger')
    expect(story?.replayed).toBe(true)
  })
})

describe('what it costs is told', () => {
  it('three ways to the board, a number on the wire', () => {
    const bare = fanDesign()
    const design = serial()
    const phone = (d: Design) => {
      const panel = d.surfaces.find(s => s.id === 'phone')
      if (panel?.kind !== 'panel') throw new Error('no panel')
      return budgetOf(d, panel, 'fan')
    }
    expect(phone(bare)?.parts).toHaveLength(4)
    expect(phone(design)?.parts.map(p => p.words)).toEqual([
      'command on the wire, to ask for a number',
      'to the board, for the number',
      'the number on the wire',
      'back with the number',
      'command on the wire',
      'to the board',
      'report on the wire',
      'back to the key',
    ])
  })

  it('structures have no words for it, which the document says', () => {
    const kiln = kilnCorridor()
    expect(validateDesign(proved(kiln, kiln.links[0]?.id ?? '')).ok).toBe(true)
    const web = proved(twoPanelDesign(), 'browser-link')
    expect(openApi(web, web.links.find(speaksRoutes)!)).toContain('handed out last')
  })
})
