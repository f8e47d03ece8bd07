import { createHash } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import type { Edit } from '../../../../core/design/edits/edits'
import { agreedText, fingerprint } from '../../../../core/design/fingerprint'
import { edited, fanDesign, glazeRoom } from '../../../fixtures/designs'

describe('fingerprint', () => {
  it('hashes this text for the fan design, worked out by hand', () => {
    expect(agreedText(fanDesign())).toBe(
      [
        'link phone-link serial 9600 ask ? mark + connect true',
        'load fan switched',
        'message phone-link fan on F off f ack true change true',
      ].join('\n'),
    )
  })
  it('is the first 24 bits of SHA-256, against another implementation', () => {
    for (const design of [fanDesign(), glazeRoom()])
      expect(fingerprint(design)).toBe(
        createHash('sha256').update(agreedText(design)).digest('hex').slice(0, 6).toUpperCase(),
      )
  })
  const kept: [string, Edit][] = [
    ['a name', { type: 'renameLoad', loadId: 'rinse-pump', name: 'Pump' }],
    [
      'a moved key',
      { type: 'moveKey', surfaceId: 'apron-phone', keyId: 'rinse-pump', box: { xMm: 10 } },
    ],
    ['the order of rows', { type: 'moveLoad', loadId: 'rinse-pump', to: 0 }],
    ['a pin', { type: 'setOutput', loadId: 'rinse-pump', patch: { pin: 10 } }],
  ]
  it.each(kept)('%s leaves it as it is', (_, change) =>
    expect(fingerprint(edited(glazeRoom(), change))).toBe(fingerprint(glazeRoom())),
  )
  const changed: [string, Edit][] = [
    [
      'a code',
      { type: 'renameCode', linkId: 'apron-link', loadId: 'rinse-pump', which: 'off', code: '2' },
    ],
    [
      'a report policy',
      { type: 'setReport', linkId: 'apron-link', loadId: 'booth-extractor', change: true },
    ],
    ['a report on connect', { type: 'reportOnConnect', linkId: 'office-link', onConnect: true }],
    ['the speed of a link', { type: 'setLink', linkId: 'apron-link', patch: { baud: 19200 } }],
    ['the report mark', { type: 'setLink', linkId: 'apron-link', patch: { reportMark: '=' } }],
  ]
  it.each(changed)('%s changes it', (_, change) =>
    expect(fingerprint(edited(glazeRoom(), change))).not.toBe(fingerprint(glazeRoom())),
  )
})
