/**
 * All findings of a design: each rule is a function from design to findings; order is severity,
 * then document order.
 */
import { pinOf } from '../boards/boards'
import { troubles } from '../boards/hazards'
import { finger } from '../bench/fingers'
import type { Edit } from '../design/edits/edits'
import {
  handSurfaces,
  linkOf,
  linkTitle,
  loadOf,
  maybeMessage,
  farSurfaceOf,
  farSurfaces,
} from '../design/find'
import { isWire, sensesPanel } from '../design/links/traits'
import {
  bestPins,
  boardOf,
  freePin,
  frontOf,
  needs,
  pinLabel,
  SENSE,
  serialPins,
  type Need,
} from '../design/pins'
import { DRIVER_WORDS, driversOf, NEW_DRIVERS } from '../design/drivers'
import type { Danger, Design, Link, Load, FarSurface } from '../design/schema'
import { KIND_WORDS } from '../design/outputs/kinds'
import { sumsOf } from '../electrical/of-design'
import { clashes, clashLoads } from '../messages/clashes'
import type { SurfaceVerdict, Verdict } from '../proof/prove'
import { count, upperFirst } from '../units/format'
import { parts, pathInWhole } from '../design/part'
import { finding, onLink, SEVERITIES, type Finding, type Fix, type Rule } from './finding'
import { ADDRESS_RULES } from './address-rules'
import { AUTH_RULES } from './auth-rules'
import { LINK_RULES, networkNames } from './link-rules'
import { NUMBER_RULES } from './number-rules'
import { MESSAGE_RULES } from './message-rules'
import { PANEL_RULES } from './panel-rules'
import { PROGRAM_RULES } from './program-rules'
import { SAFETY_RULES } from './safety-rules'
import { VerdictCache } from './verdicts'
import { isSwitched } from '../design/outputs/traits'
import { mediumOf } from '../design/links/media'
import { isBattery } from '../design/sensors/traits'
import { classOf } from '../boards/classes'
import { actsOn } from '../design/targets'
import { BOX_RULES } from './box-rules'
import { sceneElsewhere } from './scene-rules'
import { wiredControls } from '../design/wired'

export interface Checked {
  findings: Finding[]
  verdicts: Record<string, Verdict>
}

/** All findings of a design, worst first, and its verdicts. */
export function check(design: Design, cache = new VerdictCache()): Checked {
  const verdicts = cache.all(design)
  const findings = [
    ...parts(design).flatMap(({ part }) =>
      RULES.flatMap(rule => rule(part, verdicts)).map(f =>
        part === design ? f : { ...f, path: pathInWhole(design, part, f.path) },
      ),
    ),
    ...WHOLE_RULES.flatMap(rule => rule(design, verdicts)),
  ]
  const rank = (f: Finding) => SEVERITIES.indexOf(f.severity)
  return {
    verdicts,
    findings: findings
      .map((f, i) => ({ f, i }))
      .sort((a, b) => rank(a.f) - rank(b.f) || a.i - b.i)
      .map(x => x.f),
  }
}

/** What the search found out about each panel. */
const stepVerdicts: Rule = (design, verdicts) =>
  Object.values(verdicts)
    .filter(v => design.loads.some(l => l.id === v.loadId))
    .flatMap(verdict =>
      verdict.surfaces.flatMap(s => {
        if (s.surfaceId === null || (s.state !== 'stale' && s.state !== 'unsure')) return []
        const panel = farSurfaceOf(design, s.surfaceId)
        const load = loadOf(design, verdict.loadId)
        const stale = s.state === 'stale'
        const why = reasonFor(design, panel, load.id)
        return [
          finding({
            code: stale ? 'surface-stale' : 'surface-unsure',
            severity: stale ? 'stop' : 'warn',
            path: `/surfaces/${design.surfaces.indexOf(panel)}`,
            title: stale
              ? `${panel.name} can show the wrong state of ${load.name} for good`
              : `${panel.name} can stay unsure about ${load.name}`,
            reason: `${why} Shortest of ${count(verdict.situations)} situations examined.`,
            loadId: load.id,
            surfaceId: panel.id,
            situations: verdict.situations,
            story: s.story ? [...s.story.steps.map(x => x.words), s.story.ending] : [],
            cause: why === '' ? null : { key: why, subject: load.name },
            fixes: stepFixes(design, panel, load.id, s),
          }),
        ]
      }),
    )

