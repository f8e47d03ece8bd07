/**
 * Findings about programs: boards for which none is made, what the one that is made does not do,
 * and what the chip cannot do at once.
 */
import { onSerialPort } from '../sides/program/carried'
import {
  canProgram,
  enginesOf,
  isSmall,
  programmed,
  programmedFront,
  targetOf,
  unproved,
  whyNoBox,
} from '../sides/program/can-program'
import { wholeOf } from '../design/part'
import { isBoxPart } from '../sides/program/box'
import { imageFit } from '../sides/program/image-fit'
import { engineOutput } from '../sides/program/outputs'
import { FLASH_OFF, programRoom } from '../sides/program/room'
import { programLacks } from '../sides/program/lacks'
import { smallMemory } from '../sides/program/wifi-room'
import { handSurfaces, linkOf, linkTitle, farSurfaces } from '../design/find'
import { boardOf, frontOf } from '../design/pins'
import type { SerialLink } from '../design/schema'
import { exactWireMs } from '../links/timing'
import { BUFFER_BYTES, SIGNATURE_MS } from '../proof/assumptions'
import { longestText } from '../messages/sealing'
import { commands, reportText, rows } from '../messages/table'
import { spokenValues } from '../design/values'
import { finding, onLink, type Finding, type Rule } from './finding'
import { isLevel, isStepper } from '../design/outputs/traits'
import {
  isDatagram,
  isLowEnergy,
  isWire,
  speaksBytes,
  speaksRoutes,
  isShell,
} from '../design/links/traits'
import { classOf } from '../boards/classes'
import { kilobytes } from '../units/format'

/** What will not exist is said, not left out in silence. */
const noProgram: Rule = design => {
  const found: Finding[] = []
  const say = (path: string, title: string, reason: string, surfaceId: string | null = null) =>
    found.push(
      finding({
        code: 'no-program',
        severity: 'warn',
        path,
        surfaceId,
        title,
        reason: `${reason} Bench, proof and stand-in play what it should do; the message sheet and the wiring table say what a program of your own has to keep.`,
      }),
    )
  const board = boardOf(design)
  const link = unproved(design)
  const unknown = design.loads.find(l => engineOutput(l.output) === null)
  const isRouter = classOf(board).program === 'router'
  if (design.loads.length && (!classOf(board).program || (isRouter && !canProgram(design))))
    say(
      '/controllers/0/board',
      `No program is made for ${design.controllers[0]?.name ?? board.name}`,
      isRouter
        ? `The script of a router switches relays without timers or limits, by a console over a shell; this design asks for something else of: ${board.name}.`
        : `Programs are made for 8-bit 5 V boards, boards with Wi-Fi, Linux computers and consoles of routers; this is: ${board.name}.`,
    )
  else if (unknown)
    say(
      `/loads/${design.loads.indexOf(unknown)}/output`,
      `No program is made for ${design.controllers[0]?.name ?? board.name}`,
      `It does not know what ${unknown.name} does.`,
    )
  else if (design.loads.length && link)
    say(
      // The wire to a board in front is no link of the document.
      `/links/${Math.max(0, design.links.indexOf(link))}/auth`,
      `No program is made for ${design.controllers[0]?.name ?? board.name}`,
      `Commands signed with the time, as on ${linkTitle(design, link)}, need a clock, and its class has none.`,
    )
  const ahead = frontOf(design)
  if (ahead && design.front && !programmedFront(design))
    say(
      '/front',
      `No program is made for ${design.front.name}`,
      `It takes what comes over the network and passes it on over the wire. Programs for that are made for boards with Wi-Fi and Linux computers, where no command is signed with the time on a board without a clock; this is: ${ahead.name}.`,
    )
  for (const s of farSurfaces(design))
    if (s.kind === 'peer') {
      const why = whyNoBox(wholeOf(design), s)
      if (why !== null)
        say(
          `/surfaces/${design.surfaces.indexOf(s)}`,
          `No program is made for ${s.name}`,
          why,
          s.id,
        )
    }
  return found
}

