/** Shows what stands in it one after the other, as frames have time for it. */
import {
  cloneVNode,
  Comment,
  defineComponent,
  Fragment,
  isVNode,
  onBeforeUnmount,
  ref,
  Text,
  type VNode,
  watch,
} from 'vue'

/**
 * What stands in it, without the fragments around; each named by its place in the template, so that
 * none is taken for its neighbour when one comes or goes.
 */
function flat(nodes: readonly unknown[], place = ''): VNode[] {
  return nodes.flatMap((n, i) => {
    const at = `${place}/${isVNode(n) && n.key !== null ? String(n.key) : i}`
    if (Array.isArray(n)) return flat(n, at)
    if (!isVNode(n)) return []
    if (n.type === Fragment && Array.isArray(n.children)) return flat(n.children, at)
    return [cloneVNode(n, { key: at })]
  })
}

export default defineComponent({
  name: 'InTurns',
  setup(_, { slots }) {
    const count = ref(printing.value ? Infinity : 1)
    watch(printing, (now) => {
      if (now) count.value = Infinity
    })
    let leave: (() => void) | undefined
    onBeforeUnmount(() => leave?.())
    let asked = false
    return () => {
      const children = flat(slots.default?.() ?? [])
      let heavy = 0
      let end = 0
      while (
        end < children.length &&
        (heavy < count.value || children[end]!.type === Comment || children[end]!.type === Text)
      ) {
        if (children[end]!.type !== Comment && children[end]!.type !== Text) heavy++
        end++
      }
      if (end < children.length && !asked) {
        asked = true
        leave = takeTurn(() => {
          asked = false
          count.value++
        })
      }
      return children.slice(0, end)
    }
  },
})
