/** Reading what is there: hand-written sketches and pages, spreadsheets, logs. */
import { describe, expect, it } from 'vitest'
import { candidates, compare, proposals, takeOver } from '../../../../core/read/source'
import { readCodeTable, takeTable } from '../../../../core/read/code-table'
import { readLog } from '../../../../core/read/log'
import type { Design } from '../../../../core/design/schema'
import { DIALECTS, edited, fanDesign, glazeRoom, linkOn, speaking } from '../../../fixtures/designs'

const SKETCH = `#include <Servo.h>
void loop() {
  char c = Serial.read();
  if (c == 'E') digitalWrite(5, LOW);   // extractor
  else if (c == 'e') digitalWrite(5, HIGH);
  switch (c) { case 'K': kiln(true); break; case 'k': kiln(false); break; }
  if ('V' == c) Serial.print("vent");
  // if (c == 'Z') never
  if (text.indexOf("/pump/on") >= 0) pump(true);
  if (text.startsWith("/pump/off")) pump(false);
  server.on("/Fan/On", fanOn);
  Serial.println("this is no code but words");
}`

describe('a hand-written sketch', () => {
  it('gives its codes with their lines; comments and words are left out', () => {
    expect(candidates(SKETCH).map(c => `${c.line} ${c.code} ${c.how}`)).toEqual([
      '4 E understood',
      '5 e understood',
      '6 K understood',
      '6 k understood',
      '7 V understood',
      '7 vent sent',
      '9 /pump/on understood',
      '10 /pump/off understood',
      '11 /Fan/On understood',
    ])
  })
  it('is held against the table: the same, extra, missing', () => {
    const design = glazeRoom()
    const { matches, missing } = compare(
      design,
      linkOn(design, 'bluetooth-serial'),
      candidates(SKETCH),
    )
    expect(matches.map(m => `${m.candidate.code} ${m.state} ${m.means}`.trim())).toEqual([
      'E same Booth extractor on',
      'e same Booth extractor off',
      'K extra',
      'k extra',
      'V extra',
    ])
    expect(missing.map(m => m.code)).toEqual(['L', 'l', 'F', 'f', '1', '10'])
    const routes = compare(design, linkOn(design, 'http'), candidates(SKETCH)).matches
    expect(routes.map(m => `${m.candidate.code} ${m.state} ${m.means}`.trim())).toEqual([
      '/pump/on extra',
      '/pump/off extra',
      '/Fan/On different Drying cupboard fan on',
    ])
  })
  it('pairs that look like on and off are taken over as loads, in one edit', () => {
    const design = glazeRoom()
    const serial = linkOn(design, 'bluetooth-serial')
    expect(proposals(design, serial, candidates(SKETCH))).toEqual([
      { name: 'Load K', on: 'K', off: 'k' },
    ])
    expect(proposals(design, linkOn(design, 'http'), candidates(SKETCH))).toEqual([
      { name: 'Pump', on: '/pump/on', off: '/pump/off' },
    ])
    const taken = edited(
      design,
      takeOver(design, serial, proposals(design, serial, candidates(SKETCH))),
    )
    expect(linkOn(taken, 'bluetooth-serial').messages.at(-1)).toMatchObject({
      loadId: 'load-k',
      codes: { on: 'K', off: 'k' },
    })
  })
  it('never fails, whatever is pasted', () => {
    for (const text of [
      '',
      "''''",
      '"'.repeat(5000),
      "== '\\",
      "case '",
      '\u0000\uFFFF',
      SKETCH.repeat(50),
    ])
      expect(() =>
        proposals(glazeRoom(), linkOn(glazeRoom(), 'http'), candidates(text)),
      ).not.toThrow()
  })
})

describe('a code table out of a spreadsheet', () => {
  const link = (d: Design) => linkOn(d, 'bluetooth-serial')
  it.each([
    [
      'semicolons, quotes and a byte order mark',
      '\uFEFF"Load";"On";"Off"\r\n"Booth extractor";X;"x"\r\n\r\n',
    ],
    ['commas and a column a value', 'load,on,off,note\nBooth extractor,X,x,left of the door\n'],
    ['tabs, a row a value', 'load\tvalue\tcode\nbooth-extractor\ton\tX\nBOOTH EXTRACTOR\tOff\tx\n'],
  ])('%s', (_, text) => {
    const design = glazeRoom()
    const { edit, problems, added } = takeTable(design, link(design), readCodeTable(text))
    expect(problems).toEqual([])
    expect(added).toEqual([])
    expect(link(edited(design, edit!)).messages[0]?.codes).toEqual({ on: 'X', off: 'x' })
  })
  it('adds loads that are not there, and tells what it cannot take with its line', () => {
    const design = glazeRoom()
    const table = readCodeTable(
      'load;value;code\nStove;on;S\nStove;off;s\nRinse pump;sideways;q\n;on;z\n',
    )
    const { edit, problems, added } = takeTable(design, link(design), table)
    expect(added).toEqual(['Stove'])
    expect(problems.map(p => p.line).sort()).toEqual([4, 5])
    expect(link(edited(design, edit!)).messages.at(-1)).toMatchObject({
      loadId: 'stove',
      codes: { on: 'S', off: 's' },
    })
  })
  it('a formula guard of our own export is taken off again', () => {
    expect(readCodeTable("load,on,off\nFan,'+F,f\n").rows[0]?.code).toBe('+F')
  })
  it.each([
    ['nothing', '', 'empty'],
    ['no load', 'a;b\n1;2\n', 'no column "load"'],
    ['no codes', 'load\nFan\n', 'no column with codes'],
  ])('%s is told', (_, text, words) => {
    expect(readCodeTable(text).problems[0]?.message).toContain(words)
  })
})

describe('a pasted log', () => {
  it('with clock times and arrows: decoded, and answers timed', () => {
    const design = glazeRoom()
    const lines = readLog(
      design,
      linkOn(design, 'bluetooth-serial'),
      '12:00:01.250 > E\n12:00:01.310 < +E\n\n12:00:02,000 -> Q\n',
    )
    expect(lines.map(l => [l.line, l.atMs, l.direction, l.means.join(), l.afterMs])).toEqual([
      [1, 0, 'to the board', 'Booth extractor on', null],
      [2, 60, 'from the board', 'Booth extractor on, reported', 60],
      [4, 750, 'to the board', 'not in the table', null],
    ])
  })
  it('of lines without a direction, and of routes', () => {
    const lines = speaking(fanDesign(), DIALECTS.pairs!)
    expect(
      readLog(lines, linkOn(lines, 'bluetooth-serial'), '5 fan=on\n9 ms +fan=on;').map(l =>
        l.means.join(),
      ),
    ).toEqual(['Fan on', 'Fan on, reported'])
    const http = glazeRoom()
    expect(
      readLog(http, linkOn(http, 'http'), 'GET /fan/on HTTP/1.1\n< cupboard-fan=1').map(l =>
        l.means.join(),
      ),
    ).toEqual(['Drying cupboard fan on', 'Drying cupboard fan on, reported'])
  })
})
