/** Links with a board at their other end, on a made-up clock: what is told of them. */
import { describe, expect, it } from 'vitest'
import { fingerprint } from '../../../../core/design/fingerprint'
import type { Design } from '../../../../core/design/schema'
import { causesOf } from '../../../../core/live/causes'
import { LiveSheet } from '../../../../core/live/sheet'
import { linkView } from '../../../../core/live/view'
import { DIALECTS, edited, glazeRoom, speaking } from '../../../fixtures/designs'
import { LiveTable } from '../../../fixtures/live'

/** Its phone speaks lines, so that the board can say who it is. */
const inLines = (): Design =>
  edited(speaking(glazeRoom(), DIALECTS.lines!), {
    type: 'setLink',
    linkId: 'apron-link',
    patch: { helloCode: 'hello' },
  } as never)
const crossed = (table: LiveTable, id: string) =>
  table.link(id).crossed.map(c => `${c.way} ${c.text} | ${c.words}`)
const kinds = (table: LiveTable, id: string, prints = {}) =>
  causesOf(table.link(id), prints, '', table.now).map(c => c.kind)

describe('a live link', () => {
  it('asks for the state as it connects, and knows what is said of each load', () => {
    const table = new LiveTable(glazeRoom()).connect('apron-link')
    const { says } = table.link('apron-link')
    // The code of the rinse pump is a mistake of the demo: what is heard of it is heard so.
    expect(says.slice(0, 3).map(s => s?.value)).toEqual(['off', 'off', 'off'])
    expect(crossed(table, 'apron-link')[0]).toBe('up ? | asks for the state')
    expect(crossed(table, 'apron-link')).toContain('down +e | Booth extractor is off')
  })

  it('presses a key in the place of the panel, and tells how long the answer took', () => {
    const table = new LiveTable(glazeRoom()).connect('apron-link')
    table.asks('apron-link', 'wheel-lights', 'on')
    expect(table.twin.value('wheel-lights')).toBe('on')
    const live = table.link('apron-link')
    expect(live.showing('apron-phone', 1)).toEqual({ shown: 'on', asked: null })
    const answer = live.crossed.at(-1)
    expect(answer).toMatchObject({ words: 'Wheel lights is on', afterMs: 20, load: 1 })
    expect(live.delays.measured()).toMatchObject({ count: 2, lost: 0, typicalMs: 20 })
  })

  it('what one link reports shows that the surface of another is wrong, and why', () => {
    const table = new LiveTable(glazeRoom()).connect()
    const sheet = new LiveSheet(table.design)
    const look = () => sheet.rows([...table.links.values()], table.now)
    // Wheel lights are reported on change over the phone's link; the browser asks every 2 s.
    table.press('lights-button')
    const cell = () =>
      look()
        .find(r => r.loadId === 'wheel-lights')!
        .cells.find(c => c.surfaceId === 'office-browser')!
    expect(cell()).toMatchObject({ shown: 'off', wrongMs: null })
    table.run(700)
    expect(cell()).toMatchObject({ shown: 'off', wrongMs: 700 })
    expect(cell().why).toContain('learns of it when it asks')
    table.run(2000)
    expect(cell()).toMatchObject({ shown: 'on', wrongMs: null })
  })

  it('hears who is there, and says which side is old or of another design', () => {
    const old = inLines()
    const same = new LiveTable(old).connect('apron-link')
    expect(same.link('apron-link').hello).toMatchObject({
      speaks: 'nolvi/5',
      fingerprint: fingerprint(old),
    })
    expect(linkView(same.link('apron-link'), {}, '', same.now).agrees).toBe(true)
    expect(kinds(same, 'apron-link')).toEqual([])
    const changed = edited(old, {
      type: 'setLink',
      linkId: 'apron-link',
      patch: { onConnect: true },
    } as never)
    const table = new LiveTable(changed, old).connect('apron-link')
    expect(kinds(table, 'apron-link', { [fingerprint(old)]: 11 })).toEqual(['old side'])
    expect(kinds(table, 'apron-link')).toEqual(['another design'])
  })

  it('asks again who is there where nobody answered, twice and no more', () => {
    const helloes = (lost: number) => {
      const table = new LiveTable(inLines())
      let n = 0
      table.disturb = (way, text) =>
        way === 'up' && text.startsWith('hello') && ++n <= lost ? '' : text
      table.connect('apron-link').run(20_000)
      return [n, table.link('apron-link').hello?.speaks ?? null]
    }
    expect(helloes(0)).toEqual([1, 'nolvi/5'])
    expect(helloes(1)).toEqual([2, 'nolvi/5'])
    expect(helloes(2)).toEqual([3, 'nolvi/5'])
    expect(helloes(9)).toEqual([3, null])
  })

  it('silence, lost answers, garbage of a wrong speed and a table that differs are told apart', () => {
    const silent = new LiveTable(glazeRoom())
    silent.disturb = () => ''
    silent.connect('apron-link').run(4000)
    expect(kinds(silent, 'apron-link')).toEqual(['silent'])

    const lossy = new LiveTable(glazeRoom()).connect('apron-link')
    let n = 0
    lossy.disturb = (way, text) => (way === 'down' && ++n % 2 ? '' : text)
    for (let i = 0; i < 6; i++) lossy.asks('apron-link', 'wheel-lights', i % 2 ? 'off' : 'on')
    lossy.run(3000)
    expect(kinds(lossy, 'apron-link')).toEqual(['lossy'])

    const fast = new LiveTable(glazeRoom())
    fast.disturb = (way, text) => (way === 'down' ? text.replaceAll(/./gs, '\u00f8\u0080') : '?')
    fast.connect('apron-link')
    expect(kinds(fast, 'apron-link')).toEqual(['wrong speed'])

    const other = new LiveTable(glazeRoom())
    other.disturb = (way, text) => (way === 'down' ? text.replaceAll('+', '=') : text)
    other.connect('apron-link')
    expect(kinds(other, 'apron-link')).toContain('other table')
  })

  it('what is lost is told again: a link that falls, comes back and is measured', () => {
    const table = new LiveTable(glazeRoom()).connect('apron-link').lose('apron-link')
    table.run(1300).connect('apron-link')
    expect(table.link('apron-link').delays.outagesMs).toEqual([1300])
  })

  it('half a message that nothing follows is told as one', () => {
    const table = new LiveTable(inLines()).connect('apron-link')
    const live = table.link('apron-link')
    live.heard('wheel', 'stream', -1, table.now)
    table.run(700)
    expect(live.crossed.at(-1)).toMatchObject({ kind: 'half', text: 'wheel' })
  })

  it('of a flood the newest thousand stay', () => {
    const table = new LiveTable(glazeRoom()).connect('apron-link')
    const live = table.link('apron-link')
    for (let i = 0; i < 3000; i++) live.heard('+E', 'stream', -1, table.now)
    expect(live.crossed).toHaveLength(1000)
    expect(live.counts.report).toBeGreaterThan(3000)
  })
})
