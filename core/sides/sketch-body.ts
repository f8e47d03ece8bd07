/**
 * The part of the sketch that is the same for every design; what differs stands in the tables and
 * switches before it.
 */
import { AUTH_CODE } from './sketch-auth'

export const SKETCH_BODY = `
struct Slot { uint8_t sequence, values[LOADS], crc; };

static uint8_t value[LOADS];
static uint8_t saved[LOADS];
static bool saveArmed[LOADS];
static uint32_t saveDue[LOADS];
#if HAS_MOTION
static bool armed[LOADS];
static uint32_t due[LOADS];
#endif
#if HAS_HELD
static bool handHolds[INPUTS + 1];
#endif
#if HAS_OPPOSED
// The line that is energised (1 forward, 2 reverse), and the one that fell last and has to rest; 3 after a start: nobody knows which.
static uint8_t driven[LOADS], resting[LOADS];
static uint32_t restDue[LOADS];
#endif
#if HAS_LEVEL
static uint8_t duty[LOADS];
#endif
#if HAS_TIMED
// What can keep a load on, and when each timer is due; bits of running: 1 on-delay, 2 off-delay, 4 blink.
static uint8_t running[LOADS];
static bool steady[LOADS], onDone[LOADS], high[LOADS];
// What of it would outlast a power cut.
static uint8_t kept[LOADS];
static uint32_t timerDue[LOADS][3], timerMs[LOADS][3];
// A time that came with the command, ms; 0: none.
static uint32_t givenMs;
#endif
#if HAS_FOLLOWER
static int8_t own[LOADS];
static uint8_t pulse[LOADS];
#endif
static uint8_t raw[INPUTS + 1], level[INPUTS + 1], pendingLevel[INPUTS + 1];
static bool pending[INPUTS + 1], locked[INPUTS + 1];
static uint32_t since[INPUTS + 1], inputDue[INPUTS + 1], lockedUntil[INPUTS + 1];
#if HAS_GESTURES
// Presses counted so far (0: none under way), and until when they may become another gesture.
static uint8_t presses[INPUTS + 1];
static bool gapArmed[INPUTS + 1], holdArmed[INPUTS + 1];
static uint32_t lastPress[INPUTS + 1], gapDue[INPUTS + 1], holdDue[INPUTS + 1];
#endif
static bool linkUp;
#define CAP (LONGEST + PROOF + END_LENGTH)
static char buffer[CAP + 1];
static uint8_t length;
static Slot slot;
static uint8_t slotIndex;

static bool reached(uint32_t now, uint32_t at) { return (int32_t)(now - at) >= 0; }
static Load loadAt(uint8_t i) { Load l; memcpy_P(&l, &loads[i], sizeof l); return l; }
static Input inputAt(uint8_t i) { Input in; memcpy_P(&in, &inputs[i], sizeof in); return in; }
static Code codeAt(CodeIndex i) { Code c; memcpy_P(&c, &codes[i], sizeof c); return c; }

// CRC-8, polynomial 0x07: an interrupted write leaves a slot that does not match.
static uint8_t crcOf(const void *start, uint8_t count) {
  uint8_t crc = 0xFF;
  const uint8_t *bytes = (const uint8_t *)start;
  for (uint8_t i = 0; i < count; i++) {
    crc ^= bytes[i];
    for (uint8_t b = 0; b < 8; b++) crc = crc & 0x80 ? (crc << 1) ^ 0x07 : crc << 1;
  }
  return crc;
}

template <typename T> static bool readCopy(int at, T &copy) {
  EEPROM.get(at, copy);
  return crcOf(&copy, offsetof(T, crc)) == copy.crc;
}

// Two copies take turns; after a power cut the newer valid one counts, and its index is told.
template <typename T> static uint8_t readNewer(int at, T &kept) {
  T a, b;
  bool validA = readCopy(at, a), validB = readCopy(at + (int)sizeof(T), b);
  memset(&kept, 0, sizeof kept);
  if (validA && (!validB || (int8_t)(a.sequence - b.sequence) >= 0)) { kept = a; return 0; }
  if (validB) kept = b;
  return 1;
}

template <typename T> static void writeOther(int at, T &kept, uint8_t &index) {
  kept.sequence++;
  kept.crc = crcOf(&kept, offsetof(T, crc));
  index ^= 1;
  EEPROM.put(at + index * (int)sizeof(T), kept);
}

static void loadMemory() {
  slotIndex = readNewer(0, slot);
  for (uint8_t i = 0; i < LOADS; i++) saved[i] = slot.values[i];
}

// What outlasts a power cut: what the load would come to if its timers ended now. "On for a while" and blinking are not it.
static uint8_t lasting(uint8_t i, const Load &l) {
#if HAS_TIMED
  if (l.kind == SWITCHED && l.flag && !steady[i] && !onDone[i]) return 0;
#endif
  (void)l;
  return value[i];
}

static void save(uint8_t i) {
  saveArmed[i] = false;
  uint8_t keeps = lasting(i, loadAt(i));
  if (saved[i] == keeps) return;
  saved[i] = slot.values[i] = keeps;
  writeOther(0, slot, slotIndex);
}

static void put(uint8_t pin, bool energised, uint8_t active) { digitalWrite(pin, energised ? active : !active); }

// Of two opposed lines the one at rest is written first, so that both are never on.
static void drive(uint8_t i, const Load &l) {
  switch (l.kind) {
#if HAS_OPPOSED
    case OPPOSED:
      if (l.flag) {
        digitalWrite(l.pin2, driven[i] == 2);
        if (l.pin3 != NO_PIN) digitalWrite(l.pin3, !driven[i]);
        if (driven[i]) tone(l.pin, l.c);
        else { noTone(l.pin); digitalWrite(l.pin, LOW); }
        return;
      }
      if (driven[i] != 1) put(l.pin, false, l.active);
      put(l.pin2, driven[i] == 2, l.active);
      if (driven[i] == 1) put(l.pin, true, l.active);
      return;
#endif
#if HAS_LEVEL
    case LEVEL: {
      uint8_t out = ((uint16_t)duty[i] * 255 + 50) / 100;
      analogWrite(l.pin, l.active ? out : 255 - out);
      return;
    }
#endif
#if HAS_FOLLOWER
    case FOLLOWER:
      put(l.pin, pulse[i] == 1, l.active);
      put(l.pin2, pulse[i] == 2, l.active);
      return;
#endif
    default: put(l.pin, value[i] != 0, l.active);
  }
}

static bool report(uint8_t i, const Load &l) {
  if (!linkUp || !l.carried) return false;
  for (CodeIndex c = 0; c < CODES; c++) {
    Code code = codeAt(c);
    if (code.load != i || code.value != value[i]) continue;
#if OWN_REPORTS
    Report r;
    memcpy_P(&r, &reports[c], sizeof r);
    PORT.write((const uint8_t *)r.text, r.length);
#else
    PORT.print(MARK);
    PORT.write((const uint8_t *)code.text, code.length);
#endif
    PORT.write((const uint8_t *)END, END_LENGTH);
    return true;
  }
#if END_LENGTH || OWN_REPORTS
  return false;
#else
  PORT.print(MARK);
  return true;
#endif
}

static void sendState() {
  for (uint8_t i = 0; i < LOADS; i++) report(i, loadAt(i));
}

// Takes over what an output came to: lines, then memory, then the report. Returns whether the link was told.
static bool become(uint8_t i, const Load &l, uint8_t next, uint32_t now) {
  bool changed = value[i] != next;
  value[i] = next;
  drive(i, l);
#if HAS_TIMED
  bool keeps = kept[i] != lasting(i, l);
  kept[i] = lasting(i, l);
#else
  bool keeps = changed;
#endif
  if (keeps && l.powerUp == POWER_LAST) {
    saveArmed[i] = true;
    saveDue[i] = now + l.saveDelayMs;
    if (l.saveDelayMs == 0) save(i);
  }
  return changed && l.change && report(i, l);
}

#if HAS_HELD
static uint8_t heldNow(uint8_t i) {
  if (armed[i]) return 1;
  for (uint8_t in = 0; in < INPUTS; in++) if (handHolds[in] && inputAt(in).load == i) return 1;
  return 0;
}
#endif

#if HAS_OPPOSED
static void stopDriving(uint8_t i, const Load &l, uint32_t now) {
  resting[i] = l.a ? driven[i] : 0;
  restDue[i] = now + l.a;
  driven[i] = 0;
  armed[i] = false;
}

static void startDriving(uint8_t i, const Load &l, uint8_t direction, uint32_t now) {
  if (resting[i] && resting[i] != direction) return;
  driven[i] = direction;
  armed[i] = l.b > 0;
  due[i] = now + l.b;
}
#endif

#if HAS_LEVEL
static uint8_t goalOf(const Load &l, uint8_t v) {
  uint8_t percent = pgm_read_byte(&stops[l.firstStop + v]);
  return percent > 0 && percent < l.c ? (l.flag ? l.c : 0) : percent;
}
#endif

#if HAS_FOLLOWER
static void nextPulse(uint8_t i, const Load &l, uint8_t v, uint32_t now) {
  pulse[i] = v == own[i] ? 0 : v > own[i] ? 1 : 2;
  armed[i] = pulse[i] != 0;
  due[i] = now + l.a;
}
#endif

#if HAS_TIMED
static uint8_t energised(uint8_t i) { return steady[i] || onDone[i] || (running[i] & 2) || high[i]; }

static void startTimer(uint8_t i, uint8_t which, uint32_t now) {
  uint32_t before = timerMs[i][which];
  if (givenMs) timerMs[i][which] = givenMs;
  givenMs = 0;
  uint8_t bit = 1 << which;
  if (which == 0 && onDone[i]) return;
  // An off-delay starts anew; the others go on, with another time from their start.
  if (which != 1 && (running[i] & bit)) timerDue[i][which] += timerMs[i][which] - before;
  else {
    timerDue[i][which] = now + timerMs[i][which];
    if (which == 2) high[i] = true;
  }
  running[i] |= bit;
}

static void timersDue(uint8_t i, const Load &l, uint32_t now) {
  uint8_t was = running[i];
  bool blinked = false;
  if ((was & 1) && reached(now, timerDue[i][0])) { running[i] &= ~1; onDone[i] = true; }
  if ((was & 2) && reached(now, timerDue[i][1])) running[i] &= ~2;
  if ((was & 4) && reached(now, timerDue[i][2])) { high[i] = !high[i]; timerDue[i][2] += timerMs[i][2]; blinked = true; }
  if (running[i] != was || blinked) become(i, l, energised(i), now);
}
#endif

// A value is asked for by the link (input -1) or by a hand control. Returns whether the link was told.
static bool setLoad(uint8_t i, uint8_t v, uint32_t now, int8_t input) {
  Load l = loadAt(i);
  uint8_t next = v;
  (void)input;
  switch (l.kind) {
#if HAS_TIMED
    case SWITCHED:
      if (!l.flag) break;
      if (v >= ASKS_AFTER && v <= ASKS_BLINK) startTimer(i, v - ASKS_AFTER, now);
      else {
        steady[i] = v;
        onDone[i] = high[i] = false;
        running[i] = 0;
      }
      next = energised(i);
      break;
#endif
#if HAS_PULSED
    case PULSED:
      if (v && value[i] && l.flag) return false;
      armed[i] = v;
      due[i] = now + l.a;
      break;
#endif
#if HAS_HELD
    case HELD:
      if (input >= 0) handHolds[input] = v;
      else { armed[i] = v; due[i] = now + l.a; }
      next = heldNow(i);
      break;
#endif
#if HAS_OPPOSED
    case OPPOSED:
      if (v == value[i]) return false;
      if (driven[i]) stopDriving(i, l, now);
      if (v) startDriving(i, l, v, now);
      break;
#endif
#if HAS_LEVEL
    case LEVEL: {
      uint8_t goal = goalOf(l, v);
      if (l.a == 0) duty[i] = goal;
      if (duty[i] == goal) armed[i] = false;
      else if (!armed[i]) { armed[i] = true; due[i] = now + l.a; }
      break;
    }
#endif
#if HAS_FOLLOWER
    case FOLLOWER:
      if (own[i] < 0) own[i] = v;
      else if (!armed[i]) nextPulse(i, l, v, now);
      break;
#endif
    default: break;
  }
  return become(i, l, next, now);
}

#if HAS_MOTION
// What falls due on an output.
static void motion(uint8_t i, uint32_t now) {
  Load l = loadAt(i);
#if HAS_OPPOSED
  if (l.kind == OPPOSED) {
    if (resting[i] && reached(now, restDue[i])) {
      resting[i] = 0;
      if (value[i] && !driven[i]) { startDriving(i, l, value[i], now); drive(i, l); }
    }
    if (!armed[i] || !reached(now, due[i])) return;
    stopDriving(i, l, now);
    become(i, l, 0, now);
    return;
  }
#endif
#if HAS_TIMED
  if (l.kind == SWITCHED) {
    if (l.flag) timersDue(i, l, now);
    return;
  }
#endif
  if (!armed[i] || !reached(now, due[i])) return;
  switch (l.kind) {
#if HAS_PULSED
    case PULSED: armed[i] = false; become(i, l, 0, now); break;
#endif
#if HAS_HELD
    case HELD: armed[i] = false; become(i, l, heldNow(i), now); break;
#endif
#if HAS_LEVEL
    case LEVEL: {
      uint8_t goal = goalOf(l, value[i]);
      duty[i] += goal > duty[i] ? 1 : -1;
      armed[i] = duty[i] != goal;
      due[i] = now + l.a;
      drive(i, l);
      break;
    }
#endif
#if HAS_FOLLOWER
    case FOLLOWER:
      if (pulse[i]) {
        own[i] += pulse[i] == 1 ? 1 : -1;
        pulse[i] = 0;
        due[i] = now + l.b;
      }
      else nextPulse(i, l, value[i], now);
      drive(i, l);
      break;
#endif
    default: break;
  }
}
#endif

static uint8_t asked(const Load &l, uint8_t current, uint8_t asks);

static void command(uint8_t i, uint8_t asks, uint32_t now) {
  Load l = loadAt(i);
  bool told = setLoad(i, asked(l, value[i], asks), now, -1);
  if (l.ack && !told) report(i, l);
}

#if HAS_HELLO
static uint32_t starts;
// Who is there: version, fingerprint of the table, and how often the board started.
static void sayHello() {
  if (!linkUp) return;
  PORT.print(HELLO_START);
  PORT.print(starts);
  PORT.print(HELLO_END);
  PORT.write((const uint8_t *)END, END_LENGTH);
}
#endif

static void act(const Code &code, uint32_t now) {
  if (code.load == ASK) { sendState(); return; }
#if HAS_HELLO
  if (code.load == HELLO) { sayHello(); return; }
#endif
#if HAS_SCENES
  if (code.load == SCENE) {
    Setting s;
    uint16_t at = 0;
    for (uint8_t skip = code.value; skip; at++) { memcpy_P(&s, &settings[at], sizeof s); if (s.load == 255) skip--; }
    for (memcpy_P(&s, &settings[at], sizeof s); s.load != 255; memcpy_P(&s, &settings[++at], sizeof s)) command(s.load, s.value, now);
    return;
  }
#endif
  command(code.load, code.value, now);
}

#if AUTH
${AUTH_CODE}

static bool isQuestion(CodeIndex i) { uint8_t load = codeAt(i).load; return load == ASK || load == HELLO; }
#endif

#if END_LENGTH
static int16_t exactly(uint8_t count) {
  for (CodeIndex i = 0; i < CODES && count; i++) {
    Code code = codeAt(i);
    if (code.length == count && memcmp(code.text, buffer, count) == 0) return i;
  }
  return -1;
}

// The code that stands in the buffer, as it is or with a time behind it; -1: none.
static int16_t find(uint8_t count) {
  int16_t found = exactly(count);
#if TIMES_GIVEN
  if (found >= 0) return found;
#if LOOSE_SPACES
  static const char BEHIND[] = ",\\"ms\\":";
  if (!count || buffer[count - 1] != '}') return -1;
  uint8_t at = count - 1;
#else
  static const char BEHIND[] = " ";
  uint8_t at = count;
#endif
  uint32_t ms = 0, unit = 1;
  uint8_t digits = 0;
  for (; at && digits < 8 && buffer[at - 1] >= '0' && buffer[at - 1] <= '9'; digits++, unit *= 10) ms += unit * (buffer[--at] - '0');
  if (!digits || at < sizeof BEHIND - 1 || memcmp(buffer + at - (sizeof BEHIND - 1), BEHIND, sizeof BEHIND - 1) != 0) return -1;
  at -= sizeof BEHIND - 1;
#if LOOSE_SPACES
  char before = buffer[at];
  buffer[at++] = '}';
#endif
  found = exactly(at);
  uint8_t asks = found >= 0 ? codeAt(found).value : 0;
  bool starts = found >= 0 && codeAt(found).load < LOADS && asks >= ASKS_AFTER && asks <= ASKS_BLINK && ms >= 50 && ms <= (asks == ASKS_BLINK ? 60000UL : 86400000UL);
  if (starts) givenMs = ms;
  else found = -1;
#if LOOSE_SPACES
  // A proof may still stand behind it.
  if (!starts) buffer[at - 1] = before;
#endif
#endif
  return found;
}

// A message acts when its end comes; what is none is given up then.
static void feed(char c, uint32_t now) {
#if LOOSE_SPACES
  bool quoted = false;
  for (uint8_t i = 0; i < length; i++) if (buffer[i] == '"') quoted = !quoted;
  if ((c == ' ' || c == '\t') && !quoted) return;
#endif
  if (c == END[END_LENGTH - 1] && (END_LENGTH == 1 || (length && buffer[length - 1] == END[0]))) {
    uint8_t body = length - (END_LENGTH - 1);
    length = 0;
#if TIMES_GIVEN
    givenMs = 0;
#endif
#if AUTH
    // What carries a proof is opened first and read then: of what is refused nothing is kept, no time and no counter. Only questions are free.
    int16_t found = exactly(body);
#if AUTH == 3
    tells = false;
#endif
    if (found < 0 || !isQuestion(found)) {
      uint8_t bare = unsealed(body);
      found = bare ? find(bare) : -1;
      if (found >= 0 && isQuestion(found)) found = -1;
      if (found >= 0) taken();
    }
#else
    int16_t found = find(body);
#endif
    if (found >= 0) { act(codeAt(found), now); return; }
#if AUTH == 3
    if (tells) { if (linkUp) tellCounter(); return; }
#endif
#if ERROR_LENGTH
    if (body && linkUp) PORT.write((const uint8_t *)ERROR_TEXT, ERROR_LENGTH);
#endif
    return;
  }
  // Longer than any message: only its last character is kept up to date, for an end of two characters.
  if (length < CAP) buffer[length++] = c;
  else buffer[CAP - 1] = c;
}
#else
// Codes follow one another without separators; a code acts at its last byte.
static void feed(char c, uint32_t now) {
  buffer[length++] = c;
  bool starts = false;
  for (CodeIndex i = 0; i < CODES; i++) {
    Code code = codeAt(i);
    if (code.length < length || memcmp(code.text, buffer, length) != 0) continue;
    if (code.length == length) { length = 0; act(code, now); return; }
    starts = true;
  }
  if (starts) return;
  bool alone = length == 1;
  length = 0;
  if (!alone) feed(c, now);
}
#endif

// The value that a hand control asks for, from the value there is.
static uint8_t asked(const Load &l, uint8_t current, uint8_t asks) {
  uint8_t top = l.values - 1;
  switch (asks) {
    case ASKS_TOGGLE: return current ? 0 : l.kind == OPPOSED ? 1 : top;
    case ASKS_NEXT: return current == top ? 0 : current + 1;
    case ASKS_UP: return current == top ? top : current + 1;
    case ASKS_DOWN: return current ? current - 1 : 0;
    default: return asks;
  }
}

static uint8_t pressed(const Load &l, uint8_t current, uint8_t asks) {
  uint8_t want = asked(l, current, asks);
  return l.kind == OPPOSED && want == current ? 0 : want;
}

#if HAS_GESTURES
enum { SINGLE, DOUBLE, TRIPLE, HOLD_DOWN };
static Gestures gesturesAt(uint8_t i) { Gestures g; memcpy_P(&g, &gestures[i], sizeof g); return g; }

static uint8_t mostPresses(const Gestures &g) { return g.more[1].load != 255 ? 3 : g.more[0].load != 255 ? 2 : 1; }

static void complete(uint8_t i, uint8_t done, uint32_t now) {
  Input input = inputAt(i);
  Gesture target = { input.load, input.asks };
  if (done != SINGLE) target = gesturesAt(i).more[done - 1];
  presses[i] = 0;
  gapArmed[i] = holdArmed[i] = false;
  locked[i] = input.lockoutMs > 0;
  lockedUntil[i] = lastPress[i] + input.lockoutMs;
  if (target.load != 255) setLoad(target.load, pressed(loadAt(target.load), value[target.load], target.asks), now, i);
}

// Acts on what time alone completes. An edge that is not debounced yet may still change the matter.
static void settle(uint8_t i, uint32_t now) {
  if (!presses[i] || (pending[i] && (pendingLevel[i] == LOW || holdArmed[i]))) return;
  if (holdArmed[i]) { if (reached(now, holdDue[i])) complete(i, HOLD_DOWN, now); }
  else if (gapArmed[i] && reached(now, gapDue[i])) complete(i, presses[i] - 1, now);
}

// A debounced edge of a button that knows several gestures. Presses within a run are not locked out.
static void gesture(uint8_t i, const Gestures &g, uint8_t newLevel, uint32_t first, uint32_t now) {
  uint8_t most = mostPresses(g);
  if (newLevel == LOW) {
    if (!presses[i] && locked[i] && !reached(first, lockedUntil[i])) return;
    presses[i]++;
    lastPress[i] = first;
    gapArmed[i] = most > 1;
    gapDue[i] = first + g.doubleMs;
    holdArmed[i] = presses[i] == 1 && g.more[2].load != 255;
    holdDue[i] = first + g.holdMs;
    if (presses[i] == most && most > 1) { complete(i, most - 1, now); return; }
  }
  else if (holdArmed[i]) {
    holdArmed[i] = false;
    if (!gapArmed[i]) { complete(i, SINGLE, now); return; }
  }
  settle(i, now);
}
#endif

static void accept(uint8_t i, uint8_t newLevel, uint32_t first, uint32_t now) {
  level[i] = newLevel;
  pending[i] = false;
  Input input = inputAt(i);
  Load l = loadAt(input.load);
  if (input.kind == LATCHING_POSITION || (input.kind == LATCHING_MOVEMENT && l.kind == HELD)) { setLoad(input.load, newLevel == LOW ? asked(l, 0, input.asks) : 0, now, i); return; }
  if (input.kind == LATCHING_MOVEMENT) { setLoad(input.load, pressed(l, value[input.load], input.asks), now, i); return; }
#if HAS_GESTURES
  Gestures g = gesturesAt(i);
  if (mostPresses(g) > 1 || g.more[2].load != 255) { gesture(i, g, newLevel, first, now); return; }
#endif
  if (l.kind == HELD && newLevel == HIGH) setLoad(input.load, 0, now, i);
  if (newLevel == HIGH || (locked[i] && !reached(first, lockedUntil[i]))) return;
  locked[i] = input.lockoutMs > 0;
  lockedUntil[i] = first + input.lockoutMs;
  setLoad(input.load, pressed(l, value[input.load], input.asks), now, i);
}

static void pinChanged(uint8_t i, uint8_t newLevel, uint32_t now) {
  uint16_t debounceMs = inputAt(i).debounceMs;
  if (newLevel == level[i]) {
    pending[i] = false;
#if HAS_GESTURES
    settle(i, now);
#endif
  }
  else if (debounceMs == 0) accept(i, newLevel, now, now);
  else if (!pending[i] || pendingLevel[i] != newLevel) {
    pending[i] = true;
    pendingLevel[i] = newLevel;
    since[i] = now;
    inputDue[i] = now + debounceMs;
  }
}

void setup() {
#if HAS_OPPOSED
  uint32_t now = millis();
#endif
  loadMemory();
  for (uint8_t i = 0; i < LOADS; i++) {
    Load l = loadAt(i);
    value[i] = l.powerUp == POWER_ON ? l.values - 1 : l.powerUp == POWER_LAST && saved[i] < l.values ? saved[i] : 0;
#if HAS_LEVEL
    if (l.kind == LEVEL) duty[i] = goalOf(l, value[i]);
#endif
#if HAS_TIMED
    steady[i] = value[i];
    kept[i] = value[i];
    timerMs[i][0] = l.a;
    timerMs[i][1] = l.b;
    timerMs[i][2] = l.c;
#endif
#if HAS_FOLLOWER
    own[i] = -1;
#endif
#if HAS_OPPOSED
    if (l.kind == OPPOSED && l.a) { resting[i] = 3; restDue[i] = now + l.a; }
#endif
    drive(i, l); // the level first, so that no relay clicks
    pinMode(l.pin, OUTPUT);
    if (l.pin2 != NO_PIN) pinMode(l.pin2, OUTPUT);
    if (l.pin3 != NO_PIN) pinMode(l.pin3, OUTPUT);
    drive(i, l);
  }
  for (uint8_t i = 0; i < INPUTS; i++) {
    uint8_t pin = inputAt(i).pin;
    pinMode(pin, INPUT_PULLUP);
    raw[i] = level[i] = digitalRead(pin);
  }
  if (STATUS_PIN >= 0) pinMode(STATUS_PIN, INPUT);
  else linkUp = true;
  if (CODES > 0) PORT.begin(BAUD);
#if AUTH == 3
  loadGuard();
#endif
#if HAS_HELLO
  // Behind the two slots. A start that is cut short while it is counted may spoil the count, nothing else.
  EEPROM.get(2 * sizeof(Slot), starts);
  starts = starts == 0xFFFFFFFFUL ? 1 : starts + 1;
  EEPROM.put(2 * sizeof(Slot), starts);
#endif
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
#if HAS_HELD
      if (!linkUp) for (uint8_t i = 0; i < LOADS; i++) if (loadAt(i).kind == HELD) setLoad(i, 0, now, -1);
#endif
    }
  }
  for (uint8_t i = 0; i < INPUTS; i++) {
    // A lock-out that is over is forgotten, or it would seem to lie ahead again after half a turn of the clock.
    if (locked[i] && !pending[i] && reached(now, lockedUntil[i])) locked[i] = false;
    if (pending[i] && reached(now, inputDue[i])) accept(i, pendingLevel[i], since[i], now);
#if HAS_GESTURES
    else settle(i, now);
#endif
  }
#if HAS_MOTION
  for (uint8_t i = 0; i < LOADS; i++) motion(i, now);
#endif
  for (uint8_t i = 0; i < LOADS; i++) if (saveArmed[i] && reached(now, saveDue[i])) save(i);
  for (uint8_t i = 0; i < INPUTS; i++) {
    uint8_t read = digitalRead(inputAt(i).pin);
    if (read == raw[i]) continue;
    raw[i] = read;
    pinChanged(i, read, now);
  }
  while (CODES > 0 && PORT.available() > 0) feed(PORT.read(), now);
}
`
