/**
 * Whether a text fits where it stands. Widths are those of the shipped face (Atkinson Hyperlegible
 * Next), measured glyph by glyph in thousandths of the type size; a page that has to do with
 * another face gets a little room more.
 */

/** ASCII from the space on, then U+00A0 to U+00FF. */
const REGULAR =
  '280 286 301 651 592 919 731 160 299 299 485 606 210 362 210 387 648 407 548 576 614 588 598 510 615 595 210 210 553 628 553 480 778 626 613 645 669 569 552 694 694 392 512 631 541 824 693 714 592 724 614 592 558 690 593 856 623 575 607 317 387 344 552 372 243 525 566 485 564 538 314 558 550 252 245 492 262 845 550 548 566 574 349 471 326 540 461 684 481 449 460 344 237 344 555 280 286 485 610 580 575 237 528 368 798 371 562 602 0 798 356 352 579 382 383 243 636 509 240 265 256 380 562 816 820 867 450 626 626 626 626 626 626 891 645 569 569 569 569 392 392 392 392 689 693 714 714 714 714 714 532 714 690 690 690 690 575 592 582 525 525 525 525 525 525 866 485 538 538 538 538 252 252 252 266 565 550 548 548 548 548 548 606 548 540 540 540 540 449 566 449'
    .split(' ')
    .map(Number)
const BOLD =
  '313 303 390 765 610 969 725 210 335 335 485 595 271 373 272 440 659 440 579 600 624 608 626 537 624 571 272 272 569 612 569 547 781 678 643 658 689 597 566 718 701 425 561 664 552 858 717 747 629 757 650 610 607 686 644 886 685 650 618 340 440 344 582 400 288 552 596 510 596 563 365 593 571 300 259 555 318 882 571 576 596 599 376 508 376 567 530 740 540 521 506 381 254 381 537 313 303 510 634 593 650 254 555 432 798 391 649 615 0 798 383 394 611 402 407 288 736 521 294 298 284 403 649 846 853 921 526 678 678 678 678 678 678 966 658 597 597 597 597 425 425 425 425 709 717 747 747 747 747 747 536 747 686 686 686 686 650 629 621 552 552 552 552 552 552 878 510 563 563 563 563 300 300 300 314 588 571 576 576 576 576 576 595 576 567 567 567 567 521 596 521'
    .split(' ')
    .map(Number)
/** For all else: wider than any Latin letter but few, about a CJK character. */
const OTHER = 1000
/** Faces that stand in for the shipped one are at most about this much wider. */
const STAND_IN = 1.05
export const LINE_HEIGHT = 1.2

/** Width of a text set in one line, in type sizes. */
export function textWidth(text: string, bold = false): number {
  const widths = bold ? BOLD : REGULAR
  let sum = 0
  for (const char of text) {
    const code = char.codePointAt(0) ?? 0
    const latin = code >= 160 && code < 256 ? widths[95 + code - 160] : undefined
    sum += (code >= 32 && code < 127 ? widths[code - 32] : latin) ?? OTHER
  }
  return (sum * STAND_IN) / 1000
}

/**
 * Lines that a text takes between two margins, breaking at spaces only; Infinity where a word is
 * wider than a line.
 */
export function linesOf(text: string, widthMm: number, sizeMm: number, bold = false): number {
  const room = widthMm / sizeMm
  const space = textWidth(' ', bold)
  let lines = 1
  let used = 0
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const width = textWidth(word, bold)
    if (width > room) return Infinity
    if (used > 0 && used + space + width > room) {
      lines++
      used = width
    } else used += (used > 0 ? space : 0) + width
  }
  return lines
}

/** `stretch`: 1 as it is, 1.3 with a translation that is a third longer. */
export function fits(
  text: string,
  box: { widthMm: number; heightMm: number },
  sizeMm: number,
  { bold = false, stretch = 1 }: { bold?: boolean; stretch?: number } = {},
): boolean {
  const most = Math.floor(box.heightMm / (sizeMm * LINE_HEIGHT) + 1e-9)
  return most >= 1 && linesOf(text, box.widthMm / stretch, sizeMm, bold) <= most
}
