/**
 * The system of a load and a surface as Promela, for the model checker that Debian ships. What board and surface do stands in
 * tables, made by the same step functions as everywhere; how they come together (queues, links, losses, bounds, rest) is said here
 * a second time, in the checker's own terms. Asked breadth first it finds the same situations and equally short stories.
 */
import { loadOf, surfaceOf } from '../design/find'
import type { Design } from '../design/schema'
import type { Exploration } from './explore'
import { ARMED, CONNECTED, HOLDS, NEXT, PANEL, POLLS, SAVING, SENDS, WAITING } from './machines'

/** `search`: run to its end, so that all moves are known. What is looked for is said in the environment. */
export function promela(design: Design, search: Exploration): string {
  const { system } = search
  const { controller, panel, bounds } = system
  if (!panel || system.question !== 'truth') throw new RangeError('only what a surface shows can be written as Promela')
  const at = system.layout
  const boards = controller.states.length
  const surfaces = panel.states.length
  const messages = system.messages.texts.length
  const acts = at.message + messages
  const keyed = panel.message(messages)
  const row = (values: readonly number[]) => `{${values.join(',')}}`
  const range = (n: number) => Array.from({ length: n }, (_, i) => i)
  const table = (type: string, name: string, rows: number, columns: number, value: (row: number, column: number) => number) =>
    `  static const ${type} ${name}[${rows}][${columns}] = {\n${range(rows).map(r => `    ${row(range(columns).map(c => value(r, c)))}`).join(',\n')}\n  };`
  const list = (name: string, values: readonly number[]) => `  static const int ${name}[] = ${row(values)};`
  const sends = (count: number, sent: number) => range(Math.min(count, 4)).reduce((all, i) => all * 256 + ((sent >>> i * (bounds.queue > 2 ? 4 : 8)) & (bounds.queue > 2 ? 15 : 255)), 0) + (count > 4 ? -1e9 : 0)
  const unpacked = (t: 'controller' | 'panel', n: number, act: number) => {
    const machine = t === 'controller' ? controller : panel
    const m = machine.known(n, act)
    return m < 0 ? { next: 0, sends: 0 } : { next: m & NEXT[t], sends: sends((m >>> SENDS[t]) & 7, machine.sentBy(n, act)) }
  }
  const first = system.initial()
  const fact = (facts: readonly number[], bit: number) => facts.map(f => Number((f & bit) !== 0))
  const events: string[] = []
  const event = (comment: string, when: string, then: string) => events.push(`  :: d_step { c_expr { ${when} } -> c_code { ${then} now.bad = is_bad(); } ; assert(!bad) }  /* ${comment} */`)
  const q = bounds.queue
  event('a message reaches the board', 'now.u[0]', `if (board(${at.message} + now.u[0])) take_up(0);`)
  event('a message reaches the surface', 'now.d[0]', `if (surface(${panel.message(0)} + now.d[0])) take_down(0);`)
  if (at.datagrams) {
    for (let n = 1; n < q; n++) {
      event('overtaking', `now.u[${n}]`, `if (board(${at.message} + now.u[${n}])) take_up(${n});`)
      event('overtaking', `now.d[${n}]`, `if (surface(${panel.message(0)} + now.d[${n}])) take_down(${n});`)
    }
    if (at.copiesAct) event('comes twice', 'now.u[0] && now.doubles', `if (board(${at.message} + now.u[0])) now.doubles--;`)
    event('comes twice', 'now.d[0] && now.doubles', `if (surface(${panel.message(0)} + now.d[0])) now.doubles--;`)
  }
  for (const hand of at.hands) {
    if (hand.bit >= 0) event('a switch is flipped', 'now.presses', `now.levers ^= ${1 << hand.bit}; if (!now.power || board(now.levers & ${1 << hand.bit} ? ${hand.lever?.[0] ?? 0} : ${hand.lever?.[1] ?? 0})) now.presses--; else now.levers ^= ${1 << hand.bit};`)
    else if (hand.holds) {
      event('a finger stays', `now.presses && now.power && !DOWN${hand.input}[now.c]`, `if (board(${hand.lever?.[0] ?? 0})) now.presses--;`)
      event('a finger leaves', `now.power && DOWN${hand.input}[now.c]`, `board(${hand.lever?.[1] ?? 0});`)
    }
    else event('a button is pressed', 'now.presses && now.power', `if (board(${hand.press})) now.presses--;`)
  }
  panel.keys.forEach((_, i) => event('a key', `now.commands && SPEAKS[${i}][now.p]`, `if (surface(${panel.key(i)})) now.commands--;`))
  for (const e of at.elsewhere) event('something else', 'now.presses && now.power', `if (board(${e.act})) now.presses--;`)
  at.ends.forEach((e, i) => event('an end contact', `now.power && END[${i}][now.c]`, `board(${e.act});`))
  event('the link drops', 'now.up && now.drops', `now.drops--; falls(); board(${at.down});`)
  event('the link returns', '!now.up && now.power', `returns();`)
  event('the surface notices', `!now.up && CONNECTED[now.p]`, `surface(${PANEL.linkDown});`)
  event('no answer came', 'WAITS[now.p]', `surface(${PANEL.timeout});`)
  event('the surface asks', 'POLLS[now.p] && !now.u[0] && !now.d[0]', `surface(${PANEL.poll});`)
  event('a hold is kept alive', 'HOLDS[now.p] && !now.u[0]', `surface(${PANEL.repeat});`)
  at.timers.forEach((_, i) => event('a timer', `now.power && TIMER[${i}][now.c]`, `board(${at.timer + i});`))
  if (at.loses) {
    event('a message is lost', 'now.u[0] && now.losses', 'now.losses--; take_up(0);')
    event('a message is lost', 'now.d[0] && now.losses', 'now.losses--; take_down(0);')
  }
  event('the value is saved', 'now.power && SAVES[now.c]', `board(${at.save});`)
  event('the power is cut', 'now.power && now.cuts', `now.cuts--; now.power = 0; falls(); board(${at.off});`)
  event('the power returns', '!now.power', `now.power = 1; board(${at.boot} + now.levers);`)
  const asking = range(boards).map(c => range(surfaces).map(p => Number(((panel.facts[p] as number) & POLLS) !== 0 && system.wouldLearn(c, p))))
  const name = (surfaceId: string) => surfaceOf(design, surfaceId).name.replaceAll('*/', '')
  const kind = (n: number) => n < 256 ? 'byte' : n < 32_000 ? 'short' : 'int'
  const number = (i: 0 | 1 | 2, shift: number, mask: number) => ((first[i] as number) >>> shift) & mask
  return `/* ${loadOf(design, system.loadId).name.replaceAll('*/', '')} and ${name(panel.program.panel.id)}: ${search.count} situations.
   spin -a FILE; cc -O3 -DSAFETY -DBFS -DNOREDUCE -o pan pan.c; ./pan -E -m1000000
   In the environment, LOOK=all: all situations, whatever is shown. LOOK=uncertain: what is not certain counts too. */
${kind(boards)} c = ${system.controllerOf(first)};
${kind(surfaces)} p = ${system.panelOf(first)};
bit power = 1; bit up = 1; byte levers = 0;
byte presses = ${bounds.presses}; byte cuts = ${bounds.powerCuts};
byte commands = ${number(1, 18, 15)}; byte drops = ${number(1, 22, 7)}; byte losses = ${number(1, 25, 7)}; byte doubles = ${number(1, 28, 3)};
byte u[${q}]; byte d[${q}];
bit bad = 0;
c_decl {
${table('short', 'BOARD', boards, acts, (n, act) => unpacked('controller', n, act).next)}
${table('int', 'TELLS', boards, acts, (n, act) => unpacked('controller', n, act).sends)}
${table('int', 'SURFACE', surfaces, keyed, (n, act) => unpacked('panel', n, act).next)}
${table('int', 'SAYS', surfaces, keyed, (n, act) => unpacked('panel', n, act).sends)}
${table('char', 'SPEAKS', Math.max(1, panel.keys.length), surfaces, (i, n) => panel.keys[i] && (panel.known(n, panel.key(i)) < 0 || (panel.known(n, panel.key(i)) >>> SENDS.panel) & 7) ? 1 : 0)}
${table('char', 'TIMER', Math.max(1, at.timers.length), boards, (i, c) => Number(controller.armed[c]?.includes(i)))}
${table('char', 'END', Math.max(1, at.ends.length), boards, (i, c) => Number(at.ends[i] ? system.canEnd(c, at.ends[i]) : 0))}
${table('char', 'LEARNS', boards, surfaces, (c, p) => (asking[c] as number[])[p] as number)}
${at.hands.filter(h => h.holds).map(h => list(`DOWN${h.input}`, controller.states.map(s => Number(s.inputs[h.input]?.level === 0)))).join('\n')}
${list('VALUE', controller.values)}
${list('ARMED', fact(controller.facts, ARMED))}
${list('SAVES', fact(controller.facts, SAVING))}
${list('SHOWS', panel.shows)}
${list('WAITS', fact(panel.facts, WAITING))}
${list('HOLDS', fact(panel.facts, HOLDS))}
${list('CONNECTED', fact(panel.facts, CONNECTED))}
${list('POLLS', fact(panel.facts, POLLS))}
};
c_code {
  static int length(unsigned char *queue) { int n = 0; while (n < ${q} && queue[n]) n++; return n; }
  /* Puts what is sent behind the queue; whether there was room. Two or more are digits to the base of 256, the first in front. */
  static int push(unsigned char *queue, int sent) {
    int n = length(queue), k = 0, more = sent;
    if (sent < 0) return 0;
    while (more) { k++; more /= 256; }
    if (n + k > ${q}) return 0;
    for (more = n + k - 1; more >= n; more--) { queue[more] = sent % 256; sent /= 256; }
    return 1;
  }
  static void take(unsigned char *queue, int place) {
    for (; place < ${q} - 1; place++) queue[place] = queue[place + 1];
    queue[${q} - 1] = 0;
  }
  static void take_up(int place) { take((unsigned char *) now.u, place); }
  static void take_down(int place) { take((unsigned char *) now.d, place); }
  static void falls(void) { int i; now.up = 0; for (i = 0; i < ${q}; i++) now.u[i] = now.d[i] = 0; }
  static int board(int act) {
    if (now.up && !push((unsigned char *) now.d, TELLS[now.c][act])) return 0;
    now.c = BOARD[now.c][act];
    return 1;
  }
  static int surface(int act) {
    if (now.up && !push((unsigned char *) now.u, SAYS[now.p][act])) return 0;
    now.p = SURFACE[now.p][act];
    return 1;
  }
  static void returns(void) {
    int p = CONNECTED[now.p] ? SURFACE[now.p][${PANEL.linkDown}] : now.p;
    if (!push((unsigned char *) now.d, TELLS[now.c][${at.up}]) || !push((unsigned char *) now.u, SAYS[p][${PANEL.linkUp}])) { falls(); return; }
    now.up = 1;
    now.c = BOARD[now.c][${at.up}];
    now.p = SURFACE[p][${PANEL.linkUp}];
  }
  static int look = -1;
  static int is_bad(void) {
    if (look < 0) { char *asked = getenv("LOOK"); look = !asked ? 1 : asked[0] == 'a' ? 0 : 2; }
    if (!look || !now.power || !now.up || now.u[0] || now.d[0] || WAITS[now.p] || HOLDS[now.p] || ARMED[now.c] || LEARNS[now.c][now.p]) return 0;
    if (look == 2 && SHOWS[now.p] < 0) return 1;
    return SHOWS[now.p] >= 0 && SHOWS[now.p] != VALUE[now.c];
  }
};
active proctype system() {
  do
${events.join('\n')}
  od
}
`
}
