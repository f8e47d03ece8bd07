// What sensors give, what rules make of it, and who is told. Values are hundredths of the unit.
#include "controller.h"
#include "rows.h"

namespace nolvi {

const int32_t INFINITELY = 0x7fffffff;

// A number of eight bytes as it stands in the table (IEEE 754, most significant byte first).
static double realAt(Place at) {
#if __SIZEOF_DOUBLE__ == 8
  union {
    uint64_t bits;
    double value;
  } real;
  real.bits = static_cast<uint64_t>(u32(at)) << 32 | u32(static_cast<Place>(at + 4));
  return real.value;
#else
  // A board whose numbers have four bytes takes as many digits as it has.
  const uint32_t high = u32(at);
  const uint32_t fraction = (high & 0xfffff) << 3 | u32(static_cast<Place>(at + 4)) >> 29;
  const int16_t exponent = static_cast<int16_t>((high >> 20 & 0x7ff) - 1023 + 127);
  if (exponent <= 0) return 0;
  union {
    uint32_t bits;
    float value;
  } real;
  real.bits = (high & 0x80000000) | static_cast<uint32_t>(exponent) << 23 | fraction;
  return real.value;
#endif
}

// To the nearest whole number; of two that are as near the higher one.
static int32_t rounded(double value) {
  const double raised = value + static_cast<double>(0.5);
  const int32_t whole = static_cast<int32_t>(raised);
  return raised < static_cast<double>(whole) ? whole - 1 : whole;
}

static double size(double value) { return value < 0 ? -value : value; }

static Place sensorData(uint8_t sensor) {
  return u16(static_cast<Place>(row(firstOf(SENSORS), SENSOR_SIZE, sensor) + 1));
}
static SensorKind sensorKind(uint8_t sensor) {
  return static_cast<SensorKind>(u8(row(firstOf(SENSORS), SENSOR_SIZE, sensor)));
}

static Reading number(int32_t hundredths) {
  const Reading reading = {true, NUMBER, hundredths, 0};
  return reading;
}
static Reading word(int32_t which) {
  const Reading reading = {true, WORD, which, 0};
  return reading;
}

// The highest float that is wet; a wet one above a dry one is a broken float.
static Reading ladder(Place data, int32_t bits) {
  const uint8_t count = u8(data);
  uint8_t wet = 0;
  for (uint8_t i = 0; i < count; i++) wet = static_cast<uint8_t>(wet + ((bits >> i) & 1));
  if (bits != (static_cast<int32_t>(1) << wet) - 1) return word(WORD_BROKEN);
  if (wet == 0) return number(0);
  return number(100 * static_cast<int32_t>(i16(static_cast<Place>(data + 1 + 2 * (wet - 1)))));
}

static int32_t hundredthsOfMillivolts(int32_t millivolts) {
  return rounded(static_cast<double>(millivolts) / 10);
}

Reading Controller::readingOf(uint8_t sensor) const {
  const Reading nothing = {false, WORD, 0, 0};
  if (!state.sampled[sensor]) return nothing;
  const int32_t x = state.samples[sensor][0];
  const int32_t y = state.samples[sensor][1];
  const Place data = sensorData(sensor);
  switch (sensorKind(sensor)) {
    case SILENT: return nothing;
    case CONTACT: return word(x ? WORD_CLOSED : WORD_OPEN);
    case FLOATS: return ladder(data, x);
    case CELSIUS: return number(x * 10);
    case VOLTS: return number(Limits::measures ? hundredthsOfMillivolts(x) : 0);
    case CALIBRATED: {
      if (!Limits::reals) return nothing;
      // A straight line through two readings whose true values are known.
      const double raw1 = realAt(data), value1 = realAt(static_cast<Place>(data + 8));
      const double raw2 = realAt(static_cast<Place>(data + 16));
      const double value2 = realAt(static_cast<Place>(data + 24));
      const double value = value1 + ((x - raw1) * (value2 - value1)) / (raw2 - raw1);
      return number(10 * rounded(value * 10));
    }
    case AXES: {
      if (!Limits::reals) return nothing;
      double ax, ay;
      straight(sensor, x, y, ax, ay);
      const Reading reading = {true, PAIR, 100 * rounded(ax), 100 * rounded(ay)};
      return reading;
    }
    case TOLD: return isFront() ? toldBehind(sensor) : nothing;
  }
  return nothing;
}

// A two-axis input that is mounted at an angle: its axes turned back.
void Controller::straight(uint8_t sensor, int32_t x, int32_t y, double &ax, double &ay) const {
  const Place data = sensorData(sensor);
  const double cosine = realAt(data), sine = realAt(static_cast<Place>(data + 8));
  ax = x * cosine + y * sine;
  ay = y * cosine - x * sine;
}

static int32_t apart(int32_t a, int32_t b) { return a > b ? a - b : b - a; }

// How far two values lie apart; whatever cannot be counted is infinitely far from anything else.
static int32_t apart(const Reading &a, const Reading &b) {
  if (a.form != b.form) return INFINITELY;
  if (a.form == WORD) return a.first == b.first ? 0 : INFINITELY;
  const int32_t first = apart(a.first, b.first);
  const int32_t second = a.form == PAIR ? apart(a.second, b.second) : 0;
  return first > second ? first : second;
}

static bool same(const Reading &a, const Reading &b) {
  return a.form == b.form && a.first == b.first && a.second == b.second;
}

// A rule acts on the edge of a crossing, once, and again only after the reading was back far
// enough.
bool Controller::crosses(uint8_t index, const Reading &reading) {
  const Place at = row(firstOf(RULES), RULE_SIZE, index);
  Rule &is = state.rules[index];
  const uint8_t when = u8(static_cast<Place>(at + RULE_WHEN));
  const int32_t enter = i32(static_cast<Place>(at + RULE_ENTER));
  const int32_t leave = i32(static_cast<Place>(at + RULE_LEAVE));
  bool beyond = false;
  if (when == IS) {
    const Reading limit = {true, static_cast<Form>(u8(static_cast<Place>(at + RULE_FORM))), enter,
                           leave};
    beyond = same(reading, limit);
  } else {
    // No number is neither above nor below: a broken float, two axes.
    if (!reading.known || reading.form != NUMBER) return false;
    const int32_t value = reading.first;
    if (when == MOVED) {
      is.way += is.known ? apart(value, is.last) : 0;
      is.beyond = 0;
      is.known = true;
      is.last = value;
      const bool acts = is.way > 0 && is.way >= enter;
      if (acts) is.way = 0;
      return acts;
    }
    const bool stays = is.beyond == 1;
    beyond = when == ABOVE ? value > enter || (stays && value > leave)
                           : value < enter || (stays && value < leave);
  }
  const bool acts =
      beyond && (is.beyond == 2 ? u8(static_cast<Place>(at + RULE_AT_START)) != 0 : is.beyond == 0);
  is.beyond = beyond;
  return acts;
}

// End contacts stop what runs, rules act, then whoever is told of the value hears it.
void Controller::sample(Ms now, uint8_t sensor, int32_t first, int32_t second) {
  begin(now);
  if (state.running) {
    state.samples[sensor][0] = first;
    state.samples[sensor][1] = second;
    state.sampled[sensor] = true;
    const Reading reading = readingOf(sensor);
    for (uint8_t i = 0; i < countOf(STICKS); i++)
      if (u8(row(firstOf(STICKS), STICK_SIZE, i)) == sensor) point(i, sensor, first, second);
    openTogether();
    for (uint8_t i = 0; i < countOf(ENDS); i++) {
      const Place at = row(firstOf(ENDS), END_SIZE, i);
      if (u8(at) != sensor) continue;
      const uint8_t load = u8(static_cast<Place>(at + 1));
      const Shown before = shown(load);
      const bool closed = reading.known && reading.form == WORD && reading.first == WORD_CLOSED;
      ended(load, state.motion[load], static_cast<Value>(u8(static_cast<Place>(at + 2))), closed);
      become(load, before, false);
    }
    for (uint8_t i = 0; i < countOf(RULES); i++) {
      const Place at = row(firstOf(RULES), RULE_SIZE, i);
      if (u8(at) != sensor || !crosses(i, reading)) continue;
      const Asking asking = {static_cast<uint8_t>(holdersAt() - 1), false};
      const Place sets = u16(static_cast<Place>(at + RULE_SETS));
      if (isBox()) {
        if (sets) offerTarget(sets, false);
        continue;
      }
      const uint8_t count = sets ? u8(sets) : 0;
      for (uint8_t n = 0; n < count; n++) {
        const Place one = row(static_cast<Place>(sets + 1), SET_SIZE, n);
        set(u8(one), askAt(static_cast<Place>(one + 1)), asking);
      }
    }
    closeTogether();
    for (uint8_t i = 0; i < countOf(READINGS); i++)
      if (u8(static_cast<Place>(row(firstOf(READINGS), READING_SIZE, i) + READING_SENSOR)) ==
          sensor)
        moved(i, reading);
  }
  finish(false);
}

// The first value is told whatever it is; a dead band of 0 means any change.
void Controller::moved(uint8_t index, const Reading &reading) {
  const Place at = row(firstOf(READINGS), READING_SIZE, index);
  ToldReading &told = state.told[index];
  const int32_t far = told.told ? apart(reading, told.text) : INFINITELY;
  if (!reading.known) return;
  if (far == 0 || far < i32(static_cast<Place>(at + READING_DEAD_BAND))) return;
  if (!told.told || !told.freeAt.armed || told.freeAt.over(state.now))
    tell(index);
  else
    told.owed = true;
}

// Tells a reading, and plans when it may and when it has to be told again.
void Controller::tell(uint8_t index) {
  const Place at = row(firstOf(READINGS), READING_SIZE, index);
  ToldReading &told = state.told[index];
  told.text = readingOf(u8(static_cast<Place>(at + READING_SENSOR)));
  told.told = told.text.known;
  told.owed = false;
  told.freeAt.in(u32(static_cast<Place>(at + READING_LEAST)), state.now);
  told.every.in(u32(static_cast<Place>(at + READING_EVERY)), state.now);
  if (told.told && unasked(u8(at))) send(u8(at), static_cast<Waiting>(WAITS_READING + index));
}

const double BACK_PER_CENT = 5;

// Which way a stick points: to the side of its longer axis as soon as that lies beyond the dead
// zone, until it is back by a little more, or another side is clearly ahead.
void Controller::point(uint8_t index, uint8_t sensor, int32_t first, int32_t second) {
  const Place at = row(firstOf(STICKS), STICK_SIZE, index);
  Stick &stick = state.sticks[index];
  const double dead = u8(static_cast<Place>(at + 1));
  double x, y;
  straight(sensor, first, second, x, y);
  const double along[] = {0, y, -y, -x, x};  // by Way
  const Way ahead =
      size(x) >= size(y) ? (x > 0 ? WAY_RIGHT : WAY_LEFT) : (y > 0 ? WAY_UP : WAY_DOWN);
  const Way before = stick.way;
  Way way = along[ahead] >= dead ? ahead : WAY_REST;
  if (before != WAY_UNKNOWN && before != WAY_REST) {
    const double kept = along[before];
    const bool led = along[ahead] - kept >= BACK_PER_CENT && along[ahead] >= dead;
    if (kept >= dead - BACK_PER_CENT && !led) way = before;
  }
  if (way == before) return;
  stick.way = way;
  stick.due.clear();
  if (before == WAY_UNKNOWN) return;
  const Place was = stickTarget(index, before);
  // What it held is let go.
  if (was && u8(was) == TARGET_LOAD && isOf(u8(static_cast<Place>(was + 2)), HELD)) {
    const Asking asking = {static_cast<uint8_t>(holdersAt() - 2), true};
    set(u8(static_cast<Place>(was + 2)), valueAsk(0), asking);
  }
  push(index, stickTarget(index, way));
}

}  // namespace nolvi
