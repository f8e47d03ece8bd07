/**
 * A system as Promela, for the model checker that Debian ships. What board and surface do stands in
 * tables, made by the same step functions as everywhere; how they come together (queues, links,
 * losses, what is watched, rest) is said here a second time, in the checker's own terms. Asked
 * breadth first it finds the same situations and equally short stories. Not said: links whose
 * commands carry numbers, which are counted anew at each step.
 */
import { loadOf, surfaceOf } from '../design/find'
import type { Design } from '../design/schema'
import type { Exploration } from './explore'
import { ABOUT, ACTED, ASKED, ASKS, ASTRAY, CLASHED, DEAD, NEXT, SENDS } from './tables/table'
import { ARMED, QUEUED, SAVING, STUCK } from './tables/controller'
import { CONNECTED, HOLDS, PANEL, POLLS, WAITING, type SurfaceTable } from './tables/surface'
import { MOST_EACH_WAY } from './packing'
import type { System } from './system'

/**
 * How often each thing may happen, where it is counted: to hold the search without counters against
 * one that counts. `each`: under way in one direction.
 */
export interface Counted {
  presses: number
  commands: number
  drops: number
  losses: number
  doubles: number
  cuts: number
  each: number
}

/**
 * `search`: run to its end, so that all moves are known. What is looked for is said in the
 * environment.
 */
export function promela(
  design: Design,
  { system, count }: Exploration,
  counted: Counted | null = null,
): string {
  if (system.numbered)
    throw new RangeError('commands that carry numbers cannot be written as Promela')
  if (system.echoes)
    throw new RangeError('what comes back of messages cannot be written as Promela')
  return new Writer(design, system, count, counted).text()
}

const range = (n: number) => Array.from({ length: n }, (_, i) => i)
const row = (values: readonly number[]) => `{${values.join(',')}}`
const list = (name: string, values: readonly number[]) =>
  `  static const int ${name}[] = ${row(values.length ? values : [0])};`
const fact = (facts: readonly number[], bit: number) => facts.map(f => Number((f & bit) !== 0))

class Writer {
  private readonly events: string[] = []
  private readonly at: System['layout']
  private readonly panel: SurfaceTable | null
  private readonly twice: boolean
  private readonly restart: boolean

  constructor(
    private readonly design: Design,
    private readonly system: System,
    private readonly count: number,
    private readonly counted: Counted | null,
  ) {
    this.at = system.layout
    this.panel = system.panel
    this.twice = system.question === 'twice'
    this.restart = system.question === 'restart'
  }

  text(): string {
    const { system, counted } = this
    this.links()
    this.people()
    this.board()
    const first = system.initial()
    const name = (id: string) => surfaceOf(this.design, id).name.replaceAll('*/', '')
    const kind = (n: number) => {
      if (n < 256) return 'byte'
      return n < 32_000 ? 'short' : 'int'
    }
    const counters = counted
      ? `byte presses = ${counted.presses}; byte commands = ${counted.commands}; byte drops = ${counted.drops}; byte losses = ${counted.losses}; byte doubles = ${counted.doubles}; byte cuts = ${counted.cuts};\n`
      : ''
    return `/* ${loadOf(this.design, system.loadId).name.replaceAll('*/', '')}${this.panel ? ` and ${name(this.panel.program.panel.id)}` : ''}: ${this.count} situations.
   spin -a FILE; cc -O3 -DSAFETY -DBFS -DNOREDUCE -o pan pan.c; ./pan -E -m1000000
   In the environment, LOOK=all: all situations, whatever is shown. LOOK=wrong, unsure, twice, vanished, moved, jumped, dead, clashed, astray, stuck: that alone. */
${kind(system.controller.states.length)} c = ${system.controllerOf(first)};
${kind(this.panel?.states.length ?? 1)} p = ${this.panel ? system.panelOf(first) : 0};
bit power = 1; bit up = ${this.panel ? 1 : 0}; byte levers = 0;
${counters}byte u[${MOST_EACH_WAY}]; byte d[${MOST_EACH_WAY}];
${this.twice ? `bit tag[${MOST_EACH_WAY}]; bit watching = 0; bit taken = 0; bit did = 0; bit outdone = 0; byte asked = 0;\n` : ''}${this.restart ? 'byte started = 0;\n' : ''}bit bad = 0;
c_decl {
${this.tables()}
};
c_code {
${this.functions()}
};
active proctype system() {
  do
${this.events.join('\n')}
  od
}
`
  }

