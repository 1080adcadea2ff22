/** Who may import whom. The same table stands in docs/architecture.md. */
const only = (from, to, why) => ({
  name: `${from}-imports`,
  comment: why,
  severity: 'error',
  from: { path: `^src/${from}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^src/', pathNot: to.map((t) => `^src/${t}/`) },
});
module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    only('core', ['core'], 'computation stands alone'),
    only('document', ['document', 'core'], 'the document knows what it describes, not who shows it'),
    only('workers', ['workers', 'core', 'document'], ''),
    only(
      'cli',
      ['cli', 'core', 'document', 'demo', 'server'],
      'start migrates and loads the demo, so the command line may reach the server',
    ),
    only('ui', ['ui', 'document', 'workers', 'core'], ''),
    only('server', ['server', 'document', 'core'], ''),
    only('demo', ['demo', 'document', 'core'], ''),
    only('app', ['app', 'ui', 'server', 'document', 'demo'], ''),
    {
      name: 'core-is-plain',
      comment: 'no Node, no DOM libraries, no React in core',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '(\\.test\\.ts$|/testing/)' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-small-libraries',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '(\\.test\\.ts$|/testing/)' },
      to: {
        path: 'node_modules',
        pathNot:
          'node_modules/(earcut|fflate|fast-png|jpeg-js|tiff|saxes|svg-pathdata|@gltf-transform/(core|extensions)|draco3dgltf|meshoptimizer|jsep|yup|tslib)/',
      },
    },
    // Within unwrapping: one patch flat, islands on a sheet, where to cut, what is followed; each may use those before it.
    ...['flatten', 'pack', 'part', 'follow'].map((folder, k, all) => ({
      name: `uv-${folder}-imports`,
      severity: 'error',
      from: { path: `^src/core/uv/${folder}/`, pathNot: '\\.test\\.ts$' },
      to: {
        path: `^src/core/uv/(edits${all
          .slice(k + 1)
          .map((later) => `|${later}`)
          .join('')})/`,
      },
    })),
    {
      name: 'no-orphan-demo',
      severity: 'error',
      from: { path: '^src/(core|document|ui|workers)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/demo/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
    },
  },
};
