/**
 * Pixels per millimetre of this screen: CSS says 96 per inch, a maker can measure it once with a
 * bank card.
 */
import { useLocalStorage } from '@vueuse/core'

const CSS_PX_PER_MM = 96 / 25.4

export function useScreenScale() {
  const ruler = useLocalStorage('nolvi px per mm', Math.round(CSS_PX_PER_MM * 100) / 100)
  const zoom = useLocalStorage('nolvi panel zoom', 1)
  const pxPerMm = computed(() => ruler.value * zoom.value)
  return { ruler, zoom, pxPerMm }
}
