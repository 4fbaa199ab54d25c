/* eslint-disable @typescript-eslint/no-require-imports -- the program that reads this file loads it as CommonJS */
const { readdirSync } = require('node:fs');
const { join } = require('node:path');

const CORE = [
  'kinds',
  'text',
  'unicode',
  'sfnt',
  'outline',
  'engines',
  'font',
  'face',
  'coverage',
  'rights',
  'drawn',
  'match',
  'convert',
  'place',
  'webkit',
  'product',
  'derived',
];
const FEATURES = [
  'accounts',
  'faces',
  'licenses',
  'intake',
  'jobs',
  'library',
  'conversions',
  'places',
  'house-styles',
  'products',
  'icon-sets',
  'typefaces',
  'inquiries',
  'proof-sheets',
  'reports',
  'workspaces',
];

/** A folder that no rule knows, or a rule about a folder that is gone, checks nothing. */
function same(listed, folder, without = []) {
  const there = readdirSync(join(__dirname, folder), { withFileTypes: true })
    .filter((f) => f.isDirectory() && !without.includes(f.name))
    .map((f) => f.name);
  const odd = [...there.filter((f) => !listed.includes(f)), ...listed.filter((f) => !there.includes(f))];
  if (odd.length > 0) throw new Error(`.dependency-cruiser.cjs and ${folder} differ: ${odd.join(', ')}.`);
}
same(CORE, 'packages/core/src');
same(FEATURES, 'apps/server/src/features');

/** The rooms of the house and which way traffic runs: web → schema ← server → core. */
module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    {
      name: 'core-knows-nobody',
      comment: 'The core imports nothing of ours and no Node API.',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { path: '^(apps|packages/(schema|node))/' },
    },
    {
      name: 'core-no-node',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'wasm-only-in-engines',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '^packages/core/src/engines/|\\.test\\.ts$' },
      to: { path: 'node_modules' },
    },
    {
      name: 'one-door-a-folder',
      comment: 'A folder of the core is entered by its index.ts.',
      severity: 'error',
      from: { path: '^packages/core/src/([^/]+)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^packages/core/src/([^/]+)/.+', pathNot: ['^packages/core/src/$1/', '^packages/core/src/[^/]+/index\\.ts$'] },
    },
    // From the lowest to the highest: a folder knows those before it.
    ...CORE.map((lower, i) => ({
      name: `${lower}-knows-nothing-higher`,
      severity: 'error',
      from: { path: `^packages/core/src/${lower}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^packages/core/src/(${CORE.slice(i + 1).join('|') || '-'})/` },
    })),
    {
      name: 'platform-knows-no-feature',
      comment: 'The platform lies below the features.',
      severity: 'error',
      from: { path: '^apps/server/src/platform/' },
      to: { path: '^apps/server/src/(features/|[^/]+\\.ts$)' },
    },
    {
      name: 'one-door-a-feature',
      comment: 'Features reach each other only through their index.ts, and so does whoever puts them together.',
      severity: 'error',
      from: { path: '^apps/server/src/features/([^/]+)/' },
      to: {
        path: '^apps/server/src/features/([^/]+)/.+',
        pathNot: ['^apps/server/src/features/$1/', '^apps/server/src/features/[^/]+/index\\.ts$'],
      },
    },
    {
      name: 'features-are-put-together-by-their-doors',
      severity: 'error',
      from: { path: '^apps/server/src/[^/]+\\.ts$' },
      to: { path: '^apps/server/src/features/[^/]+/.+', pathNot: '^apps/server/src/features/[^/]+/index\\.ts$' },
    },
    // From the lowest to the highest again, types included, so that no two features need each other.
    ...FEATURES.map((lower, i) => ({
      name: `${lower}-knows-no-higher-feature`,
      severity: 'error',
      from: { path: `^apps/server/src/features/${lower}/` },
      to: { path: `^apps/server/src/features/(${FEATURES.slice(i + 1).join('|') || '-'})/` },
    })),
    {
      name: 'schema-only-words-of-core',
      severity: 'error',
      from: { path: '^packages/schema/src' },
      to: { path: '^(apps/|packages/node/)' },
    },
    {
      name: 'practice-is-outside',
      comment: 'The places never import the server or the core.',
      severity: 'error',
      from: { path: '^apps/practice/src' },
      to: { path: '^(apps/(server|web|cli)|packages)/' },
    },
    {
      name: 'web-no-server',
      comment: 'Computation runs in workers, which may load the core and nothing else of ours.',
      severity: 'error',
      from: { path: '^apps/web', pathNot: '\\.worker\\.ts$' },
      to: { path: '^(apps/(server|practice|cli)|packages/(core|node))/' },
    },
    {
      name: 'web-workers-core-alone',
      severity: 'error',
      from: { path: '^apps/web/.*\\.worker\\.ts$' },
      to: { path: '^(apps/(server|practice|cli)|packages/node)/' },
    },
    {
      name: 'web-platform-below-features',
      comment: 'What every page uses knows no page.',
      severity: 'error',
      from: { path: '^apps/web/src/platform/' },
      to: { path: '^apps/web/src/(features/|[^/]+\\.(ts|vue)$)' },
    },
    { name: 'server-no-web', severity: 'error', from: { path: '^apps/(server|cli)' }, to: { path: '^apps/(web|practice)/' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.cruise.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.js', '.vue', '.mjs'], exportsFields: [] },
  },
};
