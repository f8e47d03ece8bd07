/**
 * The controller's program for the 8-bit 5 V board with a serial Bluetooth module on its hardware serial port. It is
 * written line by line after `core/controller/step.ts`; a test runs both on the same events and compares them.
 */
import { handSurfaces } from '../design/find'
import { boardOf } from '../design/pins'
import { fingerprint } from '../design/fingerprint'
import type { Design, SerialLink } from '../design/schema'
import { commands, rows } from '../messages/table'
import { cppComment, cppString } from './escape'

export function sketch(design: Design): string {
  const link = design.links.find((l): l is SerialLink => l.kind === 'bluetooth-serial')
  const inputs = handSurfaces(design).flatMap(s => s.controls)
  const loadIndex = new Map(design.loads.map((l, i) => [l.id, i]))
  const unique = <T extends { code: string }>(list: T[]) => list.filter((c, i) => list.findIndex(d => d.code === c.code) === i)
  const codes = link ? unique([...commands(design, link).map(c => ({ code: c.code, load: loadIndex.get(c.loadId) ?? 0, value: c.value === 'on' ? 1 : 0 })), { code: link.askCode, load: 255, value: 0 }]) : []
  const messages = new Map(link ? rows(design, link).map(r => [r.load.id, r.message]) : [])
  const longest = Math.max(1, ...codes.map(c => c.code.length))
  const others = design.links.filter(l => l !== link)
  return [
    `// ${cppComment(design.name)}: controller for the 8-bit 5 V board, made by Nolvi. Do not edit: change the design.`,
    `// Fingerprint ${fingerprint(design)}: the panels of this design carry the same one.`,
    ...(link ? [
      '// The Bluetooth module sits on pins 0 and 1: unplug it while uploading.',
      ...(link.statusPin === null ? ['// Its connected line is not wired: the board cannot know when a phone connects.'] : []),
    ] : ['// No serial Bluetooth link in this design.']),
    ...others.map(l => `// Link "${cppComment(l.name)}" (${l.kind === 'http' ? 'HTTP' : 'second serial'}) is not carried by this board.`),
    '// Mains, heat and motors: wiring by a qualified person, to the local code, fused and enclosed.',
    '#include <Arduino.h>',
    '#include <EEPROM.h>',
    '',
    `static const char FINGERPRINT[] = ${cppString(fingerprint(design))};`,
    `#define LOADS ${design.loads.length}`,
    `#define INPUTS ${inputs.length}`,
    `#define CODES ${codes.length}`,
    `#define LONGEST ${longest}`,
    `#define BAUD ${link?.baud ?? 9600}L`,
    `#define STATUS_PIN ${link ? link.statusPin ?? -1 : -1}`,
    `#define ON_CONNECT ${link?.onConnect ? 1 : 0}`,
    `#define MARK ${cppString(link?.reportMark ?? '+')}`,
    '',
    'enum { POWER_OFF, POWER_ON, POWER_LAST };',
    'enum { PUSH, LATCHING_POSITION, LATCHING_MOVEMENT };',
    '#define ASK 255',
    'struct Load { uint8_t pin, active, powerUp; uint32_t saveDelayMs; bool carried, ack, change; const char *on, *off; };',
    'struct Input { uint8_t pin, load, kind; uint16_t debounceMs, lockoutMs; };',
    'struct Code { const char *text; uint8_t load, value; };',
    '',
    'static const Load loads[] = {',
    ...design.loads.map((l) => {
      const m = messages.get(l.id)
      const { output } = l
      return `  { ${output.pin}, ${output.activeLevel === 'high' ? 'HIGH' : 'LOW'}, POWER_${output.powerUp.toUpperCase()}, ${output.saveDelayMs}UL, ${m !== undefined}, ${m?.ack === true}, ${m?.change === true}, ${cppString(m?.on ?? '')}, ${cppString(m?.off ?? '')} }, // ${cppComment(l.name)}`
    }),
    '};',
    'static const Input inputs[INPUTS + 1] = {',
    ...inputs.map(c => `  { ${c.pin}, ${loadIndex.get(c.loadId)}, ${c.kind === 'push' ? 'PUSH' : c.acts === 'position' ? 'LATCHING_POSITION' : 'LATCHING_MOVEMENT'}, ${c.debounceMs}, ${c.kind === 'push' ? c.lockoutMs : 0} }, // ${cppComment(c.id)}`),
    '  { 0, 0, 0, 0, 0 }',
    '};',
    'static const Code codes[CODES + 1] = {',
    ...codes.map(c => `  { ${cppString(c.code)}, ${c.load === 255 ? 'ASK' : c.load}, ${c.value} },`),
    '  { "", 0, 0 }',
    '};',
    BODY,
  ].join('\n')
}

