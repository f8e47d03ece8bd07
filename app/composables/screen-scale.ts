/**
 * Pixels per millimetre of this screen: CSS says 96 per inch, a maker can measure it once with a
 * bank card.
 */
import { useLocalStorage } from '@vueuse/core'

const CSS_PX_PER_MM = 96 / 25.4

export function useScreenScale() {
  const ruler = useLocalStorage('nolvi px per mm', Math.round(CSS_PX_PER_MM * 100) / 100)
  /** 0 = so that all is seen at once, at real size at most. */
  const zoom = useLocalStorage('nolvi panel zoom', 0)
  /** What that comes to, found by whoever draws. */
  const fitted = ref(1)
  const pxPerMm = computed(() => ruler.value * (zoom.value || fitted.value))
  return { ruler, zoom, fitted, pxPerMm }
}