function reasonFor(design: Design, panel: FarSurface, loadId: string): string {
  const link = linkOf(design, panel.linkId)
  const message = maybeMessage(link, loadId)
  if (clashes(design, link).some(c => clashLoads(c).includes(loadId)))
    return 'Its codes cannot be told apart.'
  if (!message?.change && !message?.ack && !tellsOnConnect(link))
    return 'It hears nothing on this link.'
  if (!message?.change) return 'Nothing reports a change made elsewhere on this link.'
  if (!tellsOnConnect(link)) return 'What changes while the link is down is never told afterwards.'
  if (!message.ack && panel.belief.policy === 'confirm')
    return 'It waits for an answer that never comes when the command changes nothing.'
  return ''
}

/**
 * Fixes that bear on what is missing, the smallest first; each is tried in the tests to turn the
 * verdict.
 */
function stepFixes(
  design: Design,
  panel: FarSurface,
  loadId: string,
  verdict: SurfaceVerdict,
): Fix[] {
  const link = linkOf(design, panel.linkId)
  const message = maybeMessage(link, loadId)
  if (
    !message
    || verdict.state === 'in step'
    || clashes(design, link).some(c => clashLoads(c).includes(loadId))
  )
    return []
  const edits: Edit[] = []
  // On a wire or over datagrams nobody connects.
  const connects = mediumOf(link).connects
  if (connects && !tellsOnConnect(link))
    edits.push({ type: 'reportOnConnect', linkId: link.id, onConnect: true })
  const needsAck = !message.ack && panel.belief.policy === 'confirm'
  if (!message.change || needsAck)
    edits.push({
      type: 'setReport',
      linkId: link.id,
      loadId,
      ...(message.change ? {} : { change: true }),
      ...(needsAck ? { ack: true } : {}),
    })
  const words = [
    connects && !tellsOnConnect(link) ? 'on connect' : '',
    message.change ? '' : 'on change',
    needsAck ? 'each command' : '',
  ]
    .filter(Boolean)
    .join(' and ')
  const only = edits.length === 1 ? edits[0] : undefined
  const report: Fix[] = edits.length
    ? [
        {
          words: `Report ${words}`,
          edit: only ?? {
            type: 'together',
            edits,
            words: `${loadOf(design, loadId).name} on ${link.name}: reports ${words}`,
          },
        },
      ]
    : []
  const ask: Fix[] = panel.pollMs
    ? []
    : [{ words: 'Ask every 2 s', edit: { type: 'setPoll', surfaceId: panel.id, pollMs: 2000 } }]
  return [...report, ...ask]
}

/** A serial link tells on connect only where the board can sense that somebody connects. */
function tellsOnConnect(link: Link): boolean {
  return link.onConnect && sensesPanel(link)
}

const onConnectUnsensed: Rule = design =>
  design.links.flatMap(link =>
    mediumOf(link).connects && link.onConnect && !sensesPanel(link)
      ? [
          finding({
            code: 'connect-unsensed',
            severity: 'stop',
            ...onLink(design, link, '/statusPin'),
            title: `The board cannot know when ${linkTitle(design, link)} connects`,
            reason:
              "The state is to be sent on connect, but the module's connected line is not wired to a pin.",
            fixes: [freePin(design, SENSE)]
              .filter(pin => pin !== undefined)
              .map(pin => ({
                words: `Wire it to ${pinLabel(design, pin)}`,
                edit: { type: 'setLink', linkId: link.id, patch: { statusPin: pin } },
              })),
          }),
        ]
      : [],
  )