  /** `when`, `then`: in C. What is noticed on the way is looked for in `seen`. */
  private event(comment: string, when: string, then: string): void {
    this.events.push(
      `  :: d_step { c_expr { ${when} } -> c_code { seen = 0; ${then} tidy(); now.bad = looked() != 0; } ; assert(!bad) }  /* ${comment} */`,
    )
  }

  /** Something that is counted: whether there is any left, and one less. */
  private spent(what: Exclude<keyof Counted, 'each'>): { left: string; less: string } {
    return this.counted
      ? { left: ` && now.${what}`, less: `now.${what}--;` }
      : { left: '', less: '' }
  }

  private links(): void {
    const { at, panel, twice, restart } = this
    if (!panel) return
    const drops = this.spent('drops')
    const losses = this.spent('losses')
    const doubles = this.spent('doubles')
    for (const n of range(at.datagrams ? MOST_EACH_WAY : 1)) {
      this.event('a message reaches the board', `now.u[${n}]`, `hear(${n}, 1);`)
      this.event(
        'a message reaches the surface',
        `now.d[${n}]`,
        `if (surface(${panel.message(0)} + now.d[${n}], 1, 0)) take((unsigned char *) now.d, ${n});`,
      )
      if (at.datagrams && at.copiesAct)
        this.event(
          'comes twice',
          `now.u[${n}]${doubles.left}`,
          `if (hear(${n}, 0)) { ${doubles.less} }`,
        )
      if (at.datagrams)
        this.event(
          'comes twice',
          `now.d[${n}]${doubles.left}`,
          `if (surface(${panel.message(0)} + now.d[${n}], 1, 0)) { ${doubles.less} }`,
        )
      if (!at.loses) continue
      this.event('a message is lost', `now.u[${n}]${losses.left}`, `${losses.less} take_up(${n});`)
      this.event(
        'a message is lost',
        `now.d[${n}]${losses.left}`,
        `${losses.less} take((unsigned char *) now.d, ${n});`,
      )
    }
    this.event(
      'the link drops',
      `now.up${drops.left}`,
      `${drops.less} falls(); board(${at.down}, 1);`,
    )
    if (restart)
      this.event(
        'the surface starts anew',
        'now.up && now.power && !now.started',
        `falls(); board(${at.down}, 1); now.p = SURFACE[now.p][${PANEL.restart}]; now.started = 1;`,
      )
    this.event('the link returns', '!now.up && now.power', 'returns();')
    this.event(
      'the surface notices',
      '!now.up && CONNECTED[now.p]',
      `surface(${PANEL.linkDown}, 0, 0);`,
    )
    this.event(
      'no answer came',
      'WAITS[now.p]',
      `surface(${panel.timeout()}, 0, ${twice ? 'now.watching && !now.outdone ? 2 : 0' : '0'});`,
    )
    this.event(
      'the surface asks',
      'POLLS[now.p] && !now.u[0] && !now.d[0]',
      `surface(${PANEL.poll}, 0, 0);`,
    )
    if (this.system.tells)
      this.event(
        'the board tells',
        'now.power && now.up && !now.u[0] && !now.d[0]',
        `board(${at.tell}, 0);`,
      )
    if (at.first.sent !== undefined)
      this.event('a message has left', 'now.power && QUEUED[now.c]', `board(${at.sent}, 0);`)
    if (at.first.least !== undefined)
      for (const load of range(this.system.design.loads.length))
        this.event(
          'a report may be told again',
          `now.power && HELD_BACK[${load}][now.c]`,
          `board(${at.least + load}, 0);`,
        )
    this.event(
      'a hold is kept alive',
      'HOLDS[now.p] && !now.u[0]',
      `surface(${panel.repeat()}, 0, 0);`,
    )
  }

