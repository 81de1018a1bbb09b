import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

/** The width of an element in pixels, as it changes. */
export function useWidth(element: Ref<HTMLElement | null>): Ref<number> {
  const width = ref(1000)
  let observer: ResizeObserver | null = null
  onMounted(() => {
    if (!element.value) return
    observer = new ResizeObserver(([entry]) => entry && (width.value = entry.contentRect.width))
    observer.observe(element.value)
  })
  onBeforeUnmount(() => observer?.disconnect())
  return width
}
