/**
 * The table of transitions printed as code for one system, with its numbers in place, so that the
 * machine has nothing to look up but the moves. Several times faster than walking the table; tests
 * hold the two together. Where a page may not make code at run time there is none, and the table is
 * walked.
 */
import { expand } from './expand'
import type { Row, Sink, When } from './frame'
import { ABOUT, NEXT, SENDS } from './tables/table'
import { PANEL } from './tables/surface'
import { ALL_LEVERS, LEVERS, MOST_EACH_WAY, sorted, UP, without } from './packing'
import type { System } from './system'

/**
 * What follows a situation, written down by the made code itself: four words and the event each,
 * from `at` on. There is room for as many as can follow.
 */
export interface Followers extends Sink {
  words: Int32Array
  at: number
}
export type Expand = (
  w0: number,
  w1: number,
  up: number,
  down: number,
  out: Followers,
  quiet: boolean,
) => void

/** The walk over the table, where there is no code. */
export function walked(system: System): Expand {
  return (w0, w1, up, down, out, quiet) => expand(system, w0, w1, up, down, out, quiet)
}

/** null where code cannot be made. */
export function generated(system: System): Expand | null {
  try {
    return makerOf(codeOf(system))(
      system,
      system.controller,
      system.panel ?? NO_PANEL,
      system.watch,
      system.rows,
      without,
      sorted,
    )
  } catch {
    return null
  }
}

const NO_PANEL = { moves: [], sent: [], facts: [0] }
type Maker = (...args: unknown[]) => Expand
/** Systems that are alike share their code, and what the machine has learnt about it. */
const makers = new Map<string, Maker>()
const MOST_KEPT = 200

function makerOf(code: string): Maker {
  let maker = makers.get(code)
  if (!maker) {
    // Made of numbers of the system only; no text of a design gets into it.
    maker = new Function('sys', 'C', 'P', 'notes', 'rows', 'without', 'sorted', code) as Maker
    if (makers.size >= MOST_KEPT) makers.clear()
    makers.set(code, maker)
  }
  return maker
}

function codeOf(system: System): string {
  const printed = [true, false].map(quiet =>
    system.rows
      .map((row, i) => (row.quiet === quiet ? new Printer(system, row, i).row() : ''))
      .filter(Boolean)
      .join('\n'),
  )
  return `return function(w0,w1,u,d,out,quiet){
const W=out.words,R=sys.room;let n=out.at,M=C.moves,S=C.sent,PM=P.moves,PS=P.sent;
const c=w0&${NEXT.controller},p=w1&${NEXT.panel},facts=P.facts[p]|0;
${printed[0]}
if(!quiet){
${printed[1]}
}
out.at=n}`
}

const LENGTH = (queue: string) =>
  `(${queue}===0?0:${queue}>>>8===0?1:${queue}>>>16===0?2:${queue}>>>24===0?3:4)`

const STILL = { all: '(u|d)===0', up: 'u===0' } as const

/**
 * One row as code. In it: the words w0, w1, u, d; board and surface state c, p; facts of the
 * surface; n, where the next is written.
 */
class Printer {
  constructor(
    private readonly system: System,
    private readonly rowOf: Row,
    private readonly index: number,
  ) {}

  row(): string {
    const { rowOf: row, system } = this
    const when = this.when(row.when)
    const held = system.holdsBack ? 'if(sys.heldBack(t,w0,w1,u|d))continue;' : ''
    if (row.each === 'armed')
      return `${when}{const T=C.armed[c];for(let k=0;k<T.length;k++){const t=T[k];${held}${this.move(`(${row.act}+t)`, `${row.event}+t`)}}}`
    if (row.each === 'changes')
      return `${when}{const L=sys.changesAt(c);for(let k=0;k<L.length;k+=2){const a=L[k];${this.move('a', 'L[k+1]')}}}`
    if (row.message) {
      const { dir, nth, alike } = row.message
      const [queue, back] = dir === 'up' ? ['u', 'd'] : ['d', 'u']
      const other = alike && nth > 0 ? `&&g!==(${queue}>>>${8 * nth - 8}&255)` : ''
      const mayCome = system.echoes
        ? `&&sys.messages.mayCome(${queue},${back},${nth},rows[${this.index}].message,sys.ordered)`
        : ''
      return `{const g=${queue}>>>${8 * nth}&255;if(g!==0${other}${mayCome})${this.move(`(${row.act}+g)`, row.event)}}`
    }
    return `${when}${this.move(this.act(), row.event)}`
  }

  /** The act, as far as levers decide about it. */
  private act(): string | number {
    const { act, levers } = this.rowOf
    if (levers === 'all') return `(${act}+(w0>>>${LEVERS}&${ALL_LEVERS}))`
    if (!levers) return act
    return `(w0&${1 << (LEVERS + levers.bit)}?${levers.open}:${levers.closed})`
  }