  private people(): void {
    const { at, panel, twice, restart } = this
    const presses = this.spent('presses')
    const commands = this.spent('commands')
    const idle = restart ? ' && !now.started' : ''
    const done = twice ? ' if (now.watching) now.taken = 1;' : ''
    for (const hand of at.hands) {
      if (hand.bit >= 0)
        this.event(
          'a switch is flipped',
          `1${presses.left}${idle}`,
          `now.levers ^= ${1 << hand.bit}; if (!now.power || board(now.levers & ${1 << hand.bit} ? ${hand.lever?.[0] ?? 0} : ${hand.lever?.[1] ?? 0}, 0)) { ${presses.less}${done} } else now.levers ^= ${1 << hand.bit};`,
        )
      else if (hand.holds) {
        this.event(
          'a finger stays',
          `now.power && !DOWN${hand.input}[now.c]${presses.left}${idle}`,
          `if (board(${hand.lever?.[0] ?? 0}, 0)) { ${presses.less}${done} }`,
        )
        this.event(
          'a finger leaves',
          `now.power && DOWN${hand.input}[now.c]`,
          `board(${hand.lever?.[1] ?? 0}, 0);`,
        )
      } else
        this.event(
          'a button is pressed',
          `now.power${presses.left}${idle}`,
          `if (board(${hand.press}, 0)) { ${presses.less}${done} }`,
        )
    }
    for (const e of at.elsewhere)
      this.event(
        'something else',
        `now.power${presses.left}${idle}`,
        `if (board(${e.act}, 0)) { ${presses.less}${done} }`,
      )
    panel?.keys.forEach((key, i) => {
      const mine = this.system.isAbout(key)
      this.event(
        'a key',
        `SPEAKS[${i}][now.p]${commands.left}${idle}`,
        `if (surface(${panel.key(i)}, 0, 0)) { ${commands.less}${twice ? ` if (now.watching) { now.taken = 1;${mine ? ' now.outdone = 1;' : ''} }` : ''} }`,
      )
      if (twice && !('scene' in key))
        this.event(
          'the key that is watched',
          `!now.watching && SPEAKS[${i}][now.p] && IS_ABOUT[${i}][now.p]`,
          `{ int asks = ASKS[${i}][now.p]; if (surface(${panel.key(i)}, 2, 1)) { now.watching = 1; now.asked = asks; see(); } }`,
        )
      if (
        restart
        && !('scene' in key)
        && key.load === 0
        && (key.want === 'up' || key.want === 'down')
      ) {
        this.event(
          'one step',
          `now.started == 1 && now.up && CONNECTED[now.p] && !now.u[0] && !now.d[0] && !LEARNS[now.c][now.p]`,
          `if (surface(${panel.key(i)}, 0, 0)) now.started = ${key.want === 'up' ? 2 : 3};`,
        )
      }
    })
  }

  private board(): void {
    const { at } = this
    const cuts = this.spent('cuts')
    at.ends.forEach((e, i) =>
      this.event('an end contact', `now.power && END[${i}][now.c]`, `board(${e.act}, 0);`),
    )
    at.timers.forEach((_, i) =>
      this.event('a timer', `now.power && TIMER[${i}][now.c]`, `board(${at.timer + i}, 0);`),
    )
    this.event('the value is saved', 'now.power && SAVES[now.c]', `board(${at.save}, 0);`)
    this.event(
      'the power is cut',
      `now.power${cuts.left}`,
      `${cuts.less} now.power = 0; falls(); board(${at.off}, 0);`,
    )
    this.event(
      'the power returns',
      '!now.power',
      `now.power = 1; board(${at.boot} + now.levers, 0);`,
    )
  }

