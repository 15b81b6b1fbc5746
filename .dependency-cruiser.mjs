/**
 * Who imports whom, without circles. In the computation not even by types alone; elsewhere a type
 * may look back (the table of what threads do is typed by what it calls).
 */
export default {
  forbidden: [
    {
      name: 'no-circle-in-core',
      severity: 'error',
      from: { path: '^(api|core|protocol|cli|demo)/' },
      to: { circular: true },
    },
    {
      name: 'no-circle',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(\\.nuxt|\\.output|node_modules)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.graph.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.vue', '.mjs', '.js', '.json'] },
  },
}