/** True when the program can be made: it needs at least one load, and a board of the 8-bit class. */
export function canSketch(design: Design): boolean {
  return design.loads.length > 0 && boardOf(design).toolchain === 'avr-8bit'
}

const BODY = `
#define MEMORY_BYTES ((LOADS + 7) / 8)
struct Slot { uint8_t sequence, bits[MEMORY_BYTES], crc; };

static bool on[LOADS];
static bool saved[LOADS];
static bool saveArmed[LOADS];
static uint32_t saveDue[LOADS];
static uint8_t raw[INPUTS + 1], level[INPUTS + 1], pendingLevel[INPUTS + 1];
static bool pending[INPUTS + 1], locked[INPUTS + 1];
static uint32_t since[INPUTS + 1], due[INPUTS + 1], lockedUntil[INPUTS + 1];
static bool linkUp;
static char buffer[LONGEST + 1];
static uint8_t length;
static Slot slot;
static uint8_t slotIndex;

static bool reached(uint32_t now, uint32_t at) { return (int32_t)(now - at) >= 0; }

// CRC-8, polynomial 0x07: an interrupted write leaves a slot that does not match.
static uint8_t crcOf(const Slot &s) {
  uint8_t crc = 0xFF;
  const uint8_t *bytes = (const uint8_t *)&s;
  for (uint8_t i = 0; i < sizeof(Slot) - 1; i++) {
    crc ^= bytes[i];
    for (uint8_t b = 0; b < 8; b++) crc = crc & 0x80 ? (crc << 1) ^ 0x07 : crc << 1;
  }
  return crc;
}

static bool readSlot(uint8_t index, Slot &s) {
  EEPROM.get(index * sizeof(Slot), s);
  return crcOf(s) == s.crc;
}

// Two slots take turns; after a power cut the newer valid one counts.
static void loadMemory() {
  Slot a, b;
  bool validA = readSlot(0, a), validB = readSlot(1, b);
  memset(&slot, 0, sizeof slot);
  slotIndex = 1;
  if (validA && (!validB || (int8_t)(a.sequence - b.sequence) >= 0)) { slot = a; slotIndex = 0; }
  else if (validB) { slot = b; slotIndex = 1; }
  for (uint8_t i = 0; i < LOADS; i++) saved[i] = slot.bits[i / 8] >> (i % 8) & 1;
}

static void save(uint8_t load) {
  saveArmed[load] = false;
  if (saved[load] == on[load]) return;
  saved[load] = on[load];
  if (on[load]) slot.bits[load / 8] |= 1 << (load % 8);
  else slot.bits[load / 8] &= ~(1 << (load % 8));
  slot.sequence++;
  slot.crc = crcOf(slot);
  slotIndex ^= 1;
  EEPROM.put(slotIndex * sizeof(Slot), slot);
}

static void drive(uint8_t load) {
  digitalWrite(loads[load].pin, on[load] ? loads[load].active : !loads[load].active);
}

static bool report(uint8_t load) {
  const char *code = on[load] ? loads[load].on : loads[load].off;
  if (!linkUp || !loads[load].carried) return false;
  Serial.print(MARK);
  Serial.print(code);
  return true;
}

static void sendState() {
  for (uint8_t i = 0; i < LOADS; i++) report(i);
}

// Returns whether the link was told.
static bool setLoad(uint8_t load, bool value, uint32_t now) {
  if (on[load] == value) return false;
  on[load] = value;
  drive(load);
  if (loads[load].powerUp == POWER_LAST) {
    saveArmed[load] = true;
    saveDue[load] = now + loads[load].saveDelayMs;
    if (loads[load].saveDelayMs == 0) save(load);
  }
  return loads[load].change && report(load);
}

static void act(const Code &code, uint32_t now) {
  if (code.load == ASK) { sendState(); return; }
  bool told = setLoad(code.load, code.value, now);
  if (loads[code.load].ack && !told) report(code.load);
}

// Codes follow one another without separators; a code acts at its last byte.
static void feed(char c, uint32_t now) {
  buffer[length++] = c;
  bool starts = false;
  for (uint8_t i = 0; i < CODES; i++) {
    if (strncmp(codes[i].text, buffer, length) != 0) continue;
    if (codes[i].text[length] == 0) { length = 0; act(codes[i], now); return; }
    starts = true;
  }
  if (starts) return;
  bool alone = length == 1;
  length = 0;
  if (!alone) feed(c, now);
}

static void accept(uint8_t i, uint8_t newLevel, uint32_t first, uint32_t now) {
  level[i] = newLevel;
  pending[i] = false;
  const Input &input = inputs[i];
  if (input.kind == LATCHING_POSITION) { setLoad(input.load, newLevel == LOW, now); return; }
  if (input.kind == LATCHING_MOVEMENT) { setLoad(input.load, !on[input.load], now); return; }
  if (newLevel == HIGH || (locked[i] && !reached(first, lockedUntil[i]))) return;
  locked[i] = input.lockoutMs > 0;
  lockedUntil[i] = first + input.lockoutMs;
  setLoad(input.load, !on[input.load], now);
}

static void pinChanged(uint8_t i, uint8_t newLevel, uint32_t now) {
  if (newLevel == level[i]) pending[i] = false;
  else if (inputs[i].debounceMs == 0) accept(i, newLevel, now, now);
  else if (!pending[i] || pendingLevel[i] != newLevel) {
    pending[i] = true;
    pendingLevel[i] = newLevel;
    since[i] = now;
    due[i] = now + inputs[i].debounceMs;
  }
}

void setup() {
  loadMemory();
  for (uint8_t i = 0; i < LOADS; i++) {
    on[i] = loads[i].powerUp == POWER_ON || (loads[i].powerUp == POWER_LAST && saved[i]);
    drive(i); // the level first, so that no relay clicks
    pinMode(loads[i].pin, OUTPUT);
    drive(i);
  }
  for (uint8_t i = 0; i < INPUTS; i++) {
    pinMode(inputs[i].pin, INPUT_PULLUP);
    raw[i] = level[i] = digitalRead(inputs[i].pin);
  }
  if (STATUS_PIN >= 0) pinMode(STATUS_PIN, INPUT);
  else linkUp = true;
  if (CODES > 0) Serial.begin(BAUD);
  (void)FINGERPRINT;
}

void loop() {
  uint32_t now = millis();
  if (STATUS_PIN >= 0) {
    bool connected = digitalRead(STATUS_PIN) == HIGH;
    if (connected != linkUp) {
      linkUp = connected;
      length = 0;
      if (linkUp && ON_CONNECT) sendState();
    }
  }
  for (uint8_t i = 0; i < INPUTS; i++) if (pending[i] && reached(now, due[i])) accept(i, pendingLevel[i], since[i], now);
  for (uint8_t i = 0; i < LOADS; i++) if (saveArmed[i] && reached(now, saveDue[i])) save(i);
  for (uint8_t i = 0; i < INPUTS; i++) {
    uint8_t read = digitalRead(inputs[i].pin);
    if (read == raw[i]) continue;
    raw[i] = read;
    pinChanged(i, read, now);
  }
  while (CODES > 0 && Serial.available() > 0) feed(Serial.read(), now);
}
`
