/** Numbers with their unit, as they are shown everywhere. */
export function seconds(ms: number): string {
  if (Math.round(ms) < 1000) return `${Math.round(ms)} ms`
  const s = ms / 1000
  if (s < 9.995) return `${Number(s.toFixed(2))} s`
  if (s < 59.95) return `${Number(s.toFixed(1))} s`
  const whole = Math.round(s)
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${whole % 60} s`
  const minutes = Math.round(s / 60)
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}

/** 12345 bytes -> "12.3 kB". */
export function kilobytes(bytes: number): string {
  return `${(bytes / 1000).toFixed(1)} kB`
}

/** 4310 -> "4,310". */
export function count(n: number): string {
  return String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ',')
}

/** A number of things: "1 load", "2 loads". */
export function plural(n: number, one: string, many = `${one}s`): string {
  return `${count(n)} ${n === 1 ? one : many}`
}

/** Text with a capital at its start. */
export function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** The first line of a text, short enough for a list. */
export function firstLine(text: string, most = 80): string {
  const [line = ''] = text.trim().split('\n')
  return line.length > most ? `${line.slice(0, most - 1).trimEnd()}…` : line
}