const pinsTwice: Rule = design => {
  const all = needs(design).filter(n => n.chip >= 0)
  return all.flatMap((need, i) => {
    const first = all.slice(0, i).find(n => n.chip === need.chip)
    // The lines of the serial port cannot move: the other one has to.
    const mover = need.fixed && first ? first : need
    const label = pinLabel(design, need.chip)
    return first
      ? [
          finding({
            code: 'pin-twice',
            severity: 'stop',
            path: mover.path,
            loadId: mover.loadId,
            title: `${label} serves twice`,
            reason: `${first.what} and ${need.what} are both on ${label}.`,
            fixes: pinFixes(design, mover),
          }),
        ]
      : []
  })
}

/** A pin that the board does not have, or whose hazards its use provokes. */
const pinHazards: Rule = design => {
  const board = boardOf(design)
  return needs(design).flatMap(need => {
    const where = { path: need.path, loadId: need.loadId }
    const pin = pinOf(board, need.chip)
    if (!pin)
      return [
        finding({
          ...where,
          code: 'pin-unknown',
          severity: 'stop',
          title: need.fixed
            ? `${board.name} has no serial port for ${need.what}`
            : `The board has no pin ${need.chip}`,
          reason: need.fixed
            ? `${need.what}: this board cannot carry a serial module.`
            : `${need.what} is on pin ${need.chip}; ${board.name} has ${board.pins
                .filter(p => p.can.length)
                .map(p => p.label)
                .join(', ')}.`,
          fixes: pinFixes(design, need),
        }),
      ]
    return troubles(pin, need.use)
      .filter(t => !need.fixed || t.severity !== 'note')
      .map(t =>
        finding({
          ...where,
          code: `pin-${t.hazard}`,
          severity: t.severity,
          title: `${need.what} on ${pin.label}`,
          reason: `${t.words}. Way out: ${t.wayOut}.`,
          fixes: pinFixes(design, need),
        }),
      )
  })
}

/** The best other pin for one need, when there is one that is better. */
function pinFixes(design: Design, need: Need): Fix[] {
  if (need.fixed) return []
  const best = bestPins(
    {
      ...design,
      controllers: design.controllers.map(c => ({
        ...c,
        kept: c.kept.filter(id => id !== need.id),
      })),
    },
    new Set([need.id]),
  ).assigned.find(a => a.needId === need.id)
  return best && best.chip !== need.chip
    ? [
        {
          words: `Move to ${pinLabel(design, best.chip)}`,
          edit: { type: 'setPins', pins: { [need.id]: best.chip } },
        },
      ]
    : []
}

/** A switch whose position decides is left behind by every change from elsewhere. */
const deadFlips: Rule = design =>
  handSurfaces(design).flatMap(s =>
    s.controls.flatMap(c => {
      if (c.kind !== 'latching' || c.acts !== 'position') return []
      const others =
        farSurfaces(design).some(p => maybeMessage(linkOf(design, p.linkId), c.loadId))
        || handSurfaces(design).some(o =>
          o.controls.some(d => d.id !== c.id && actsOn(design, d, c.loadId).length > 0),
        )
      if (!others) return []
      const load = loadOf(design, c.loadId)
      return [
        finding({
          code: 'dead-flip',
          severity: 'warn',
          path: `/surfaces/${design.surfaces.indexOf(s)}/controls/${s.controls.indexOf(c)}`,
          loadId: load.id,
          surfaceId: s.id,
          title: `A flip of ${load.name} can do nothing`,
          reason:
            'Its position decides. Switched from elsewhere, the lever stays behind, and the next flip asks for what is already so.',
          fixes: [
            {
              words: 'Let any movement toggle',
              edit: { type: 'setControl', controlId: c.id, patch: { acts: 'movement' } },
            },
          ],
        }),
      ]
    }),
  )

