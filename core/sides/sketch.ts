/**
 * The controller's program for the 8-bit 5 V board with a serial Bluetooth module on its hardware
 * serial port. It is written line by line after `core/controller/step.ts`; a test runs both on the
 * same events and compares them.
 */
import { handSurfaces } from '../design/find'
import { boardOf } from '../design/pins'
import { fingerprint } from '../design/fingerprint'
import { LINK_WORDS } from '../design/links/rows'
import { carriedLink, onSerialPort, uncarriedLinks } from './carried-link'
import type { Control, Design, Load, Message, SerialLink } from '../design/schema'
import { linesOf, valuesOf } from '../design/values'
import { practiceSecret, signatureBytes } from '../messages/sealing'
import { startsTimers, TIME_LENGTH } from '../messages/times'
import { commands, errorText, helloCode, rows, sceneCodes, SPEAKS } from '../messages/table'
import { bodyOf, endOf } from '../design/wire'
import { cppComment, cppString } from './escape'
import { SKETCH_BODY } from './sketch-body'
import { sketchLacks } from './sketch-lacks'
import { isBluetooth, structureOn, isSigned } from '../design/links/traits'
import { figuresOf } from './outputs'
import { classOf } from '../boards/classes'
import { activeLevelOf } from '../design/outputs/traits'
import { FIRST_EXPANDED } from '../boards/schema'