/**
 * The program that is made does less than the design asks for: whoever builds it has to know before
 * it switches anything.
 */
const programLess: Rule = design => {
  const lacks = enginesOf(design).flatMap(programLacks)
  const [first] = lacks
  return first
    ? [
        finding({
          code: 'program-lacks',
          severity: 'stop',
          path: first.path,
          title: `The program does not do ${lacks.length === 1 ? first.words : `${lacks.length} things that the design asks for`}`,
          reason: `Bench, stand-in and proof do; the program made here does not: ${lacks.map(l => l.words).join('; ')}. Do not count on them on the board.`,
        }),
      ]
    : []
}

/** A small board with Wi-Fi that runs out of memory starts anew, some time, with many connected. */
const programTight: Rule = design => {
  const memory = smallMemory(enginesOf(design))
  const board = design.controllers[0]?.name ?? boardOf(design).name
  return memory && memory.takes > memory.has
    ? [
        finding({
          code: 'program-too-large',
          severity: 'warn',
          path: '/controllers/0/board',
          title: `The program may be short of memory on ${board}`,
          reason: `It takes about ${kilobytes(memory.takes)} of memory; of the 80 kB of such a board its environment and the radio take about half, and each connection some. Most of it is what waits to be said: the longer the whole state is, the more. Way out: shorter codes of reports; loads and sensors on two boards; or a board with two radios.`,
        }),
      ]
    : []
}

/** While a small board with Wi-Fi reaches for another one, nothing else of it goes on. */
const asksAndWaits: Rule = design => {
  const [own, ...others] = enginesOf(design)
  const link = others.flatMap(o => o.links.filter(speaksRoutes))[0]
  if (!own || !link || isBoxPart(own) || targetOf(own) !== 'wifi-small') return []
  const board = design.controllers[0]?.name ?? boardOf(design).name
  return [
    finding({
      code: 'program-waits',
      severity: 'warn',
      path: '/controllers/0/board',
      title: `Loads of ${board} stand still while it connects`,
      reason: `A small board with Wi-Fi waits for up to half a second each time that it reaches for the board that it asks on ${link.name}: timers, limits and hand controls of its own loads are late by as much. Way out: ask by datagrams or by radio from board to board, or take a board with two radios.`,
    }),
  ]
}

/** What does not fit is said before anybody tries to upload it. */
const programRoomy: Rule = design => {
  const made = programmed(design)
  const room = made && isSmall(made) ? programRoom(made) : null
  if (!room) return []
  const { flash, memory, has } = room
  const beyond = [
    flash * (1 + FLASH_OFF) > has.flash
      ? `about ${kilobytes(flash)} of program memory, where there are ${kilobytes(has.flash)}`
      : '',
    memory > has.memory
      ? `${memory} bytes of memory, where ${has.memory} are left beside what calls need`
      : '',
  ].filter(Boolean)
  const surely = flash * (1 - FLASH_OFF) > has.flash || memory > has.memory
  const board = design.controllers[0]?.name ?? boardOf(design).name
  return beyond.length
    ? [
        finding({
          code: 'program-too-large',
          severity: surely ? 'stop' : 'warn',
          path: '/controllers/0/board',
          title: `The program ${surely ? 'does' : 'may'} not fit ${board}`,
          reason: `It takes ${beyond.join(', and ')}. Way out: fewer links, or none with proofs; sensors on a board of their own; a shorter queue; or another board.`,
        }),
      ]
    : []
}