/** Presses that have to follow each other faster than the debounce allows. */
const hastyGestures: Rule = design =>
  handSurfaces(design).flatMap(s =>
    s.controls.flatMap(c => {
      if (c.kind !== 'push' || !c.gestures.some(g => finger(c, g.on).actsAfterMs === Infinity))
        return []
      const enough = Math.min(2000, Math.ceil((2 * c.debounceMs + 20) / 0.6 / 50) * 50)
      return [
        finding({
          code: 'gesture-hasty',
          severity: 'warn',
          path: `/surfaces/${design.surfaces.indexOf(s)}/controls/${s.controls.indexOf(c)}/doubleMs`,
          loadId: c.loadId,
          surfaceId: s.id,
          title: `Nobody can press ${loadOf(design, c.loadId).name} twice that fast`,
          reason: `Two presses have to begin within ${c.doubleMs} ms, and each of them and the gap between must last longer than ${c.debounceMs} ms.`,
          fixes: [
            {
              words: `Allow ${enough} ms between presses`,
              edit: { type: 'setControl', controlId: c.id, patch: { doubleMs: enough } },
            },
          ],
        }),
      ]
    }),
  )

const unreachedLoads: Rule = design =>
  design.loads.flatMap((load, i) => {
    const reached =
      design.links.some(l => maybeMessage(l, load.id))
      || handSurfaces(design).some(s => s.controls.some(c => actsOn(design, c, load.id).length > 0))
    return reached
      ? []
      : [
          finding({
            code: 'load-unreached',
            severity: 'warn',
            path: `/loads/${i}`,
            loadId: load.id,
            title: `Nothing switches ${load.name}`,
            reason: 'No hand control and no link commands it. Press + in one of its cells.',
          }),
        ]
  })

/** Switching mains, heat or machines from out of sight is named wherever it is designed. */
const outOfSight: Rule = design =>
  handSurfaces(design).flatMap(s =>
    s.inSight || s.controls.length === 0
      ? []
      : [
          finding({
            code: 'out-of-sight',
            severity: 'note',
            path: `/surfaces/${design.surfaces.indexOf(s)}`,
            surfaceId: s.id,
            title: `${s.name} cannot see what they switch`,
            reason: 'A person who presses there gets no sign of what happened.',
          }),
        ],
  )

/** Sums whose limits are passed. A quarter beyond a limit stops, less warns. */
const wiringSums: Rule = design => {
  const controls = wiredControls(design)
  return sumsOf(design).flatMap(s => {
    const wired = controls.find(c => c.control.id === s.controlId)
    const where = {
      path: s.path,
      loadId: s.loadId,
      surfaceId: wired?.surface.id ?? null,
    }
    const name = s.loadId
      ? (wired?.loadName ?? loadOf(design, s.loadId).name)
      : (design.sensors.find(x => x.id === s.sensorId)?.name
        ?? (s.path.startsWith('/front') ? design.front?.name : undefined)
        ?? 'the board')
    const part = s.controlId ? wired?.control : design.sensors.find(x => x.id === s.sensorId)
    const leadMeters = part && 'leadMeters' in part ? part.leadMeters : 0
    if (!s.sum)
      return [
        finding({
          ...where,
          code: `sum-${s.kind}`,
          severity: 'warn',
          title: `${s.title} of ${name} cannot be computed`,
          reason: s.refused,
        }),
      ]
    const cleansItself = (words: string) =>
      words === 'wetting current' && leadMeters <= ORDINARY_LEAD_M
    const much = (used: number) => (used > 1.25 ? 'stop' : 'warn')
    return s.sum.limits
      .filter(l => !l.ok)
      .map(l =>
        finding({
          // A contact on an ordinary lead cleans itself with less than the book asks for; on a long
          // one it does not.
          ...where,
          code: `sum-${s.kind}`,
          severity: cleansItself(l.words) ? 'note' : much(l.used),
          title: `${s.title} of ${name}: ${l.words} at ${percent(l.used)}`,
          reason: `${upperFirst(l.words)} is ${percent(l.used)} of what is allowed (${s.given.join('; ')}). Way out: ${l.wayOut}. Source: ${s.sum?.source}.`,
          fixes: s.fixes,
        }),
      )
  })
}

