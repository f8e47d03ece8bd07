/** Strokes and patterns. */

export function line(
  c: CanvasRenderingContext2D,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): void {
  c.beginPath()
  c.moveTo(x0, y0)
  c.lineTo(x1, y1)
  c.stroke()
}

export function arrowHead(
  c: CanvasRenderingContext2D,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): void {
  const angle = Math.atan2(y1 - y0, x1 - x0)
  c.beginPath()
  for (const turn of [-0.42, 0.42]) {
    c.moveTo(x1 - 9 * Math.cos(angle + turn), y1 - 9 * Math.sin(angle + turn))
    c.lineTo(x1, y1)
  }
  c.stroke()
}

export function cross(c: CanvasRenderingContext2D, x: number, y: number): void {
  line(c, x - 5, y - 5, x + 5, y + 5)
  line(c, x - 5, y + 5, x + 5, y - 5)
}

const patterns = new Map<string, CanvasPattern>()

export function hatch(ink: string, ground: string): CanvasPattern | string {
  return pattern(`hatch ${ink} ${ground}`, ground, p => {
    p.strokeStyle = ink
    p.lineWidth = 2.6
    for (const shift of [-8, 0, 8]) line(p, shift, 8, shift + 8, 0)
  })
}

export function dots(ink: string, ground: string): CanvasPattern | string {
  return pattern(`dots ${ink} ${ground}`, ground, p => {
    p.fillStyle = ink
    p.fillRect(1, 1, 2, 2)
    p.fillRect(5, 5, 2, 2)
  })
}

function pattern(
  key: string,
  ground: string,
  draw: (c: CanvasRenderingContext2D) => void,
): CanvasPattern | string {
  const known = patterns.get(key)
  if (known) return known
  const tile = Object.assign(document.createElement('canvas'), { width: 8, height: 8 })
  const c = tile.getContext('2d')
  if (!c) return ground
  c.fillStyle = ground
  c.fillRect(0, 0, 8, 8)
  draw(c)
  const made = c.createPattern(tile, 'repeat')
  if (made) patterns.set(key, made)
  return made ?? ground
}
