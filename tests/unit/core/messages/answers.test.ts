import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { answerOf, doneAnswer, linesIn } from '../../../../core/messages/answers'
import { respond } from '../../../../core/controller/respond'
import { runScript } from '../../../../core/bench/bench'
import { edited, fanDesign } from '../../../fixtures/designs'

const anyLines = fc
  .uniqueArray(
    fc.tuple(
      fc.stringMatching(/^[a-z][a-z0-9-]{0,8}$/),
      fc.constantFrom('0', '1', '50', '100', 'forward', 'stop'),
    ),
    { selector: ([id]) => id, maxLength: 8 },
  )
  .map(pairs => pairs.map(([id, value]) => `${id}=${value}`))

describe.each(['text', 'json', 'page'] as const)('answers as %s', answers => {
  it('are read back as they were meant', () => {
    fc.assert(
      fc.property(anyLines, lines => {
        expect(linesIn(answers, answerOf(answers, lines)).filter(Boolean)).toEqual(lines)
      }),
    )
  })
  it('any other text says nothing and breaks nothing', () => {
    fc.assert(
      fc.property(fc.string(), text => {
        expect(Array.isArray(linesIn(answers, text))).toBe(true)
      }),
    )
    expect(linesIn(answers, doneAnswer(answers)).filter(l => l.includes('='))).toEqual([])
  })
  it('let a browser know on the bench', () => {
    const design = edited(
      fanDesign(),
      { type: 'setFront', front: {} },
      { type: 'addPanel', name: 'Browser', over: 'http' },
      {
        type: 'addMessage',
        linkId: 'browser-link',
        loadId: 'fan',
        codes: { on: '/fan/on', off: '/fan/off' },
      },
      { type: 'setLink', linkId: 'browser-link', patch: { answers } },
    )
    const bench = runScript(design, {
      seed: 1,
      steps: [
        { atMs: 500, action: { do: 'key', surfaceId: 'browser', loadId: 'fan', want: 'on' } },
      ],
    })
    expect([bench.value('fan'), bench.shown('browser', 'fan')]).toEqual(['on', 'on'])
  })
})

describe('who is there, errors, and scenes over HTTP', () => {
  const design = edited(
    fanDesign(),
    { type: 'addLoad', name: 'Lamp' },
    { type: 'setFront', front: {} },
    { type: 'addPanel', name: 'Browser', over: 'http' },
    {
      type: 'addMessage',
      linkId: 'browser-link',
      loadId: 'fan',
      codes: { on: '/fan/on', off: '/fan/off' },
    },
    {
      type: 'addScene',
      name: 'All on',
      sets: [
        { loadId: 'fan', value: 'on' },
        { loadId: 'lamp', value: 'on' },
      ],
    },
    { type: 'setSceneCode', linkId: 'browser-link', sceneId: 'all-on', code: '/scene/all-on' },
  )
  it('the board says its version, the fingerprint and how often it started', () => {
    expect(respond(design, 'browser-link', '/hello').answers[0]?.text).toMatch(
      /^hello=nolvi\/5\nfingerprint=[0-9A-F]{6}\nstarts=1$/,
    )
  })
  it('a scene switches its loads in order, and answers for those that this link carries', () => {
    const { does, answers } = respond(design, 'browser-link', '/scene/all-on')
    expect(does.map(d => d.split(' switches')[0])).toEqual(['Fan', 'Lamp'])
    expect(answers.find(a => a.status)?.text).toBe('fan=1')
  })
  it('a route that is none is an error', () =>
    expect(respond(design, 'browser-link', '/fan').answers[0]).toMatchObject({ status: 404 }))
})
