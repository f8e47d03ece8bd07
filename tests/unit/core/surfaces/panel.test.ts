import { describe, expect, it } from 'vitest'
import type { Edit } from '../../../../core/design/edits'
import type { Design } from '../../../../core/design/schema'
import { compilePanel, panelDue, panelStep, shown, startPanel, type PanelEvent, type PanelProgram, type PanelState, type Shown } from '../../../../core/surfaces/panel'
import { edited, fanDesign, glazeRoom, twoPanelDesign } from '../../../fixtures/designs'

class Phone {
  readonly program: PanelProgram
  state: PanelState
  readonly sent: string[] = []
  constructor(design: Design, surfaceId = 'phone') {
    this.program = compilePanel(design, surfaceId)
    this.state = startPanel(this.program)
  }

  do(event: PanelEvent): this {
    const { state, sends } = panelStep(this.program, this.state, event)
    this.state = state
    this.sent.push(...sends)
    return this
  }

  up(now = 0): this { return this.do({ kind: 'linkUp', now }) }
  down(now = 0): this { return this.do({ kind: 'linkDown', now }) }
  key(want: 'on' | 'off' | 'flip' = 'flip', now = 0): this { return this.do({ kind: 'key', now, load: 0, want }) }
  hear(text: string, via: 'stream' | 'command' | 'ask' = 'stream'): this { return this.do({ kind: 'received', now: 0, text, via }) }
  tick(now: number): this { return this.do({ kind: 'tick', now }) }
  get shows(): Shown { return shown(this.state.beliefs[0]!) }
}
const belief = (patch: Extract<Edit, { type: 'setBelief' }>['patch']): Design => edited(fanDesign(), { type: 'setBelief', surfaceId: 'phone', patch })

describe('policies', () => {
  it('assume shows at once what was asked, whatever becomes of it', () => {
    const phone = new Phone(belief({ policy: 'assume' })).up().key('on')
    expect(phone.shows).toBe('on')
    expect(phone.sent).toEqual(['F'])
    expect(panelDue(phone.state)).toBeNull()
  })
  it('confirm waits, repeats, then is unsure', () => {
    const phone = new Phone(belief({ policy: 'confirm', timeoutMs: 1000, retries: 1 })).up().key('on', 100)
    expect(phone.shows).toBe('waiting')
    expect(panelDue(phone.state)).toBe(1100)
    expect(phone.tick(1099).sent).toEqual(['F'])
    expect(phone.tick(1100).sent).toEqual(['F', 'F'])
    expect(phone.shows).toBe('waiting')
    expect(phone.tick(2100).shows).toBe('unknown')
    expect(phone.sent).toEqual(['F', 'F'])
  })
  it('confirm is satisfied by a matching report only', () => {
    const phone = new Phone(belief({ policy: 'confirm' })).up().key('on').hear('+f')
    expect(phone.shows).toBe('waiting')
    expect(phone.hear('+F').shows).toBe('on')
  })
  it('report only shows what it hears', () => {
    const phone = new Phone(belief({ policy: 'report' })).up().key('on')
    expect(phone.shows).toBe('unknown')
    expect(phone.hear('+F').shows).toBe('on')
  })
})

describe('keys', () => {
  it('one key with state asks for the opposite of what it shows, or of what it waits for', () => {
    const phone = new Phone(fanDesign()).up().hear('+F').key()
    expect(phone.sent).toEqual(['f'])
    expect(phone.key().sent).toEqual(['f', 'F'])
  })
  it('do nothing while the link is known to be down, or without a code', () => {
    expect(new Phone(fanDesign()).key('on').sent).toEqual([])
    const mute = edited(fanDesign(), { type: 'renameCode', linkId: 'phone-link', loadId: 'fan', which: 'on', code: '' })
    expect(new Phone(mute).up().key('on').sent).toEqual([])
  })
})

describe('loss of the link', () => {
  it.each([['keep', 'on'], ['stale', 'stale-on'], ['unknown', 'unknown']] as const)('%s: %s', (onLoss, after) => expect(new Phone(belief({ onLoss })).up().hear('+F').down().shows).toBe(after))
  it('a command without an answer leaves the key unsure', () => expect(new Phone(belief({ onLoss: 'keep' })).up().hear('+f').key('on').down().shows).toBe('unknown'))
  it('what comes while it is down is not heard; a half report is forgotten', () => {
    const phone = new Phone(fanDesign()).up().hear('+').down().hear('F').up().hear('F')
    expect(phone.shows).toBe('unknown')
    expect(phone.hear('+F').shows).toBe('on')
  })
})

describe('asking', () => {
  it('at once when it connects, then at its interval, and never while it is down', () => {
    const phone = new Phone(glazeRoom(), 'office-browser').up(500)
    expect(phone.sent).toEqual(['/state'])
    expect(panelDue(phone.state)).toBe(2500)
    expect(phone.tick(2500).sent).toEqual(['/state', '/state'])
    phone.down(2600)
    expect(panelDue(phone.state)).toBeNull()
  })
  it('takes the answer line by line, and does not mind lines it does not know', () => {
    const phone = new Phone(glazeRoom(), 'office-browser').up().hear('wheel-lights=1\nsomething=else\nbooth-extractor=0', 'ask')
    expect(phone.state.beliefs.map(shown)).toEqual(['off', 'on', 'unknown', 'unknown'])
  })
  it('with an event stream the answers to commands are left aside: they may be overtaken', () => {
    const phone = new Phone(twoPanelDesign(), 'browser').up().hear('fan=1', 'command')
    expect(phone.shows).toBe('unknown')
    expect(phone.hear('fan=1', 'stream').shows).toBe('on')
  })
})
