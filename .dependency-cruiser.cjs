/** Imports point one way only (docs/architecture.md, "Layers"). */
const layers = ['diagnosis', 'quantity', 'expressions', 'kernel', 'formula', 'geometry', 'model', 'equations', 'elements', 'linear', 'system', 'results', 'solve', 'checks', 'studies', 'formats'];
const upward = layers.slice(0, -2).map((layer, i) => ({
  name: `core-${layer}-imports-downward`,
  comment: `${layer} may use only what stands below it: ${layers.slice(0, i).join(', ') || 'nothing'}`,
  severity: 'error',
  from: { path: `^core/src/${layer}(/|\\.ts$)` },
  to: { path: `^core/src/(${layers.slice(i + 1).join('|')})(/|\\.ts$)` },
}));

module.exports = {
  forbidden: [
    ...upward,
    { name: 'core-alone', severity: 'error', from: { path: '^core/src' }, to: { path: '^(cli|web)/|node_modules/(react|next|three|dexie|chart\\.js|zustand)/' } },
    { name: 'core-no-node', severity: 'error', from: { path: '^core/src' }, to: { dependencyTypes: ['core'] } },
    { name: 'core-by-its-face', comment: 'outside the core, import @vim-pivot/core', severity: 'error', from: { path: '^(cli|web)/' }, to: { path: '^core/src/(?!index\\.ts|page\\.ts|drawn\\.ts|analyses\\.ts|sensitivity\\.ts|model/file\\.ts|formats/csv\\.ts|geometry/features\\.ts|meshes\\.ts|formats/urdf\\.ts|formats/project\\.ts|solids\\.ts|surfaces\\.ts|contacts\\.ts|curves\\.ts|passings\\.ts|rename\\.ts|engine\\.ts|simulate\\.ts|on-demand\\.ts|scores\\.ts|results/measures\\.ts|plots\\.ts|formula/timeline\\.ts)' } },
    { name: 'cli-and-web-apart', severity: 'error', from: { path: '^cli/' }, to: { path: '^web/' } },
    { name: 'state-below-features', severity: 'error', from: { path: '^web/(state|workers|ui)/' }, to: { path: '^web/(features|app)/' } },
    { name: 'workers-below-state', severity: 'error', from: { path: '^web/workers/' }, to: { path: '^web/(state|ui)/' } },
    { name: 'no-circle', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(\\.next|next-env|/test/)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default'] },
  },
};
