/**
 * Successor code made for one system: the same events in the same order as `System.expand`, written out with its numbers in place, so
 * that the machine has nothing to look up but the moves. Several times faster; tests hold the two together. Where a page may not make
 * code at run time there is none, and the general one is used.
 */
import { NEXT, PANEL, SENDS, WAITING, HOLDS, CONNECTED, POLLS, SAVING } from './machines'
import { without, type Sink, type System } from './system'

/** What follows a situation, written down by the made code itself: three words and the event each, from `at` on. Room for as many as there are events is there before. */
export interface Followers extends Sink { words: Int32Array, at: number }
export type Expand = (w0: number, w1: number, w2: number, out: Followers, quiet: boolean) => void

/** null where the question needs notes of its own, or code cannot be made. */
export function generated(system: System): Expand | null {
  const { panel } = system
  if (system.question !== 'truth' || !panel || system.tells || system.keepsAlive) return null
  try {
    return makerOf(codeOf(system))(system, system.controller, panel, system.layout.ends, without)
  }
  catch { return null }
}

type Maker = (...args: unknown[]) => Expand
/** Systems that are alike share their code, and what the machine has learnt about it. */
const makers = new Map<string, Maker>()
const MOST_KEPT = 200

function makerOf(code: string): Maker {
  let maker = makers.get(code)
  if (!maker) {
    // Made of numbers of the system only; no text of a design gets into it.
    maker = new Function('sys', 'C', 'P', 'ENDS', 'without', code) as Maker
    if (makers.size >= MOST_KEPT) makers.clear()
    makers.set(code, maker)
  }
  return maker
}