/** The program of an 8-bit board, as one C++ file. What it leaves out: `sketchLacks`. */
export function sketch(design: Design): string {
  const link = carriedLink(design)
  const statusPin = link?.kind === 'bluetooth-serial' ? link.statusPin : null
  const soft = link?.kind === 'wire' && !onSerialPort(design, link)
  const scenes = link ? sceneCodes(design, link) : []
  const hello = link ? bodyOf(link, helloCode(link), 'command') : ''
  const error = link ? errorText(link) : ''
  const auth = link?.auth ?? { kind: 'none' as const }
  const inputs = handSurfaces(design).flatMap(s => s.controls)
  const loadIndex = new Map(design.loads.map((l, i) => [l.id, i]))
  const valueIndex = (loadId: string, value: string) =>
    valuesOf((design.loads[loadIndex.get(loadId) ?? 0] as Load).output).indexOf(value)
  const asks = (loadId: string, value: string) => ASKS[value] ?? String(valueIndex(loadId, value))
  const codes = link
    ? [
        ...commands(design, link).map(c => ({
          body: c.body,
          load: String(loadIndex.get(c.loadId) ?? 0),
          value: asks(c.loadId, c.value),
          report: bodyOf(link, c.code, 'report'),
        })),
        ...scenes.map((s, i) => ({ body: s.body, load: 'SCENE', value: String(i), report: '' })),
        { body: bodyOf(link, link.askCode, 'command'), load: 'ASK', value: '0', report: '' },
        ...(hello ? [{ body: hello, load: 'HELLO', value: '0', report: '' }] : []),
      ]
    : []
  const end = link ? endOf(link) : ''
  const packed = link?.dialect.kind === 'packed'
  const messages = new Map<string, Message>(
    link ? rows(design, link).map(r => [r.load.id, r.message]) : [],
  )
  const longest = Math.max(1, ...codes.map(c => c.body.length))
  const longestReport = Math.max(1, ...codes.map(c => c.report.length))
  const stops = design.loads.flatMap(l => (l.output.kind === 'level' ? l.output.stops : []))
  const others = uncarriedLinks(design)
  const hasGestures = inputs.some(c => c.kind === 'push' && c.gestures.length > 0)
  const has = (kind: Load['output']['kind']) =>
    design.loads.some(l => l.output.kind === kind) ? 1 : 0
  const timers = design.loads.some(l => l.output.kind === 'switched' && l.output.timers)
  let firstStop = 0
  return [
    `// ${cppComment(design.name)}: controller for the 8-bit 5 V board, made by Nolvi. Do not edit: change the design.`,
    `// Fingerprint ${fingerprint(design)}: the panels of this design carry the same one.`,
    ...linkComment(link),
    ...others.map(
      l =>
        `// Link "${cppComment(l.name)}" (${LINK_WORDS[l.kind]}) is not carried by this program.`,
    ),
    ...sketchLacks(design).map(l => `// Not done by this program yet: ${cppComment(l.words)}.`),
    '// Mains, heat and motors: wiring by a qualified person, to the local code, fused and enclosed.',
    '#include <Arduino.h>',
    '#include <EEPROM.h>',
    ...(soft
      ? [
          '#include <SoftwareSerial.h>',
          '',
          '// The wire is on ordinary pins: the program counts out its bits.',
          `static SoftwareSerial wire(${link.receivePin}, ${link.sendPin});`,
        ]
      : []),
    ...(auth.kind === 'none'
      ? []
      : [
          '',
          '// The secret stands in secrets.h beside this file: #define SECRET "...". To try the program on the bench, where nothing is guarded, write',
          '// #define PRACTICE above this line: everybody knows the practice secret.',
          '#if __has_include("secrets.h")',
          '#include "secrets.h"',
          '#endif',
          '#ifndef SECRET',
          '#ifdef PRACTICE',
          '#warning "PRACTICE BUILD: the secret is public and protects nothing. Never leave it on a board that guards something."',
          `#define SECRET ${cppString(link ? practiceSecret(link) : '')}`,
          '#else',
          '#error "No secret: take secrets.h from Build (tick the secret in) and put it beside this file, or #define PRACTICE to try it without protection."',
          '#endif',
          '#endif',
        ]),
    `#define PORT ${soft ? 'wire' : 'Serial'}`,
    '',
    `static const char FINGERPRINT[] = ${cppString(fingerprint(design))};`,
    `#define LOADS ${design.loads.length}`,
    `#define INPUTS ${inputs.length}`,
    `#define CODES ${codes.length}`,
    `typedef uint${codes.length > 255 ? 16 : 8}_t CodeIndex;`,
    `#define LONGEST ${longest}`,
    `#define BAUD ${link?.baud ?? 9600}L`,
    `#define STATUS_PIN ${statusPin ?? -1}`,
    `#define ON_CONNECT ${link?.onConnect ? 1 : 0}`,
    `#define MARK ${cppString(link?.reportMark ?? '+')}`,
    `#define END ${cppString(end, true)}`,
    `#define END_LENGTH ${end.length}`,
    `#define LOOSE_SPACES ${link?.dialect.kind === 'json' ? 1 : 0}`,
    `#define OWN_REPORTS ${packed ? 1 : 0}`,
    `#define AUTH ${['none', 'word', 'pin', 'counter'].indexOf(auth.kind)}`,
    ...(auth.kind === 'counter'
      ? [`#define TAG_BYTES ${auth.tagBytes}`, `#define WINDOW ${auth.window}`]
      : []),
    `#define PROOF ${link ? signatureBytes(link) + (startsTimers(link) ? TIME_LENGTH : 0) : 0}`,
    `#define HAS_HELLO ${hello ? 1 : 0}`,
    `#define HAS_SCENES ${scenes.length ? 1 : 0}`,
    `#define ERROR_LENGTH ${error.length}`,
    `#define ERROR_TEXT ${cppString(error, true)}`,
    `#define HAS_PULSED ${has('pulsed')}`,
    `#define HAS_HELD ${has('held')}`,
    `#define HAS_OPPOSED ${has('opposed')}`,
    `#define HAS_LEVEL ${has('level')}`,
    `#define HAS_FOLLOWER ${has('follower')}`,
    `#define HAS_TIMED ${timers ? 1 : 0}`,
    `#define TIMES_GIVEN ${timers && link && startsTimers(link) ? 1 : 0}`,
    `#define HAS_GESTURES ${hasGestures ? 1 : 0}`,
    '#define HAS_MOTION (HAS_TIMED || HAS_PULSED || HAS_HELD || HAS_OPPOSED || HAS_LEVEL || HAS_FOLLOWER)',
    '',
    'enum { ASKS_AFTER = 248, ASKS_FOR, ASKS_BLINK, ASKS_NEXT, ASKS_DOWN, ASKS_UP, ASKS_TOGGLE };',
    'enum { SWITCHED, PULSED, HELD, OPPOSED, LEVEL, FOLLOWER };',
    'enum { POWER_OFF, POWER_ON, POWER_LAST };',
    'enum { PUSH, LATCHING_POSITION, LATCHING_MOVEMENT };',
    '#define ASK 255',
    '#define HELLO 254',
    '#define SCENE 253',
    '#define NO_PIN 255',
    '// a: length, time-out, dead time, time for one per cent, or pulse; b: run limit or gap; c: steps per second or minimum.',
    'struct Load { uint8_t kind, pin, pin2, pin3, active, powerUp, values; uint32_t saveDelayMs, a, b; uint16_t c, firstStop; bool flag, carried, ack, change; };',
    'struct Input { uint8_t pin, load, kind, asks; uint16_t debounceMs, lockoutMs; };',
    'struct Code { uint8_t length; char text[LONGEST + 1]; uint8_t load, value; };',
    '',
    'static const Load loads[LOADS] PROGMEM = {',
    ...design.loads.map(l => {
      const row = loadRow(l, messages.get(l.id), firstStop)
      if (l.output.kind === 'level') firstStop += l.output.stops.length
      return `  ${row} // ${cppComment(l.name)}`
    }),
    '};',
    'static const Input inputs[INPUTS + 1] PROGMEM = {',
    ...inputs.map(
      c =>
        `  { ${c.pin}, ${loadIndex.get(c.loadId)}, ${inputKind(c)}, ${asksRow(c, valueIndex)}, ${c.debounceMs}, ${c.kind === 'push' ? c.lockoutMs : 0} }, // ${cppComment(c.id)}`,
    ),
    '  { 0, 0, 0, 0, 0, 0 }',
    '};',
    ...(hasGestures
      ? [
          '// What a second press, a third one and holding down do; load 255: nothing.',
          'struct Gesture { uint8_t load, asks; };',
          'struct Gestures { uint16_t doubleMs, holdMs; Gesture more[3]; };',
          'static const Gestures gestures[INPUTS + 1] PROGMEM = {',
          ...inputs.map(c => `  ${gestureRow(c, loadIndex, valueIndex)}, // ${cppComment(c.id)}`),
          '  { 0, 0, { { 255, 0 }, { 255, 0 }, { 255, 0 } } }',
          '};',
        ]
      : []),
    'static const Code codes[CODES + 1] PROGMEM = {',
    ...codes.map(c => `  { ${c.body.length}, ${cppString(c.body, true)}, ${c.load}, ${c.value} },`),
    '  { 0, "", 0, 0 }',
    '};',
    ...(packed
      ? [
          `struct Report { uint8_t length; char text[${longestReport + 1}]; };`,
          '// By code: what is sent when a load has that value.',
          'static const Report reports[CODES + 1] PROGMEM = {',
          ...codes.map(c => `  { ${c.report.length}, ${cppString(c.report, true)} },`),
          '  { 0, "" }',
          '};',
        ]
      : []),
    ...(scenes.length
      ? [
          '// What each scene tells; a load of 255 ends it.',
          'struct Setting { uint8_t load, value; };',
          `static const Setting settings[] PROGMEM = { ${scenes.flatMap(({ scene }) => [...scene.sets.filter(s => loadIndex.has(s.loadId)).map(s => `{ ${loadIndex.get(s.loadId)}, ${valueIndex(s.loadId, s.value)} }`), '{ 255, 0 }']).join(', ')} };`,
        ]
      : []),
    ...(link && hello
      ? [
          `#define HELLO_START ${cppString(helloStart(link, fingerprint(design)))}`,
          `#define HELLO_END ${cppString(link.dialect.kind === 'json' ? '}' : '')}`,
        ]
      : []),
    ...(stops.length ? [`static const uint8_t stops[] PROGMEM = { ${stops.join(', ')} };`] : []),
    SKETCH_BODY,
  ].join('\n')
}

