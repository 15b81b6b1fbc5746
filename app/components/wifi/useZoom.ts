/**
 * Nearer and further on a drawing, and about in it. The wheel zooms with Ctrl held, or by pinching,
 * so that the page is scrolled over it as before; it is moved about only while it is zoomed in.
 */
import { select } from 'd3-selection'
import { zoom, zoomIdentity, type ZoomTransform } from 'd3-zoom'

const NEAREST = 12

/** @param grips what is dragged by itself and moves nothing else */
export function useZoom(svg: Readonly<Ref<SVGSVGElement | undefined>>, grips: string) {
  const now = shallowRef<ZoomTransform>(zoomIdentity)
  const nearness = computed(() => now.value.k)
  const isZoomed = computed(() => nearness.value > 1)
  const behaviour = zoom<SVGSVGElement, unknown>()
    .scaleExtent([1, NEAREST])
    .filter((e: Event) => {
      if (e.type === 'dblclick') return false
      if (e.type === 'wheel') return (e as WheelEvent).ctrlKey
      if ((e.target as Element).closest(grips)) return false
      const isPinch = e.type.startsWith('touch') && (e as TouchEvent).touches.length > 1
      return isPinch || (isZoomed.value && !(e as MouseEvent).button)
    })
    .extent(function (this: SVGSVGElement) {
      const { width, height } = this.viewBox.baseVal
      return [
        [0, 0],
        [width, height],
      ]
    })
    .on('zoom', (e: { transform: ZoomTransform }) => {
      now.value = e.transform
    })
  watch(svg, (element) => {
    if (!element) return
    const { width, height } = element.viewBox.baseVal
    behaviour.translateExtent([
      [0, 0],
      [width, height],
    ])
    select(element).call(behaviour).on('dblclick.zoom', null)
  })
  const zoomBy = (factor: number): void => {
    if (svg.value) behaviour.scaleBy(select(svg.value), factor)
  }
  function whole(): void {
    now.value = zoomIdentity
    if (!svg.value) return
    const { width, height } = svg.value.viewBox.baseVal
    behaviour.translateExtent([
      [0, 0],
      [width, height],
    ])
    behaviour.transform(select(svg.value), zoomIdentity)
  }
  return { transform: computed(() => now.value.toString()), nearness, isZoomed, zoomBy, whole }
}
