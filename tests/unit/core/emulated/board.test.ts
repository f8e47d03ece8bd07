/** The emulated chip, by programs of a few words, put together by hand from the instruction set. */
import { describe, expect, it } from 'vitest'
import { AvrBoard } from '../../../../core/emulated/board'

/** Word address of what the turn of timer 0 interrupts with. */
const VECTOR = 0x20,
  MAIN = 0x30
const PIN = 13

/** Says 1 on the pin where `r17` was set before the first interrupt, let in by `letsIn`. */
function firstInterrupt(letsIn: readonly number[]): Uint16Array {
  const flash = new Uint16Array(0x4000).fill(0xffff)
  flash[0] = 0xc02f // rjmp MAIN
  flash.set(
    [
      0xb915, // out PORTB, r17
      0x9210,
      0x006e, // sts TIMSK0, r1: no second one
      0x9518, // reti
    ],
    VECTOR,
  )
  flash.set(
    [
      0xe200, // ldi r16, 0x20
      0xb904, // out DDRB, r16
      0xe021, // ldi r18, 1
      0x9320,
      0x006e, // sts TIMSK0, r18
      0xe080, // ldi r24, 0
      0xe290, // ldi r25, 0x20: 32,768 cycles, two turns of the timer
      0x9701, // sbiw r24, 1
      0xf7f1, // brne -2
      ...letsIn,
      0x2f10, // mov r17, r16
      0xcfff, // rjmp -1
    ],
    MAIN,
  )
  return flash
}

function levelAfter(flash: Uint16Array): number {
  const board = new AvrBoard(flash, 9600)
  board.boot(0)
  board.runTo(10)
  return board.level(PIN, false)
}

describe('an interrupt that waited', () => {
  it('comes one instruction after it is let in', () => {
    expect(levelAfter(firstInterrupt([0x9478])), 'sei').toBe(1)
    expect(levelAfter(firstInterrupt([0xe830, 0xbf3f])), 'ldi r19, 0x80; out SREG, r19').toBe(1)
  })
  it('comes before the next but one', () => {
    expect(levelAfter(firstInterrupt([0x9478, 0x0000])), 'sei; nop').toBe(0)
  })
})
