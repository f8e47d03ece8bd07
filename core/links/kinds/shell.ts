/**
 * A console over a shell. What a line takes is held in the latency: an encrypted session over the
 * network of the house, a few dozen bytes a packet. A session that fell silent is noticed by its
 * keep-alives, and a new one takes the exchange of keys: about a second on a small computer.
 */
import type { LinkOf } from '../../design/schema'
import { frontMs, frontReason, networkReach, networkWords, place, type LinkCarriage } from './facet'

export const shell: LinkCarriage<LinkOf<'shell'>> = {
  exactMs: (_, text, design) => frontMs(design, text),
  reason: (_, text, design) =>
    frontReason(design, text) || 'within the latency: an encrypted session over the network',
  pageReach: ({ account, address }) => [
    place(
      'any browser',
      'no',
      'pages cannot open a shell',
      `log in as ${account} at ${address} and type the commands of the message sheet, or add a panel over HTTP`,
    ),
    place(
      'terminal of a computer or phone on the same network',
      'yes',
      `ssh ${account}@${address} starts a session; keys in place of passwords keep others out`,
    ),
    place('terminal on the board itself', 'yes', 'the same command runs there without a network'),
  ],
  boxReach: networkReach,
  setUp: (link, design) =>
    `Console over a shell, ${networkWords(design, link.network)}: ssh ${link.account}@${link.address} starts "${link.command}", ${link.clients === 1 ? 'one session' : `up to ${link.clients} sessions`} at once`,
}
