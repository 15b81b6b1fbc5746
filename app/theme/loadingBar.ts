/** The bar of a field that loads: nothing at all until it does. */
import { h, type FunctionalComponent } from 'vue'

export const VProgressLinear: FunctionalComponent<{ active?: boolean }> = ({ active }) =>
  active ? h('progress', { style: 'width: 100%; height: 2px' }) : null
VProgressLinear.props = ['active', 'absolute', 'color', 'height', 'indeterminate']