  private tables(): string {
    const {
      at,
      panel,
      system: { controller },
    } = this
    const boards = controller.states.length
    const surfaces = panel?.states.length ?? 1
    const acts = at.message + this.system.messages.texts.length
    const keyed = panel ? panel.message(this.system.messages.texts.length) : 1
    const sends = (count: number, sent: number) =>
      range(count).reduce((all, i) => all * 256 + ((sent >>> (i * 8)) & 0xff), 0)
    const board = (n: number, act: number) => Math.max(0, controller.known(n, act))
    const surface = (n: number, act: number) => Math.max(0, panel?.known(n, act) ?? 0)
    const table = (
      type: string,
      name: string,
      rows: number,
      columns: number,
      value: (row: number, column: number) => number,
    ) =>
      `  static const ${type} ${name}[${rows}][${columns}] = {\n${range(rows)
        .map(r => `    ${row(range(columns).map(c => value(r, c)))}`)
        .join(',\n')}\n  };`
    const key = (i: number, n: number) => (panel ? surface(n, panel.key(i)) : 0)
    const keys = Math.max(1, panel?.keys.length ?? 0)
    const learns = (c: number, p: number) =>
      panel
      && (((panel.facts[p] as number) & POLLS && this.system.wouldLearn(c, p))
        || (this.system.tells && this.system.learnsByBeingTold(c, p)))
        ? 1
        : 0
    return [
      table('int', 'BOARD', boards, acts, (n, act) => board(n, act) & NEXT.controller),
      table('int', 'TELLS', boards, acts, (n, act) =>
        sends((board(n, act) >>> SENDS.controller) & 7, controller.sentBy(n, act)),
      ),
      table(
        'int',
        'NOTICED',
        boards,
        acts,
        (n, act) => board(n, act) & (DEAD | CLASHED | ASTRAY | ACTED),
      ),
      ...(panel
        ? [
            table('int', 'SURFACE', surfaces, keyed, (n, act) => surface(n, act) & NEXT.panel),
            table('int', 'SAYS', surfaces, keyed, (n, act) =>
              sends((surface(n, act) >>> SENDS.panel) & 7, panel.sentBy(n, act)),
            ),
            table('char', 'ABOUT', surfaces, keyed, (n, act) => (surface(n, act) >>> ABOUT) & 0xf),
            table('char', 'SPEAKS', keys, surfaces, (i, n) =>
              Number(((key(i, n) >>> SENDS.panel) & 7) !== 0),
            ),
            table('char', 'IS_ABOUT', keys, surfaces, (i, n) => (key(i, n) >>> ABOUT) & 1),
            table('char', 'ASKS', keys, surfaces, (i, n) => (key(i, n) >>> ASKS) & ASKED),
            table('char', 'LEARNS', boards, surfaces, learns),
            list('SHOWS', panel.shows),
            list('WAITS', fact(panel.facts, WAITING)),
            list('HOLDS', fact(panel.facts, HOLDS)),
            list('CONNECTED', fact(panel.facts, CONNECTED)),
            list('POLLS', fact(panel.facts, POLLS)),
          ]
        : []),
      table('char', 'TIMER', Math.max(1, at.timers.length), boards, (i, c) =>
        Number(controller.armed[c]?.includes(i)),
      ),
      table('char', 'END', Math.max(1, at.ends.length), boards, (i, c) =>
        Number(at.ends[i] ? this.system.canEnd(c, at.ends[i]) : 0),
      ),
      ...at.hands
        .filter(h => h.holds)
        .map(h =>
          list(
            `DOWN${h.input}`,
            controller.states.map(s => Number(s.inputs[h.input]?.level === 0)),
          ),
        ),
      ...(at.first.least === undefined
        ? []
        : [
            table('char', 'HELD_BACK', this.system.design.loads.length, boards, (load, c) =>
              Number(this.system.isHeldBack(c, load)),
            ),
          ]),
      list('QUEUED', fact(controller.facts, QUEUED)),
      list('VALUE', controller.values),
      list('ARMED', fact(controller.facts, ARMED)),
      list('SAVES', fact(controller.facts, SAVING)),
      list('STUCK', fact(controller.facts, STUCK)),
    ].join('\n')
  }