/** The answer to who is there, up to the count of starts. */
function helloStart(link: SerialLink, print: string): string {
  return link.dialect.kind === 'json'
    ? `{"hello":"${SPEAKS}","fingerprint":"${print}","starts":`
    : `${link.reportMark}hello ${SPEAKS} ${print} `
}

function loadRow({ output }: Load, message: Message | undefined, firstStop: number): string {
  const lines = linesOf(output)
  const pin = (i: number) => lines[i]?.pin ?? 'NO_PIN'
  const { a, b = 0, c = 0, flag = false } = figuresOf(output) ?? { a: 0 }
  const [powerUp, saveDelayMs] =
    'powerUp' in output ? [output.powerUp, output.saveDelayMs] : ['off', 0]
  return `{ ${output.kind.toUpperCase()}, ${pin(0)}, ${pin(1)}, ${pin(2)}, ${activeLevelOf(output).toUpperCase()}, POWER_${powerUp.toUpperCase()}, ${valuesOf(output).length}, ${saveDelayMs}UL, ${a}UL, ${b}UL, ${c}, ${output.kind === 'level' ? firstStop : 0}, ${flag}, ${message !== undefined}, ${message?.ack === true}, ${message?.change === true} },`
}

const ASKS: Record<string, string> = {
  after: 'ASKS_AFTER',
  for: 'ASKS_FOR',
  blink: 'ASKS_BLINK',
  toggle: 'ASKS_TOGGLE',
  up: 'ASKS_UP',
  down: 'ASKS_DOWN',
  next: 'ASKS_NEXT',
}
type ValueIndex = (loadId: string, value: string) => number