/** A lead within a room, m. */
const ORDINARY_LEAD_M = 10

/** The board in front needs a serial port of its own for the wire. */
const frontPort: Rule = design => {
  const ahead = frontOf(design)
  return ahead && !serialPins(ahead)
    ? [
        finding({
          code: 'front-port',
          severity: 'stop',
          path: '/front/board',
          title: `${ahead.name} has no serial port for the wire`,
          reason: 'The wire between the boards needs a receiving and a sending pin there.',
        }),
      ]
    : []
}

/**
 * Any pin of an 8-bit board can carry a slow serial line, counted out in software; above that it
 * loses characters.
 */
const softWire: Rule = design => {
  const { front } = design
  if (!classOf(boardOf(design)).oneAtATime) return []
  const port = serialPins(boardOf(design))
  const words = (baud: number) => ({
    code: 'wire-fast',
    severity: 'warn' as const,
    title: `${baud} baud is too fast for pins without a serial port`,
    reason: `The wire is on ordinary pins, whose bits are counted by the program; up to ${SOFT_BAUD} baud no character is lost to that.`,
  })
  const links = design.links.flatMap(l =>
    !isWire(l) || l.baud <= SOFT_BAUD || (l.receivePin === port?.receive && l.sendPin === port.send)
      ? []
      : [
          finding({
            ...words(l.baud),
            ...onLink(design, l, '/baud'),
            fixes: [
              {
                words: `Take ${SOFT_BAUD} baud`,
                edit: { type: 'setLink', linkId: l.id, patch: { baud: SOFT_BAUD } },
              },
            ],
          }),
        ],
  )
  return [
    ...links,
    ...(front && front.baud > SOFT_BAUD
      ? [
          finding({
            ...words(front.baud),
            path: '/front/baud',
            fixes: [
              {
                words: `Take ${SOFT_BAUD} baud`,
                edit: { type: 'setFront', front: { baud: SOFT_BAUD } },
              },
            ],
          }),
        ]
      : []),
  ]
}
const SOFT_BAUD = 19200

/** A driver has to fit what the output does. */
const driverFits: Rule = design =>
  design.loads.flatMap((load, i) => {
    const { output, wiring } = load
    const fits = driversOf(output)
    if (fits.includes(wiring.driver.kind)) return []
    return [
      finding({
        code: 'driver-unfit',
        severity: 'warn',
        path: `/loads/${i}/wiring/driver`,
        loadId: load.id,
        title: `${load.name} has a driver that does not fit`,
        reason: `It is ${KIND_WORDS[output.kind]}; ${DRIVER_WORDS[wiring.driver.kind]} cannot do that. Fitting: ${fits.map(kind => DRIVER_WORDS[kind]).join(', ')}.`,
        fixes: fits.slice(0, 1).map(kind => ({
          words: `Take ${DRIVER_WORDS[kind]}`,
          edit: { type: 'setWiring', loadId: load.id, patch: { driver: NEW_DRIVERS[kind] } },
        })),
      }),
    ]
  })

/** A solenoid that stays on burns. A pulse ends by itself, whoever forgets it. */
const solenoidOn: Rule = design =>
  design.loads.flatMap((load, i) =>
    load.wiring.load?.type === 'solenoid'
    && isSwitched(load.output)
    && (load.wiring.duty?.ratedShare ?? 0) < 1
      ? [
          finding({
            code: 'solenoid-on',
            severity: 'stop',
            path: `/loads/${i}/output`,
            loadId: load.id,
            title: `${load.name} can be left on`,
            reason:
              'It is a solenoid, and switched on it stays on. One not rated for lasting duty overheats within minutes. Way out: make it a pulse, or state a rated duty of 100 %.',
            fixes: [
              {
                words: 'Make it a pulse',
                edit: { type: 'setKind', loadId: load.id, kind: 'pulsed' },
              },
            ],
          }),
        ]
      : [],
  )

