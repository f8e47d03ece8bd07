/** Takes the number that was typed; returns what is wrong with it, or "". */
export function typedNumber(event: Event, take: (value: number) => void): string {
  const value = Number((event.target as HTMLInputElement).value.replace(',', '.'))
  if (!Number.isFinite(value)) return 'a number, please'
  take(value)
  return ''
}