function asksRow(
  { loadId, asks }: Pick<Control, 'loadId' | 'asks'>,
  valueIndex: ValueIndex,
): string {
  return ASKS[asks] ?? String(valueIndex(loadId, asks))
}

function gestureRow(
  control: Control,
  loadIndex: ReadonlyMap<string, number>,
  valueIndex: ValueIndex,
): string {
  const more = (['double', 'triple', 'hold'] as const).map(on => {
    const g = control.kind === 'push' ? control.gestures.find(x => x.on === on) : undefined
    return g && 'loadId' in g
      ? `{ ${loadIndex.get(g.loadId)}, ${asksRow(g, valueIndex)} }`
      : '{ 255, 0 }'
  })
  return `{ ${control.kind === 'push' ? `${control.doubleMs}, ${control.holdMs}` : '0, 0'}, { ${more.join(', ')} } }`
}

/**
 * True when the program can be made: it needs at least one load, and a board of the 8-bit class;
 * signed structures are not made.
 */
export function canSketch(design: Design): boolean {
  const link = carriedLink(design)
  return (
    design.loads.length > 0
    && classOf(boardOf(design)).program
    && unsketched(design) === undefined
    && !(link && isSigned(link.auth) && structureOn(link))
    && link?.auth.kind !== 'time'
  )
}

/** The first load that the program cannot drive at all: a kind it does not know, a further pin. */
export function unsketched(design: Design): Load | undefined {
  return design.loads.find(
    ({ output }) =>
      figuresOf(output) === null || linesOf(output).some(l => l.pin >= FIRST_EXPANDED),
  )
}

function inputKind(control: Control): string {
  if (control.kind === 'push') return 'PUSH'
  return control.acts === 'position' ? 'LATCHING_POSITION' : 'LATCHING_MOVEMENT'
}

function linkComment(link: SerialLink | undefined): string[] {
  if (!link) return ['// No serial link in this design.']
  if (!isBluetooth(link)) return [`// It listens on the serial wire "${cppComment(link.name)}".`]
  return [
    '// The Bluetooth module sits on pins 0 and 1: unplug it while uploading.',
    ...(link.statusPin === null
      ? ['// Its connected line is not wired: the board cannot know when a phone connects.']
      : []),
  ]
}