/** Whoever has no compiler takes a program that is made beforehand, where one has room. */
const readyMade: Rule = design => {
  const { lacks } = isSmall(design) ? imageFit(design) : { lacks: [] }
  const board = design.controllers[0]?.name ?? boardOf(design).name
  return lacks.length
    ? [
        finding({
          code: 'program-not-ready-made',
          severity: 'note',
          path: '/controllers/0/board',
          title: `No ready-made program holds all of ${board}`,
          reason: `It can be compiled from its folder. The ready-made one that comes closest has no room for: ${lacks.join('; ')}. Way out for whoever has no compiler: leave that out.`,
        }),
      ]
    : []
}

/**
 * Pins whose dimming is made by the timer that also makes tones, by chip number, on the 8-bit
 * class.
 */
const TONE_TIMER_PINS: readonly number[] = [3, 11]

/** Steps are made by the one tone channel of an 8-bit chip, and its timer dims two pins. */
const timersCollide: Rule = design => {
  if (!classOf(boardOf(design)).oneAtATime) return []
  const steppers = design.loads.filter(l => isStepper(l.output))
  const [first, ...more] = steppers
  if (!first) return []
  const path = (id: string) => `/loads/${design.loads.findIndex(l => l.id === id)}/output`
  return [
    ...more.map(l =>
      finding({
        code: 'timer-shared',
        severity: 'stop',
        path: path(l.id),
        loadId: l.id,
        title: `${l.name} and ${first.name} cannot step on one board`,
        reason:
          'Steps come from the tone channel of the chip, and there is one: while the one runs, the other stands still though the program believes that it moves. Way out: a second board for it, or another drive.',
      }),
    ),
    ...design.loads
      .filter(l => isLevel(l.output) && TONE_TIMER_PINS.includes(l.output.pin))
      .map(l =>
        finding({
          code: 'timer-shared',
          severity: 'stop',
          path: `${path(l.id)}/pin`,
          loadId: l.id,
          title: `${l.name} goes dark while ${first.name} moves`,
          reason: `Pin ${'pin' in l.output ? l.output.pin : ''} is dimmed by the timer that makes the steps of ${first.name}. Way out: a dimming pin of another timer, 5, 6, 9 or 10.`,
        }),
      ),
  ]
}

/** Bits that the program counts out by itself go one way at a time. */
const countedOutWire: Rule = design =>
  design.links.flatMap(link => {
    if (!isWire(link) || !classOf(boardOf(design)).oneAtATime || onSerialPort(design, link))
      return []
    const telling = rows(design, link).filter(r => r.message.ack || r.message.change)
    if (!telling.length) return []
    const longest = Math.max(
      ...telling.flatMap(({ load, message }) =>
        spokenValues(load.output).map(v =>
          exactWireMs(design, link, reportText(link, load, message, v)),
        ),
      ),
    )
    return [
      finding({
        code: 'wire-burst',
        severity: 'warn',
        ...onLink(design, link, '/receivePin'),
        title: `A second command in a burst is lost on ${link.name}`,
        reason: `The wire is on ordinary pins, whose bits the program counts out one way at a time. While it tells what it did (up to ${longest.toFixed(1)} ms) it hears nothing, so a command that follows at once is lost. Way out: the serial port of the board, or a sender that waits for each answer.`,
      }),
    ]
  })

/** A signature keeps a small board busy longer than its serial buffer lasts. */
const slowSignatures: Rule = design =>
  design.links.flatMap(link => {
    if (link.auth.kind !== 'counter' || !('baud' in link) || !classOf(boardOf(design)).oneAtATime)
      return []
    const longest = Math.max(
      0,
      ...commands(design, link).map(c => longestText(link, c.code).length),
    )
    const arriving = Math.floor((SIGNATURE_MS * (link as SerialLink).baud) / 10_000)
    const kept = longest ? Math.floor(BUFFER_BYTES / longest) : 0
    if (!longest || arriving <= BUFFER_BYTES) return []
    const surface = farSurfaces(design).find(s => linkOf(design, s.linkId) === link)
    return [
      finding({
        code: 'signature-slow',
        severity: 'warn',
        ...onLink(design, link, '/auth'),
        title: `A burst of signed commands loses some on ${linkTitle(design, link)}`,
        reason: `A signature takes this class of board ${SIGNATURE_MS} ms, in which ${arriving} bytes can arrive; its buffer keeps ${BUFFER_BYTES}, ${kept === 1 ? 'one command' : `${kept} commands`} of ${longest} bytes. More than that in a burst is lost. Way out: a panel that waits for each answer${surface && surface.belief.policy !== 'confirm' ? '' : ', as this one does for each key'}, no faders, or a faster board.`,
        fixes:
          surface && surface.belief.policy !== 'confirm'
            ? [
                {
                  words: 'Wait for each answer',
                  edit: { type: 'setBelief', surfaceId: surface.id, patch: { policy: 'confirm' } },
                },
              ]
            : [],
      }),
    ]
  })

