/** The colours of the theme for what draws on a canvas, and the hand that everything is written in. */
import { Chart } from 'chart.js'
import type { ComputedRef } from 'vue'
import { useTheme } from 'vuetify'

type Colour = 'primary' | 'error' | 'faint' | 'hairline' | 'success'

export function useChartColours(): ComputedRef<Readonly<Record<Colour, string>>> {
  Chart.defaults.font.family = "'Atkinson Hyperlegible Next Variable', sans-serif"
  const theme = useTheme()
  return computed(() => theme.current.value.colors as unknown as Record<Colour, string>)
}
