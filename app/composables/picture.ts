/** A photograph made small enough to stand on a panel, within the design. */
import type { Size } from '../../core/panels/forms/facet'

const PX_PER_MM = 6

/**
 * A data URI of at most so many characters, as large as its place on the glass shows it; null where
 * the file is no picture.
 */
export async function downscaled(file: Blob, glass: Size, most: number): Promise<string | null> {
  const bitmap = await createImageBitmap(file).catch(() => null)
  if (!bitmap) return null
  const share = Math.min(
    1,
    Math.max(
      (glass.widthMm * PX_PER_MM) / bitmap.width,
      (glass.heightMm * PX_PER_MM) / bitmap.height,
    ),
  )
  // Coarser first, then smaller, until it fits.
  for (let scale = share; scale > share / 8; scale *= 0.8) {
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(bitmap.width * scale))
    canvas.height = Math.max(1, Math.round(bitmap.height * scale))
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
    for (const quality of [0.75, 0.6, 0.45, 0.3]) {
      const uri = canvas.toDataURL('image/webp', quality)
      if (uri.length <= most) return uri
    }
  }
  return null
}
