/**
 * Findings about messages: what cannot be told apart, what repeats, echoes, pads, or can be played
 * again by a stranger.
 */
import { FIELD_TYPES, disagreement } from '../bytes/structure'
import type { Edit } from '../design/edits/edits'
import { loadOf, maybeFarSurfaceOn } from '../design/find'
import type { Design, Link, ByteLink } from '../design/schema'
import { isDatagram, speaksBytes, speaksRoutes, structureOn } from '../design/links/traits'
import { shownWire } from '../design/wire'
import { structureOf } from '../design/dialects/packed'
import { receiving } from '../links/budget'
import { assign, dialectEdit, nextCodes, schoolsOf } from '../messages/assign'
import { clashes, clashLoads, clashWords, codeUses, type Clash } from '../messages/clashes'
import { ambiguity } from '../messages/decodability'
import { echoes } from '../messages/echo'
import { errorText } from '../messages/table'
import { overshadowed } from '../messages/routes'
import { upperFirst } from '../units/format'
import { finding, onLink, type Fix, type Rule } from './finding'
import { lines } from '../design/dialects/lines'

/** Codes that cannot be told apart on their link. */
const codeClashes: Rule = design =>
  design.links.flatMap(link =>
    clashes(design, link).map(clash => {
      const loadIds = clashLoads(clash)
      const loadId = loadIds.at(-1) ?? null
      return finding({
        code: `code-${clash.kind}`,
        severity: 'stop',
        ...onLink(design, link, '/messages'),
        title: clashTitle(design, clash),
        reason: `${upperFirst(clashWords(clash))}.${aheadWords(design, link, clash)}`,
        loadId,
        fixes: [
          ...clashFixes(design, link, loadId),
          {
            words: 'Assign all codes anew',
            edit: {
              type: 'assignCodes',
              linkId: link.id,
              codes: assign(design, link, schoolsOf(link)[0]),
            },
          },
        ],
      })
    }),
  )

function clashTitle(design: Design, clash: Clash): string {
  switch (clash.kind) {
    case 'duplicate':
      return `Two meanings for "${clash.code}"`
    case 'prefix':
      return `"${clash.short.code}" is the start of "${clash.long.code}"`
    case 'mark':
      return `"${clash.use.code}" looks like a report`
    case 'empty':
      return `${loadOf(design, clash.loadId).name} has no code for ${clash.value}`
  }
}

function clashFixes(design: Design, link: Link, loadId: string | null): Fix[] {
  if (!loadId) return []
  const without = {
    ...link,
    messages: (link.messages as { loadId: string }[]).filter(m => m.loadId !== loadId),
  } as Link
  const codes = nextCodes(design, without, loadOf(design, loadId))
  return [
    {
      words: `Use ${Object.values(codes).join(' / ')}`,
      edit: { type: 'assignCodes', linkId: link.id, codes: { [loadId]: codes } },
    },
  ]
}

/**
 * Whether a decoder that reads ahead could do better, with the shortest text that even it reads in
 * two ways.
 */
function aheadWords(design: Design, link: Link, clash: Clash): string {
  if (clash.kind !== 'prefix') return ''
  const found = ambiguity(codeUses(design, link).map(u => u.code))
  return found
    ? ` No decoder helps: "${found.text}" is both ${found.readings.map(r => r.join(' ')).join(' and ')}.`
    : ' A decoder that waits for what follows could tell them apart, but it would answer late and is lost after any wrong byte.'
}

/**
 * A code that toggles, where something says it twice: a retry, a page that is loaded again, a
 * datagram that comes twice.
 */
