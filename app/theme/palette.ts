/** The two papers. Every colour on a sheet is one of these. */
const day = {
  'background': '#E9E4D8', 'surface': '#FAF8F2', 'on-background': '#1B2A33', 'on-surface': '#1B2A33', 'surface-variant': '#E9E4D8', 'on-surface-variant': '#1B2A33',
  'primary': '#14496B', 'on-primary': '#FAF8F2', 'secondary': '#4A5A63', 'success': '#1E6F5C', 'warning': '#8A5A00', 'error': '#A3262A', 'info': '#14496B',
  'hairline': '#C8C0AE', 'selection': '#FBE9B7', 'faint': '#4F5C62',
  'strand-1': '#14496B', 'strand-2': '#1E6F5C', 'strand-3': '#8A5A00', 'strand-4': '#7A3A6B', 'strand-5': '#4F6228', 'strand-6': '#A3462A', 'strand-7': '#3E5A8A', 'strand-8': '#6B5B3A',
}
const night = {
  'background': '#0F171C', 'surface': '#18232A', 'on-background': '#E9E3D5', 'on-surface': '#E9E3D5', 'surface-variant': '#0F171C', 'on-surface-variant': '#E9E3D5',
  'primary': '#8CC4EA', 'on-primary': '#0F171C', 'secondary': '#A9B6BD', 'success': '#6FCDB2', 'warning': '#E8B45A', 'error': '#F08A8A', 'info': '#8CC4EA',
  'hairline': '#3A4850', 'selection': '#33301B', 'faint': '#9AA8AF',
  'strand-1': '#8CC4EA', 'strand-2': '#6FCDB2', 'strand-3': '#E8B45A', 'strand-4': '#D79CCB', 'strand-5': '#B5CC7E', 'strand-6': '#F0A184', 'strand-7': '#A8BCEB', 'strand-8': '#CDBB92',
}
export const themes = { day: { dark: false, colors: day }, night: { dark: true, colors: night } }