  private when({ on, off, surface, board, notBoard, still, notes, settled, also }: When): string {
    const terms = [
      on === undefined ? '' : `(w0&${on})===${on}`,
      off === undefined ? '' : `(w0&${off})===0`,
      surface === undefined ? '' : `(facts&${surface})!==0`,
      board === undefined ? '' : `(C.facts[c]&${board})!==0`,
      notBoard === undefined ? '' : `(C.facts[c]&${notBoard})===0`,
      still === undefined ? '' : STILL[still],
      notes === undefined ? '' : `(w1&${notes.mask})===${notes.value}`,
      settled ? '!sys.wouldBeTold(w0,w1)' : '',
      also === undefined ? '' : `rows[${this.index}].when.also(c)`,
    ].filter(Boolean)
    return terms.length ? `if(${terms.join('&&')})` : ''
  }

  private move(act: string | number, event: string | number): string {
    const { rowOf: row, system, index } = this
    if (row.who === 'both') return '{out.at=n;sys.comeBack(w0,w1,out);n=out.at}'
    const { message } = row
    const take = (dir: 'up' | 'down') => {
      const queue = dir === 'up' ? 'u' : 'd'
      if (row.falls) return '0'
      if (!message || message.keeps || message.dir !== dir) return queue
      return message.nth === 0 ? `${queue}>>>8` : `without(${queue},${message.nth})`
    }
    const x0 = `${row.clear ? `w0&${~row.clear}` : 'w0'}${row.set ? `|${row.set}` : ''}`
    const out = [
      `let x0=${row.flip ? `(${x0})^${row.flip}` : x0},x1=${row.marks ? `w1&${~row.marks.mask}|${row.marks.value}` : 'w1'},v=${take('up')},e=${take('down')},ok=true,m=0;`,
    ]
    const mine = row.who === 'board' ? 'e' : 'v'
    const other = mine === 'e' ? 'v' : 'e'
    const [longest, more, back] = system.echoes
      ? ([
          `(l>k?l:k)`,
          '2*',
          (texts: string) =>
            `;${other}|=sys.echoOf(${texts},'${mine === 'e' ? 'down' : 'up'}')<<8*${mine === 'e' ? 'l' : 'k'}`,
        ] as const)
      : (['z', '', () => ''] as const)
    const send = (texts: string, count: string) =>
      `if(${count}!==0&&(x0&${UP})!==0){const l=${LENGTH('v')},k=${LENGTH('e')},z=${mine === 'e' ? 'k' : 'l'};if(${longest}+${count}>${MOST_EACH_WAY}${message || row.note === 'watched' ? '' : `||l+k${system.question === 'twice' ? '-notes.watched(x1)' : ''}+${more}${count}>R`}){sys.overflows++;ok=false}else{${mine}|=${texts}<<8*z${back(texts)}}}`
    if (row.who === 'board') {
      out.push(
        `const i=c*${system.controller.acts}+${act};m=M[i];if(m===-1){m=C.move(c,${act});M=C.moves;S=C.sent}const s=m>>>${SENDS.controller}&7;${send('S[i]', 's')}x0=x0&${~NEXT.controller}|m&${NEXT.controller};`,
      )
      if (row.restarts)
        out.push(
          `x1=x1&${~NEXT.panel}|P.move(p,${PANEL.restart})&${NEXT.panel};PM=P.moves;PS=P.sent;`,
        )
    } else if (row.who === 'surface') {
      const numbered = row.numbered && system.numbered ? `${act}+sys.freshNumber(p,u)` : act
      out.push(
        `const j=${numbered},i=p*${system.panel?.acts ?? 0}+j;m=PM[i];if(m===-1){m=P.move(p,j);PM=P.moves;PS=P.sent}const s=m>>>${SENDS.panel}&7;`,
      )
      if (row.speaks)
        out.push(
          `if(s===0${row.speaks === 'of the load' ? `||(m>>>${ABOUT}&1)===0` : ''})ok=false;else{`,
        )
      out.push(send('PS[i]', 's'), row.speaks ? '}' : '', `x1=x1&${~NEXT.panel}|m&${NEXT.panel};`)
    }
    const paced = system.pace.active ? `x0=sys.pace.tagged(rows[${index}],${event},x0,d,e);` : ''
    const looks = row.looks ? `m&${row.looks}` : '0'
    const noted = row.note ? `x1=notes.noted(rows[${index}],w0,w1,x1,m,u);` : ''
    const seen = row.who === 'surface' && system.question === 'twice' ? 'x1=notes.seen(x0,x1);' : ''
    const notice =
      row.looks || row.note ? `const f=${looks}${row.note ? '|notes.noticed' : ''};` : ''
    const plain = system.tidy.idle || system.tidy.sortsOnly
    const at = (queue: string) =>
      system.tidy.idle ? queue : `${queue}>>>8===0?${queue}:sorted(${queue})`
    const put = plain
      ? `W[n]=x0;W[n+1]=x1;W[n+2]=${at('v')};W[n+3]=${at('e')};W[n+4]=${event};n+=5`
      : `out.at=n;sys.tidy.add(x0,x1,v,e,${event},out);n=out.at`
    const over =
      system.question === 'twice' && system.tidy.idle ? `if(!notes.isOver(x0,x1)){${put}}` : put
    return `${system.pace.active ? `if(sys.pace.allows(${event},w0))` : ''}{${out.join('')}if(ok){${paced}${noted}${seen}${notice}${notice ? `if(f!==0)out.notice(f,${event});` : ''}${over}}}`
  }
}
