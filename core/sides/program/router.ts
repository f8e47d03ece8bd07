/**
 * The program of a router: a script for plain ash, its table, and settings for which file is which
 * line. It does what a console over a shell asks of relays; nothing else of a design.
 */
import { compileController, type Program, type ProgramLink } from '../../controller/program'
import { fingerprint } from '../../design/fingerprint'
import { LINK_WORDS } from '../../design/links/rows'
import { isShell } from '../../design/links/traits'
import { activeLevelOf, isDriven } from '../../design/outputs/traits'
import { boardOf, pinLabel } from '../../design/pins'
import { handSurfaces } from '../../design/find'
import { endOf } from '../../design/wire'
import { isTimed } from '../../design/outputs/timed'
import type { Design, Load } from '../../design/schema'
import { linesOf, valuesOf } from '../../design/values'
import { helloText } from '../../messages/table'
import { startsTimers } from '../../messages/times'
import { textBytes } from '../../bytes/text'
import { cppComment } from '../escape'
import { CAUTION, engineFile, type ProgramFile } from './engine-files'
import { nth } from '../../units/lists'

/** Stands where a number comes. */
const MARK = 987654321
const ENDS: Readonly<Record<string, string>> = { '\n': 'lf', '\r\n': 'crlf' }

/** A load that is on or off and nothing more: without limits and what follows from them. */
function isPlain({ output }: Load): boolean {
  return isDriven(output) && 'limits' in output && output.limits === null
}

/** The console that the script serves: people read its lines, and each has an end. */
function consoleOf(part: Design) {
  return part.links.find(
    l => isShell(l) && ENDS[endOf(l)] !== undefined && l.auth.kind === 'none' && !l.numbered,
  )
}

/** What of a part the script does not do, each with where it stands. */
export function routerLacks(part: Design): { path: string; words: string }[] {
  const served = consoleOf(part)
  return [
    ...part.loads.flatMap((l, i) =>
      isPlain(l) ? [] : [{ path: `/loads/${i}/output`, words: `what ${l.name} does` }],
    ),
    ...part.links.flatMap((l, i) =>
      l === served ? [] : [{ path: `/links/${i}`, words: `${LINK_WORDS[l.kind]} on ${l.name}` }],
    ),
    ...(served && startsTimers(served)
      ? [{ path: `/links/${part.links.indexOf(served)}`, words: `timers on ${served.name}` }]
      : []),
    ...part.sensors.map((s, i) => ({ path: `/sensors/${i}`, words: `reading ${s.name}` })),
    ...handSurfaces(part)
      .filter(s => s.controls.length)
      .map(s => ({
        path: `/surfaces/${part.surfaces.indexOf(s)}`,
        words: `hand controls of ${s.name}`,
      })),
  ]
}

/** Whether a script can be made: it needs a console, and a relay that it can switch. */
export function canScript(part: Design): boolean {
  return consoleOf(part) !== undefined && part.loads.some(isPlain)
}

/** Files of the script for a router's shell, with its settings and start line. */
export function routerFolder(part: Design): ProgramFile[] {
  return [
    { path: 'INSTALL.txt', text: installText(part) },
    { path: 'nolvi.sh', text: engineFile('boards/router/nolvi.sh') },
    { path: 'nolvi.table', text: routerTable(part) },
    { path: 'nolvi.conf', text: settingsText(part) },
  ]
}

/** What the script looks up, a row a line, its fields apart by tabs; none of them holds one. */
export function routerTable(part: Design): string {
  const served = consoleOf(part)
  const program = compileController({ ...part, links: served ? [served] : [] })
  const [link] = program.links
  const rows = [
    ['# What nolvi.sh looks up. Made from the design: change that, not this.'],
    [`# Fingerprint ${fingerprint(part)}`],
    ...part.loads.filter(isPlain).map(loadRow),
    ...(link ? linkRows(program, link) : []),
  ]
  // Texts of the wire are bytes; a file is written as text.
  return new TextDecoder().decode(textBytes(`${rows.map(row => row.join('\t')).join('\n')}\n`))
}