  private functions(): string {
    const { at, panel, twice, restart, counted } = this
    const q = MOST_EACH_WAY
    const each = counted?.each ?? q
    const most = counted ? 2 * each : this.system.room
    return `  static int seen, look = -1;
  static int length(unsigned char *queue) { int n = 0; while (n < ${q} && queue[n]) n++; return n; }
  static int tags(void) { ${twice ? `int n = 0, i; for (i = 0; i < ${q}; i++) n += now.tag[i]; return n;` : 'return 0;'} }
  /* Puts what is sent behind the queue; whether there was room: 1 an answer always has it, 2 so has what is watched. Two or more are digits to the base of 256, the first in front. */
  static int push(unsigned char *queue, int sent, int free) {
    int n = length(queue), k = 0;
    unsigned int more = sent;
    while (more) { k++; more /= 256; }
    if (!k) return 1;
    if (n + k > ${each}) return 0;
    if (!free && length((unsigned char *) now.u) + length((unsigned char *) now.d) - tags() + k > ${most}) return 0;
    more = sent;
    for (; k; k--) { queue[n + k - 1] = more % 256; more /= 256; }
    return 1;
  }
  static void take(unsigned char *queue, int place) {
    for (; place < ${q} - 1; place++) queue[place] = queue[place + 1];
    queue[${q} - 1] = 0;
  }
  static void take_up(int place) { take((unsigned char *) now.u, place);${twice ? ' take((unsigned char *) now.tag, place);' : ''} }
  static void falls(void) { int i; now.up = 0; for (i = 0; i < ${q}; i++) { now.u[i] = now.d[i] = 0;${twice ? ' now.tag[i] = 0;' : ''} } }
  static int board(int act, int free) {
    if (now.up && !push((unsigned char *) now.d, TELLS[now.c][act], free)) return 0;
    seen |= NOTICED[now.c][act];
    now.c = BOARD[now.c][act];
    return 1;
  }
${
  panel
    ? `  static void see(void) {${twice && this.system.showsIt ? ' if (now.watching && SHOWS[now.p] == VALUE[now.c]) now.taken = 1;' : ''} }
  /* watched: 1 the first of what is said counts as the press that is watched, 2 all of it that is about the load. */
  static int surface(int act, int free, int watched) {
    int n = length((unsigned char *) now.u), about = watched == 1 ? 1 : watched == 2 ? ABOUT[now.p][act] : 0;
    if (now.up && !push((unsigned char *) now.u, SAYS[now.p][act], free)) return 0;
${twice ? `    if (now.up) for (; about && n < ${q}; n++) { now.tag[n] = about & 1; about >>= 1; }\n` : ''}    now.p = SURFACE[now.p][act];
    see();
    return 1;
  }
  static int hear(int place, int takes) {
    int act = ${at.message} + now.u[place], was = now.c, tag = ${twice ? 'now.tag[place]' : '0'}, message = now.u[place];
    unsigned char u[${q}]; int i;
    for (i = 0; i < ${q}; i++) u[i] = now.u[i];
    if (takes) take((unsigned char *) now.u, place);
    if (!board(act, 1)) { for (i = 0; i < ${q}; i++) now.u[i] = u[i]; return 0; }
${twice ? `    if (tag) { if (NOTICED[was][act] & ${ACTED} && now.did) seen |= 1; now.taken = 1; if (NOTICED[was][act] & ${ACTED}) now.did = 1; }\n    if (takes) take((unsigned char *) now.tag, place);\n` : ''}${restart ? '    i = VALUE[now.c] - VALUE[was];\n    if (now.started && i) seen |= now.started == 1 ? 2 : i != (now.started == 2 ? 1 : -1) ? 4 : 0;\n' : ''}    return 1;
  }
  static void returns(void) {
    int p = CONNECTED[now.p] ? SURFACE[now.p][${PANEL.linkDown}] : now.p;
    if (!push((unsigned char *) now.d, TELLS[now.c][${at.up}], ${counted ? 1 : 0}) || !push((unsigned char *) now.u, SAYS[p][${PANEL.linkUp}], ${counted ? 1 : 0})) { falls(); return; }
    now.up = 1;
    now.c = BOARD[now.c][${at.up}];
    now.p = SURFACE[p][${PANEL.linkUp}];
  }
  static int rests(void) { return now.power && now.up && !now.u[0] && !now.d[0] && !WAITS[now.p] && !HOLDS[now.p] && !ARMED[now.c] && !LEARNS[now.c][now.p]; }`
    : '  static int rests(void) { return 0; }'
}
  static void swap(unsigned char *queue, int i) { unsigned char x = queue[i]; queue[i] = queue[i + 1]; queue[i + 1] = x; }
  /* Of datagrams any may come next: they lie sorted, but where it is counted as it was before. */
  static void tidy(void) {
${
  at.datagrams && !counted
    ? `    int i, n;
    for (n = 0; n < ${q}; n++) for (i = 0; i < ${q} - 1; i++) {
      if (now.u[i + 1] && (now.u[i] > now.u[i + 1]${twice ? ' || (now.u[i] == now.u[i + 1] && now.tag[i] > now.tag[i + 1])' : ''})) { swap((unsigned char *) now.u, i);${twice ? ' swap((unsigned char *) now.tag, i);' : ''} }
      if (now.d[i + 1] && now.d[i] > now.d[i + 1]) swap((unsigned char *) now.d, i);
    }`
    : ''
}
  }
  static int looked(void) {
    if (look < 0) { char *asked = getenv("LOOK"); look = !asked ? 'w' * 256 + 'r' : asked[0] * 256 + asked[1]; }
    switch (look) {
${
  panel
    ? `      case 'w' * 256 + 'r': return rests() && SHOWS[now.p] >= 0 && SHOWS[now.p] != VALUE[now.c];
      case 'u' * 256 + 'n': return rests() && SHOWS[now.p] < 0;
      case 't' * 256 + 'w': return seen & 1;
      case 'm' * 256 + 'o': return seen & 2;
      case 'j' * 256 + 'u': return seen & 4;
${twice ? `      case 'v' * 256 + 'a': return rests() && now.watching && !now.taken${this.system.showsIt ? ` && SHOWS[now.p] >= 0 && SHOWS[now.p] != VALUE[now.c] && (SHOWS[now.p] & ${ASKED}) == now.asked` : ''};` : ''}`
    : ''
}
      case 'd' * 256 + 'e': return seen & ${DEAD};
      case 'c' * 256 + 'l': return seen & ${CLASHED};
      case 'a' * 256 + 's': return seen & ${ASTRAY};
      case 's' * 256 + 't': return STUCK[now.c];
    }
    return 0;
  }`
  }
}
