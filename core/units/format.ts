/** Numbers with their unit, as they are shown everywhere. */
export function seconds(ms: number): string {
  if (ms < 1000) return `${Math.round(ms)} ms`
  const s = ms / 1000
  return s < 60 ? `${Number(s.toFixed(s < 10 ? 2 : 1))} s` : `${Math.floor(s / 60)} min ${Math.round(s % 60)} s`
}

/** 4310 -> "4,310". */
export function count(n: number): string {
  return String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ',')
}

export function plural(n: number, one: string, many = `${one}s`): string {
  return `${count(n)} ${n === 1 ? one : many}`
}