function loadRow({ id, output }: Load): string[] {
  const { powerUp = 'off' } = output as { powerUp?: string }
  const high = isDriven(output) && activeLevelOf(output) === 'high'
  return ['load', id, String(Number(high)), powerUp]
}

function linkRows(program: Program, of: ProgramLink): string[][] {
  const { link, meanings, messages, error } = of
  const bare = (text: string) => withoutEnd(text, endOf(link))
  const [before = '', after = ''] = bare(helloText(link, program.fingerprint, MARK)).split(
    String(MARK),
  )
  const plain = new Set(program.loads.flatMap((l, i) => (isPlain(l) ? [i] : [])))
  const idOf = (load: number) => program.loads[load]?.id ?? ''
  const scenes: string[][] = []
  const said = [...meanings].flatMap(([text, meaning]): string[][] => {
    switch (meaning.kind) {
      case 'set':
        return plain.has(meaning.load) && !isTimed(meaning.value)
          ? [['said', text, 'set', idOf(meaning.load), meaning.value]]
          : []
      case 'scene': {
        const name = `scene-${scenes.length}`
        const sets = meaning.sets.filter(s => plain.has(s.load))
        scenes.push(...sets.map(s => ['scene', name, idOf(s.load), s.value]))
        return [['said', text, 'scene', name]]
      }
      case 'ask':
      case 'hello':
        return [['said', text, meaning.kind]]
      default:
        return []
    }
  })
  const told = messages.flatMap((m, load) =>
    m && plain.has(load)
      ? [
          ['tells', idOf(load), String(Number(m.ack)), String(Number(m.change))],
          ...valuesOf(nth(program.loads, load).output).flatMap(value => {
            const words = m.reports.get(value) ?? ''
            return words === '' ? [] : [['report', idOf(load), value, bare(words)]]
          }),
        ]
      : [],
  )
  return [
    ['end', ENDS[endOf(link)] ?? 'lf'],
    ['connect', String(Number(link.onConnect))],
    ...(error === '' ? [] : [['error', bare(error)]]),
    ...(before === '' ? [] : [['hello', before, after]]),
    ...said,
    ...scenes,
    ...told,
  ]
}

function withoutEnd(text: string, end: string): string {
  return text.endsWith(end) ? text.slice(0, -end.length) : text
}

function settingsText(part: Design): string {
  return [
    `# ${cppComment(part.name)}: what only this router knows. A line is "key = value".`,
    '# State of now, and what outlives a cut.',
    'run = /tmp/nolvi',
    'kept = /etc/nolvi',
    '# The file of each line; "inverted" behind it where a transistor turns it round.',
    ...part.loads.filter(isPlain).flatMap(l => {
      const [line] = linesOf(l.output)
      return [
        `# ${cppComment(l.name)}: ${pinLabel(part, line?.pin ?? 0)}`,
        `pin ${l.id} = /sys/class/gpio/gpio${line?.pin ?? 0}/value`,
      ]
    }),
    '',
  ].join('\n')
}

function installText(part: Design): string {
  const link = consoleOf(part)
  const account = link && isShell(link) ? link.account : 'console'
  const steps = [
    'Copy this folder to the router, to /etc/nolvi-console.',
    'Read nolvi.conf: which file is which line. Lines that are no files yet: echo NUMBER > /sys/class/gpio/export, before the line below.',
    'Let it start with the router: put "/etc/nolvi-console/nolvi.sh start" into /etc/rc.local, before "exit 0".',
    `Let ${account} log in, with /etc/nolvi-console/nolvi.sh console as what is started (ForceCommand, or as its shell).`,
    'Restart the router, and see with a meter that all lines are as they should be before anything hangs on them.',
  ]
  return `${part.name}, for ${boardOf(part).name}. Made by Nolvi.
Fingerprint ${fingerprint(part)}

${steps.map((s, i) => `${i + 1}. ${s}`).join('\n')}

It was tried with an ash of its kind on files that imitate lines; a real router it has not met yet.
${routerLacks(part)
  .map(l => `Not done by it: ${l.words}.\n`)
  .join('')}${CAUTION}
`
}