const togglesRepeat: Rule = design =>
  design.links.flatMap((link, i) =>
    link.messages.flatMap((m, j) => {
      const panel = maybeFarSurfaceOn(design, link.id)
      if (!m.codes.toggle || !panel) return []
      const whys = [
        panel.belief.policy === 'confirm' && panel.belief.retries > 0
          ? `${panel.name} asks again when an answer is late`
          : '',
        speaksRoutes(link)
          ? 'a page that is loaded again, or looked up ahead by a browser, asks again'
          : '',
        isDatagram(link) ? 'a datagram may be delivered twice' : '',
      ].filter(Boolean)
      if (!whys.length) return []
      const { name } = loadOf(design, m.loadId)
      return [
        finding({
          code: 'toggle-repeats',
          severity: 'stop',
          path: `/links/${i}/messages/${j}/codes/toggle`,
          loadId: m.loadId,
          surfaceId: panel.id,
          title: `A repeated toggle turns ${name} back`,
          reason: `"${m.codes.toggle}" means the other state, and it can come twice: ${whys.join('; ')}. Shortest example: "${m.codes.toggle}" arrives, its answer is late, "${m.codes.toggle}" arrives again; ${name} is as before, and the phone believes otherwise.`,
          fixes: [
            {
              words: 'Ask for on or off instead',
              edit: {
                type: 'renameCode',
                linkId: link.id,
                loadId: m.loadId,
                which: 'toggle',
                code: '',
              },
            },
          ],
        }),
      ]
    }),
  )

/** Reports that come back and act, commands that come back and are believed. */
const echoLoops: Rule = design =>
  design.links.flatMap(link => {
    if (speaksRoutes(link) || !link.echoes) return []
    const panel = maybeFarSurfaceOn(design, link.id)
    const errors =
      link.errorText === ''
        ? []
        : [
            finding({
              code: 'echo-errors',
              severity: 'stop',
              ...onLink(design, link, '/errorText'),
              title: `Errors on ${panel?.name ?? link.name} go round for ever`,
              reason: `What is sent on this link comes back. Shortest example: one spoilt message arrives, "${shownWire(link, errorText(link))}" is answered, comes back, is no command either, and is answered again.`,
              fixes: [
                {
                  words: 'Answer no errors here',
                  edit: { type: 'setLink', linkId: link.id, patch: { errorText: '' } },
                },
                {
                  words: 'The echo is switched off',
                  edit: { type: 'setLink', linkId: link.id, patch: { echoes: false } },
                },
              ],
            }),
          ]
    return [
      ...errors,
      ...echoes(design, link).map(e =>
        finding({
          code: e.side === 'board' ? 'echo-acts' : 'echo-believed',
          severity: 'stop',
          ...onLink(design, link, '/echoes'),
          loadId: e.loadId,
          title:
            e.side === 'board'
              ? `The echo of a report switches ${loadOf(design, e.loadId).name}`
              : `${panel?.name ?? link.name} believes the echo of its own command`,
          reason:
            e.side === 'board'
              ? `What is sent on this link comes back. Shortest example: the board reports "${shownWire(link, e.sent)}", it comes back, and is read as ${e.means}${e.loops ? '; that is answered with the same report, so it goes round for ever' : ''}.`
              : `What is sent on this link comes back. Shortest example: "${shownWire(link, e.sent)}" is sent, the board is off, it comes back, and is read as ${e.means}.`,
          fixes: [
            { words: 'Speak in lines with a mark before reports', edit: marked(design, link) },
            {
              words: 'The echo is switched off',
              edit: { type: 'setLink', linkId: link.id, patch: { echoes: false } },
            },
          ],
        }),
      ),
    ]
  })

/** Lines whose reports start with a mark are no commands. */
function marked(design: Design, link: ByteLink): Edit {
  const edit = dialectEdit(design, link.id, lines.fresh)
  return edit.type === 'together'
    ? {
        ...edit,
        edits: edit.edits.map(e =>
          e.type === 'setLink'
            ? { ...e, patch: { ...e.patch, reportMark: link.reportMark || '+' } }
            : e,
        ),
      }
    : edit
}

