import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { check } from '../../../../core/checks/check'
import { compileController } from '../../../../core/controller/program'
import { startController, step, type ControllerState } from '../../../../core/controller/step'
import type { Auth, Design, Link } from '../../../../core/design/schema'
import { bodyOf } from '../../../../core/design/wire'
import { meansOf } from '../../../../core/messages/explain'
import {
  firstCounter,
  FRESH,
  practiceSecret,
  sealedBody,
  sealedText,
  unsealed,
} from '../../../../core/messages/sealing'
import { fittingSecrets, freshSecret, secretTrouble } from '../../../../core/messages/secrets'
import {
  DIALECTS,
  edited,
  fanDesign,
  linkOn,
  speaking,
  twoPanelDesign,
} from '../../../fixtures/designs'

const COUNTER: Auth = { kind: 'counter', tagBytes: 8, window: 4 }
const AUTHS: [string, Auth][] = [
  ['a word', { kind: 'word' }],
  ['a PIN', { kind: 'pin', digits: 6 }],
  ['a counter', COUNTER],
]
const signed = (design: Design, linkId: string, auth: Auth) =>
  edited(design, { type: 'setLink', linkId, patch: { auth } })
const LINKS: [string, (auth: Auth) => Link][] = [
  ...(['lines', 'crlf', 'pairs', 'json'] as const).map((name): [string, (auth: Auth) => Link] => [
    name,
    auth => signed(speaking(fanDesign(), DIALECTS[name]!), 'phone-link', auth).links[0]!,
  ]),
  ['HTTP', auth => linkOn(signed(twoPanelDesign(), 'browser-link', auth), 'http')],
]

describe.each(LINKS)('a command with its proof in %s', (_, make) => {
  it.each(AUTHS)(
    'of %s: opens to what it was, and to nothing with another secret or a changed byte',
    (_, auth) => {
      const link = make(auth)
      const codes = link.messages.flatMap(m => Object.values(m.codes))
      fc.assert(
        fc.property(
          fc.constantFrom(...codes),
          fc
            .tuple(fc.nat({ max: 3 }), fc.integer({ min: 1, max: 4096 }))
            .map(([device, count]) => firstCounter(device) + count),
          fc.nat(),
          fc.integer({ min: 1, max: 255 }),
          (code, counter, at, by) => {
            const secret = practiceSecret(link)
            const sealed = sealedBody(link, code, { secret, counter })
            expect(unsealed(link, secret, FRESH, sealed)).toMatchObject({
              ok: true,
              body: bodyOf(link, code, 'command'),
            })
            expect(unsealed(link, `${secret}x`, FRESH, sealed).ok).toBe(false)
            const place = at % sealed.length
            const spoilt =
              sealed.slice(0, place)
              + String.fromCharCode(sealed.charCodeAt(place) ^ by)
              + sealed.slice(place + 1)
            const opened = unsealed(link, secret, FRESH, spoilt)
            // A fixed word says nothing about the command beside it; a keyed hash does.
            if (auth.kind === 'counter') expect(opened.ok).toBe(false)
            else if (opened.ok) expect(spoilt.endsWith(sealed.slice(-secret.length))).toBe(true)
          },
        ),
      )
    },
  )
})

describe.each(['slip', 'cobs'] as const)('a structure with its proof in %s', name => {
  it('opens to what it was, and is never taken twice', () => {
    const link = signed(speaking(fanDesign(), DIALECTS[name]!), 'phone-link', COUNTER).links[0]!
    for (const code of Object.values(link.messages[0]!.codes)) {
      const sealed = sealedBody(link, code, { secret: 'key', counter: 0xc0000dc0 })
      const opened = unsealed(link, 'key', FRESH, sealed)
      expect(opened).toMatchObject({ ok: true, body: bodyOf(link, code, 'command') })
      expect(opened.ok && unsealed(link, 'key', opened.window, sealed)).toMatchObject({
        ok: false,
        why: 'its counter was taken before: played again',
      })
    }
  })
})