function codeOf(system: System): string {
  const { layout: at, controller, panel } = system
  if (!panel) return ''
  const { bits, room, place, patient, slow } = at
  const A = controller.acts
  const PA = panel.acts
  const event = (kind: string) => {
    const n = at.first[kind]
    if (n === undefined) throw new Error(`no event "${kind}"`)
    return n
  }
  const put = (w0: string, w1: string, w2: string, e: string | number) => `{W[n]=${w0};W[n+1]=${w1};W[n+2]=${w2};W[n+3]=${e};n+=4}`
  const length = (half: string) => `(${half}===0?0:${half}>>>${bits}===0?1:${bits === 8 ? '2' : `${half}>>>${2 * bits}===0?2:${half}>>>${3 * bits}===0?3:4`})`
  /** A move of the board. `up`: whether its messages go anywhere. */
  const board = (act: string | number, e: string | number, w0: string, w1: string, w2: string, up: string | boolean) => `{
    const i=c*${A}+${act};let m=M[i];if(m===-1){m=C.move(c,${act});M=C.moves;S=C.sent}
    let q=${w2};const s=m>>>${SENDS.controller}&7;
    ${up === false ? '' : `if(s!==0&&${up}){const h=q>>>16,l=${length('h')};if(l+s>${room}){sys.overflows++;q=-1}else q|=S[i]<<${bits}*l+16}`}
    ${up === false ? '' : 'if(q!==-1)'}${put(`(${w0})&${~NEXT.controller}|m&${NEXT.controller}`, w1, 'q', e)}}
`
  /** A move of the surface. `speaks`: only where it says something. */
  const surface = (act: string | number, e: string | number, w1: string, w2: string, speaks = false) => `{
    const i=p*${PA}+${act};let m=PM[i];if(m===-1){m=P.move(p,${act});PM=P.moves;PS=P.sent}
    let q=${w2};const s=m>>>${SENDS.panel}&7;
    if(s!==0&&up!==0){const h=q&65535,l=${length('h')};if(l+s>${room}){sys.overflows++;q=-1}else q|=PS[i]<<${bits}*l}
    if(q!==-1${speaks ? '&&s!==0' : ''})${put('w0', `(${w1})&${~NEXT.panel}|m&${NEXT.panel}`, 'q', e)}}
`
  const rest = (nth: string | number, dir: 'u' | 'd') => dir === 'u'
    ? nth === 0 ? `w2&${~0xFFFF}|u>>>${bits}` : `w2&${~0xFFFF}|without(u,${bits},${nth})`
    : nth === 0 ? `w2&65535|d>>>${bits}<<16` : `w2&65535|without(d,${bits},${nth})<<16`
  const message = (dir: 'u' | 'd', nth: string | number) => `(${dir === 'u' ? at.message : panel.message(0)}+(${dir}>>>${nth}*${bits}&${place}))`
  const out: string[] = [`const W=out.words;let n=out.at,M=C.moves,S=C.sent,PM=P.moves,PS=P.sent;
const c=w0&${NEXT.controller},p=w1&${NEXT.panel},powered=w0&${at.power},up=w0&${at.upBit},facts=P.facts[p];
if(w2!==0){const u=w2&65535,d=w2>>>16;
if(u!==0){${board(message('u', 0), event('deliverUp'), 'w0', 'w1', rest(0, 'u'), 'up!==0')}`]
  const range = Array.from({ length: room - 1 }, (_, i) => i + 1)
  if (at.datagrams) {
    for (const nth of range) out.push(`if(u>>>${nth * bits}){${board(message('u', nth), event('overtakeUp') + nth - 1, 'w0', 'w1', rest(nth, 'u'), 'up!==0')}}`)
    if (at.copiesAct) out.push(`if(!quiet&&w1>>>28&3){${board(message('u', 0), event('doubleUp'), 'w0', `w1-${1 << 28}`, 'w2', 'up!==0')}}`)
  }
  out.push(`}
if(d!==0){${surface(message('d', 0), event('deliverDown'), 'w1', rest(0, 'd'))}`)
  if (at.datagrams) {
    for (const nth of range) out.push(`if(d>>>${nth * bits}){${surface(message('d', nth), event('overtakeDown') + nth - 1, 'w1', rest(nth, 'd'))}}`)
    out.push(`if(!quiet&&w1>>>28&3){${surface(message('d', 0), event('doubleDown'), `w1-${1 << 28}`, 'w2')}}`)
  }
  out.push('}')
  if (at.loses) out.push(`if(!quiet&&w1>>>25&7){if(u!==0)${put('w0', `w1-${1 << 25}`, `w2&${~0xFFFF}|u>>>${bits}`, event('loseUp'))}if(d!==0)${put('w0', `w1-${1 << 25}`, `w2&65535|d>>>${bits}<<16`, event('loseDown'))}}`)
  out.push(`}
if(up===0){if(facts&${CONNECTED})${surface(PANEL.linkDown, event('notice'), 'w1', 'w2')}
if(powered){out.at=n;sys.comeBack(w0,w1,P,out);n=out.at}}
if(facts&${WAITING}${patient ? '&&w2===0' : ''})${surface(PANEL.timeout, event('timeout'), 'w1', 'w2')}`)
  if (at.first.poll !== undefined) out.push(`if(facts&${POLLS}&&w2===0)${surface(PANEL.poll, event('poll'), 'w1', 'w2')}`)
  if (at.first.repeat !== undefined) out.push(`if(facts&${HOLDS}&&(w2&65535)===0)${surface(PANEL.repeat, event('repeat'), 'w1', 'w2')}`)
  const keys = at.first.key ?? at.first.scene
  out.push('if(!quiet){')
  if (keys !== undefined) {
    out.push(`if(w1>>>18&15){for(let k=0;k<${panel.keys.length};k++)${surface(`(${panel.key(0)}+k)`, `${keys}+k`, `w1-${1 << 18}`, 'w2', true)}}`)
  }
  out.push(`if(up!==0&&w1>>>22&7)${board(at.down, event('drop'), `w0&${~at.upBit}`, `w1-${1 << 22}`, '0', false)}}
if(powered){`)
  if (at.timers.length) out.push(`const T=C.armed[c];for(let k=0;k<T.length;k++){const t=T[k];${slow.some(Boolean) ? `if(w2!==0&&sys.isSlow(t))continue;` : ''}${board(`(${at.timer}+t)`, `${event('timer')}+t`, 'w0', 'w1', 'w2', 'up!==0')}}`)
  out.push(`if(C.facts[c]&${SAVING})${board(at.save, event('save'), 'w0', 'w1', 'w2', 'up!==0')}`)
  at.ends.forEach((e, k) => out.push(`if(sys.canEnd(c,ENDS[${k}]))${board(e.act, e.event, 'w0', 'w1', 'w2', 'up!==0')}`))
  out.push(`}else{const act=${at.boot}+(w0>>>${at.levers}&15);${board('act', event('powerOn'), `w0|${at.power}`, 'w1', 'w2', false)}}`)
  for (const h of at.hands.filter(x => x.holds)) out.push(`if(powered&&C.states[c].inputs[${h.input}].level===0)${board(h.lever?.[1] ?? 0, h.letGo, 'w0', 'w1', 'w2', 'up!==0')}`)
  out.push(`if(quiet){out.at=n;return}
if(w0>>>${at.presses}&15){const spent=w0-${1 << at.presses};`)
  for (const h of at.hands.filter(x => x.bit >= 0)) {
    const bit = at.levers + h.bit
    out.push(`{const next=spent^${1 << bit};if(powered===0)${put('next', 'w1', 'w2', h.event)}else{const act=next>>>${bit}&1?${h.lever?.[0] ?? 0}:${h.lever?.[1] ?? 0};${board('act', h.event, 'next', 'w1', 'w2', 'up!==0')}}}`)
  }
  out.push(`if(powered!==0){const L=sys.changesAt(c);for(let k=0;k<L.length;k+=2){const act=L[k];${board('act', 'L[k+1]', 'spent', 'w1', 'w2', 'up!==0')}}}}
if(powered!==0&&w0>>>${at.cuts}&7)${board(at.off, event('cut'), `(w0-${1 << at.cuts})&${~(at.power | at.upBit)}`, 'w1', '0', false)}`)
  return `return function(w0,w1,w2,out,quiet){\n${out.join('\n')}\nout.at=n\n}`
}
