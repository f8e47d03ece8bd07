/** HTTP: time is in the latency, but for the wire to a board in front. */
import type { HttpLink } from '../../design/schema'
import { frontMs, frontReason, GUESTS_APART, networkReach, networkWords, place } from './facet'
import type { LinkCarriage, Place } from './facet'

const ANSWER_WORDS: Record<HttpLink['answers'], string> = {
  text: 'text, one line a load',
  json: 'a JSON object',
  page: 'a page for people',
}

export const http: LinkCarriage<HttpLink> = {
  exactMs: (_, text, design) => frontMs(design, text),
  reason: (_, text, design) => frontReason(design, text) || 'within the latency',
  pageReach({ network }, shared) {
    const net =
      network === 'own'
        ? "the phone must be on the board's own network, and has no internet meanwhile"
        : 'phone and board must be on the same house network'
    const guests: Place[] =
      network === 'router'
        ? [place('guest network of the house', 'no', GUESTS_APART, 'join the house network itself')]
        : []
    const radios: Place[] = shared
      ? [
          place(
            'while Bluetooth is in use',
            'sometimes',
            shared,
            'take a serial module of its own for Bluetooth, or a board in front for the network',
          ),
        ]
      : []
    return [
      place('page kept as a file', 'yes', `it asks the address in the design; ${net}`),
      place('page from the board or a stand-in', 'yes', net),
      place(
        'page from a secure site',
        'no',
        'a page that came by https may not ask an http address inside the house',
        'keep the page as a file, or let the board give it',
      ),
      ...guests,
      ...radios,
    ]
  },
  boxReach: networkReach,
  setUp: ({ method, answers, network, address }, design) =>
    `HTTP, commands by ${method.toUpperCase()}, answers as ${ANSWER_WORDS[answers]}; ${networkWords(design, network)}, ${address}`,
}