/** Cautions where work can hurt someone. They come back with every design that has such a part. */
const cautions: Rule = design =>
  design.loads.flatMap((load, i) => [
    ...mainsCaution(load, i),
    ...load.wiring.dangers.map(danger =>
      finding({
        code: `caution-${danger}`,
        severity: 'note',
        path: `/loads/${i}/wiring/dangers`,
        loadId: load.id,
        title: `${load.name}: ${DANGERS[danger].title}`,
        reason: DANGERS[danger].reason,
      }),
    ),
  ])

const DANGERS: Record<Danger, { title: string; reason: string }> = {
  heat: {
    title: 'heat',
    reason:
      "A heater or kiln keeps a limiter of its own that cuts the power by itself; a panel or a timer is never the only thing between it and a fire. Follow the maker's instructions and the local code.",
  },
  gas: {
    title: 'gas',
    reason:
      'Gas stays with approved valves and flame guards that close without power, fitted by a licensed person. Nolvi may show their state and never replaces them.',
  },
  motion: {
    title: 'motion',
    reason:
      'What moves can crush or cut: guards, end contacts, an emergency stop that cuts the power, and no start from out of sight.',
  },
  lock: {
    title: 'a lock',
    reason:
      'Nobody may be locked in: from inside it opens by hand without power, and a fire alarm releases it where the local code says so. A fixed word opens it to anyone who recorded it once.',
  },
  water: {
    title: 'water',
    reason:
      'A valve or pump that stays on floods: it ends by a time limit or a float, and closes without power. Low voltage only where it is wet.',
  },
}

/** Batteries are named where one is measured. */
const batteryCautions: Rule = design =>
  design.sensors.flatMap((s, i) =>
    isBattery(s)
      ? [
          finding({
            code: 'caution-battery',
            severity: 'note',
            path: `/sensors/${i}`,
            title: `${s.name}: a battery`,
            reason:
              'A battery gives far more current than a wire stands: fuse it at its pole, charge it only with a charger for its kind, and never below its empty voltage.',
          }),
        ]
      : [],
  )

const mainsCaution = (load: Load, i: number): Finding[] =>
  load.wiring.load?.mains
    ? [
        finding({
          code: 'caution-mains',
          severity: 'note',
          path: `/loads/${i}/wiring/load`,
          loadId: load.id,
          title: `${load.name} is on mains`,
          reason:
            'Its wiring, fuse and enclosure are for a qualified person under the local code. Nolvi draws it as a closed box and designs the low-voltage side only. A panel never replaces an emergency stop.',
        }),
      ]
    : []

function percent(used: number): string {
  return used > 100 ? 'far more' : `${Math.round(used * 100)} %`
}

/** Of the design as a whole, not of one controller. */
const WHOLE_RULES: readonly Rule[] = [networkNames, sceneElsewhere, ...ADDRESS_RULES]
const RULES: readonly Rule[] = [
  ...MESSAGE_RULES,
  ...LINK_RULES,
  ...AUTH_RULES,
  ...NUMBER_RULES,
  ...BOX_RULES,
  stepVerdicts,
  onConnectUnsensed,
  pinsTwice,
  pinHazards,
  deadFlips,
  hastyGestures,
  unreachedLoads,
  ...PANEL_RULES,
  wiringSums,
  frontPort,
  softWire,
  driverFits,
  solenoidOn,
  outOfSight,
  ...SAFETY_RULES,
  ...PROGRAM_RULES,
  cautions,
  batteryCautions,
]