/** Fields that two compilers put in different places. */
const paddedStructures: Rule = design =>
  design.links.flatMap(link => {
    const dialect = structureOn(link)
    if (!dialect) return []
    const apart = disagreement(structureOf(dialect))
    const hidden = apart
      ? [
          finding({
            code: 'structure-padding',
            severity: 'stop',
            ...onLink(design, link, '/dialect/fields'),
            title: apart.field
              ? `Two compilers put "${apart.field}" in different places`
              : 'Two compilers make structures of different size',
            reason: `${dialect.fields.map(f => `${FIELD_TYPES[f.type].c} ${f.name}`).join(', ')}: an 8-bit compiler ${apart.field ? `puts ${apart.field} at byte ${apart.eightBit}, a 32-bit one at byte ${apart.thirtyTwoBit}` : `makes ${apart.eightBit} bytes, a 32-bit one ${apart.thirtyTwoBit}`}, because it fills up unseen. Each side then reads the other wrongly.`,
            fixes: [
              {
                words: 'Pack it: no bytes between',
                edit: dialectEdit(design, link.id, { ...dialect, packed: true }),
              },
            ],
          }),
        ]
      : []
    const unchecked =
      dialect.crc === ''
        ? [
            finding({
              code: 'frame-unchecked',
              severity: 'warn',
              ...onLink(design, link, '/dialect/crc'),
              title: `A wrong bit on ${link.name} is taken for another command`,
              reason:
                'Frames carry no check: a bit that flips on the way gives another load or another value.',
              fixes: [
                {
                  words: 'Add CRC-8/SMBUS, one byte',
                  edit: dialectEdit(design, link.id, { ...dialect, crc: 'CRC-8/SMBUS' }),
                },
              ],
            }),
          ]
        : []
    return [...hidden, ...unchecked]
  })

/** Routes that an inexact match takes for another. */
const looseRoutes: Rule = design =>
  design.links.flatMap(link =>
    speaksBytes(link)
      ? []
      : overshadowed(design, link).map(o =>
          finding({
            code: 'route-overshadowed',
            severity: 'stop',
            ...onLink(design, link, '/matching'),
            loadId: o.loadId,
            title: `"${o.route}" is taken for "${o.by}"`,
            reason: `The board looks whether a request ${link.matching === 'contains' ? 'contains' : 'starts with'} a route, in the order of the table. Shortest example: GET ${o.route} ${link.matching === 'contains' ? 'contains' : 'starts with'} ${o.by}, so ${o.does} instead of ${o.means}.`,
            fixes: [
              {
                words: 'Match whole routes',
                edit: { type: 'setLink', linkId: link.id, patch: { matching: 'exact' } },
              },
            ],
          }),
        ),
  )

/** More bytes than the buffer holds while the board saves: the rest is lost without a word. */
const fullBuffers: Rule = design =>
  design.links.flatMap(link => {
    const r = 'baud' in link ? receiving(design, link) : null
    if (!('baud' in link) || !r || r.arriving <= r.holds) return []
    const slower = ([57600, 38400, 19200, 9600] as const).find(
      baud => (receiving(design, { ...link, baud })?.arriving ?? 0) <= r.holds,
    )
    return [
      finding({
        code: 'buffer-overflow',
        severity: 'warn',
        ...onLink(design, link, '/baud'),
        title: `Commands can be lost on ${link.name} while the board saves`,
        reason: `${upperFirst(r.reason)}; the buffer holds ${r.holds}. Way out: a slower link, shorter messages, or a panel that waits for its answer.`,
        fixes: slower
          ? [
              {
                words: `Take ${slower} baud`,
                edit: { type: 'setLink', linkId: link.id, patch: { baud: slower } },
              },
            ]
          : [],
      }),
    ]
  })

export const MESSAGE_RULES: readonly Rule[] = [
  codeClashes,
  togglesRepeat,
  echoLoops,
  paddedStructures,
  looseRoutes,
  fullBuffers,
]