describe('a controller that asks for a proof', () => {
  const design = signed(speaking(fanDesign(), DIALECTS.lines!), 'phone-link', COUNTER)
  const link = design.links[0]!
  const { on, off } = link.messages[0]!.codes as { on: string; off: string }
  const program = compileController(design)
  const heard = (state: ControllerState, text: string) =>
    step(program, state, { kind: 'received', now: 10, link: 0, text })
  const started = step(
    program,
    step(program, startController(program), { kind: 'boot', now: 0, levels: [1] }).state,
    { kind: 'linkUp', now: 1, link: 0 },
  ).state
  const say = (code: string, counter: number) =>
    sealedText(link, code, { secret: practiceSecret(link), counter })

  it('takes each counter once, late ones within the window, and none without', () => {
    let state = started
    const values: string[] = []
    for (const text of [
      say(on, 1),
      say(off, 3),
      say(on, 2),
      say(off, 2),
      say(on, 3),
      bodyOf(link, on, 'command') + '\n',
      say(on, 9),
      say(off, 4),
      say(off, 10),
    ]) {
      state = heard(state, text).state
      values.push(state.value[0]!)
    }
    // 4 lies behind 9 by more than the window of four.
    expect(values).toEqual(['on', 'off', 'on', 'on', 'on', 'on', 'on', 'on', 'off'])
  })
  it('still answers who asks for the state', () => {
    const { effects } = heard(
      started,
      `${bodyOf(link, link.kind === 'http' ? '' : link.askCode, 'command')}\n`,
    )
    expect(effects.filter(e => e.kind === 'send')).toHaveLength(1)
  })
  it('tells the counter to who proves itself but counts wrongly, and to nobody else', () => {
    const { state } = heard(started, say(on, 7))
    const answers = (text: string) =>
      heard(state, text).effects.flatMap(e => (e.kind === 'send' ? [e.text] : []))
    expect(answers(say(off, 1))).toEqual(['+#7\n'])
    expect(answers(say(off, firstCounter(2) + 5000))).toEqual([`+#${firstCounter(2)}\n`])
    expect(answers(sealedText(link, off, { secret: 'another', counter: 1 }))).toEqual([])
    // What was refused kept nothing.
    expect(heard(state, say(off, 1)).state).toEqual({ ...state, now: 10 })
  })
  it('two devices count apart, and neither locks the other out', () => {
    let state = started
    const values = ['on', 'off', 'on', 'off', 'on'].map((value, i) => {
      state = heard(
        state,
        say(value === 'on' ? on : off, firstCounter(i % 2 ? 3 : 0) + i + 1),
      ).state
      return state.value[0]
    })
    expect(values).toEqual(['on', 'off', 'on', 'off', 'on'])
  })
  it('remembers over a power cut which counters were taken', () => {
    const after = step(
      program,
      step(program, heard(started, say(on, 5)).state, { kind: 'powerOff', now: 20 }).state,
      { kind: 'boot', now: 30, levels: [1] },
    ).state
    expect(heard(after, say(on, 5)).state.value[0]).toBe('off')
    expect(heard(after, say(on, 6)).state.value[0]).toBe('on')
  })
  it('refuses over HTTP with 403, and says so', () => {
    const browser = compileController(signed(twoPanelDesign(), 'browser-link', COUNTER))
    const index = browser.links.findIndex(l => l.link.kind === 'http')
    const booted = step(browser, startController(browser), {
      kind: 'boot',
      now: 0,
      levels: [1],
    }).state
    const { effects } = step(browser, booted, {
      kind: 'received',
      now: 5,
      link: index,
      text: '/fan/on',
    })
    expect(effects).toEqual([
      {
        kind: 'reply',
        link: index,
        text: 'it carries no counter and tag',
        status: 403,
        to: 'refused',
        request: undefined,
      },
    ])
  })
})

describe('a stranger who plays a command again on the bench', () => {
  const strange = (design: Design) => {
    const bench = runScript(design, {
      seed: 1,
      steps: [
        { atMs: 500, action: { do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'on' } },
        { atMs: 2000, action: { do: 'press', controlId: 'fan-button' } },
        { atMs: 4000, action: { do: 'replay', linkId: 'phone-link' } },
      ],
    })
    return [bench.value('fan'), bench.shown('phone', 'fan')]
  }
  it('switches it, where the word is fixed; not where it is signed with a counter', () => {
    expect(strange(fanDesign())).toEqual(['on', 'on'])
    expect(
      strange(signed(speaking(fanDesign(), DIALECTS.lines!), 'phone-link', { kind: 'word' })),
    ).toEqual(['on', 'on'])
    expect(strange(signed(speaking(fanDesign(), DIALECTS.lines!), 'phone-link', COUNTER))).toEqual([
      'off',
      'off',
    ])
  })
  it('the fix of the finding does that for a lock', () => {
    const lock = edited(fanDesign(), {
      type: 'setWiring',
      loadId: 'fan',
      patch: { dangers: ['lock'] },
    })
    const found = check(lock).findings.find(f => f.code === 'lock-replay')!
    expect(strange(lock)[0]).toBe('on')
    const mended = edited(lock, found.fixes[0]!.edit)
    expect(strange(mended)[0]).toBe('off')
    expect(check(mended).findings.map(f => f.code)).not.toContain('lock-replay')
  })
})

describe('what crossed, shown without looking at proofs', () => {
  it('a signed command says what it commands, whatever the secret', () => {
    for (const [, auth] of AUTHS)
      for (const [, make] of LINKS) {
        const link = make(auth)
        const design = { ...fanDesign(), links: [link] }
        const on = link.messages[0]!.codes.on!
        expect(
          meansOf(design, link, sealedText(link, on, { secret: 'of-somebody-else', counter: 77 })),
        ).toBe('Fan on')
        expect(meansOf(design, link, 'no such thing')).toBe('')
      }
  })
  it('secrets that do not fit their link any more are left out', () => {
    const link = LINKS[0]![1]({ kind: 'pin', digits: 6 })
    expect(fittingSecrets([link], { [link.id]: '123456', gone: '123456' })).toEqual({
      [link.id]: '123456',
    })
    expect(fittingSecrets([link], { [link.id]: 'sixteen-letters-or-more' })).toEqual({})
    for (const auth of [{ kind: 'word' as const }, { kind: 'pin' as const, digits: 8 }, COUNTER]) {
      const asked = LINKS[0]![1](auth)
      expect(
        secretTrouble(
          asked,
          freshSecret(
            asked,
            Uint8Array.from({ length: 32 }, (_, i) => 7 * i),
          ),
        ),
      ).toBe('')
    }
  })
})