/** Pages reach boards by what browsers speak. */
const pageUnopenable: Rule = design =>
  farSurfaces(design).flatMap((s): Finding[] => {
    if (s.kind !== 'panel') return []
    const link = linkOf(design, s.linkId)
    const where = { path: `/surfaces/${design.surfaces.indexOf(s)}/linkId`, surfaceId: s.id }
    if (isDatagram(link))
      return [
        finding({
          ...where,
          code: 'page-unopenable',
          severity: 'stop',
          title: `No browser can use the page of ${s.name}`,
          reason: `Browsers speak neither datagrams nor radio from board to board; on a stand-in the page works, on the real board it never connects. Way out: HTTP, or a box of its own in the place of the page.`,
        }),
      ]
    if (isShell(link))
      return [
        finding({
          ...where,
          code: 'page-unopenable',
          severity: 'warn',
          title: `No browser can use the page of ${s.name}: it is a console`,
          reason: `Pages cannot open a shell; on a stand-in the page works. Log in as ${link.account} at ${link.address} and type the codes of the message sheet. Way out for whoever wants keys: a panel over HTTP.`,
        }),
      ]
    if (speaksBytes(link) && !isLowEnergy(link) && s.device.startsWith('phone'))
      return [
        finding({
          ...where,
          code: 'page-unopenable',
          severity: 'warn',
          title: `No phone can use the page of ${s.name} over ${isWire(link) ? 'a wire' : 'serial Bluetooth'}`,
          reason: `Browsers of phones give pages no serial ports; those of desktop computers do. Way out: HTTP for phones, or a terminal on the phone with the codes of the message sheet.`,
        }),
      ]
    return []
  })

/** A contact bounces for some milliseconds whenever it closes or opens. */
const noDebounce: Rule = design =>
  handSurfaces(design).flatMap(s =>
    s.controls.flatMap((c, j) => {
      if (c.debounceMs > 0) return []
      const locked = c.kind === 'push' && c.lockoutMs > 0
      return [
        finding({
          code: 'debounce-none',
          severity: locked ? 'note' : 'warn',
          path: `/surfaces/${design.surfaces.indexOf(s)}/controls/${j}/debounceMs`,
          surfaceId: s.id,
          loadId: c.loadId,
          title: `A bounce of the ${c.kind === 'push' ? 'button' : 'switch'} on ${s.name} counts as a press`,
          reason: `Contacts bounce for 1 to 20 ms. Without a debounce time each bounce is an edge of its own${locked ? '; the lock-out hides those after a press, not those of letting go' : ', and a toggle lands anywhere'}.`,
          fixes: [
            {
              words: 'Debounce for 30 ms',
              edit: { type: 'setControl', controlId: c.id, patch: { debounceMs: 30 } },
            },
          ],
        }),
      ]
    }),
  )

export const PROGRAM_RULES: readonly Rule[] = [
  noProgram,
  programLess,
  programRoomy,
  programTight,
  asksAndWaits,
  readyMade,
  timersCollide,
  countedOutWire,
  slowSignatures,
  pageUnopenable,
  noDebounce,
]
