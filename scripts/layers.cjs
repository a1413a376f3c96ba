/**
 * Which folder may import which, circles included; what it says is what a newcomer can rely on.
 * `npm test -- lint` runs it over core, the command line and the application.
 */
const { readFileSync } = require('node:fs');
const { join } = require('node:path');

const CORE = [
  // Later ones may import earlier ones; those in one line do not know each other.
  ['stats'],
  ['why', 'sky', 'frame'],
  ['train'],
  ['joint', 'nights'],
  ['length'],
  ['doubt', 'light'],
  ['guide', 'load'],
  ['drawer'],
  ['catalogue', 'focus'],
  ['check'],
  ['finder'],
  ['drawing', 'shape', 'assembly', 'compare'],
  ['experiment']
];

/** Folders of core that a folder must not import: those that come after it, and its neighbours in the same line. */
const coreRules = CORE.flatMap((line, at) =>
  line.map((folder) => {
    const later = CORE.slice(at)
      .flat()
      .filter((each) => each !== folder);
    return {
      name: `core: ${folder} stands below ${later.join(', ')}`,
      severity: 'error',
      from: { path: `^core/src/${folder}/` },
      to: { path: `^core/src/(${later.join('|')})/` }
    };
  })
);

/** Stages of a train, as the application lists them. */
const listed = readFileSync(join(__dirname, '../src/lib/stages.ts'), 'utf8');
const OF_TRAIN = [...listed.matchAll(/id: '([\w-]+)'/g)].map(([, id]) => id);
if (OF_TRAIN.length === 0) throw new Error('src/lib/stages.ts lists no stage');

const STAGES = [...OF_TRAIN, 'compare', 'drawer', 'owners', 'pack', 'settings', 'trains'];

/** The application, lowest first: each line may import those above it and core. */
const APP = [
  ['api'],
  ['ui'],
  ['charts', 'sync'],
  ['element', 'parts', 'train', 'workers'],
  ['rail', 'face', 'calipers', 'labels', 'frames'],
  ['share', 'workbench'],
  STAGES
];
const appRules = APP.flatMap((line, at) =>
  line.map((folder) => {
    const later = APP.slice(at)
      .flat()
      .filter((each) => each !== folder);
    return {
      name: `app: ${folder} stands below ${later.join(', ')}`,
      severity: 'error',
      from: { path: `^src/lib/${folder}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^src/lib/(${later.join('|')})/` }
    };
  })
);

module.exports = {
  forbidden: [
    { name: 'no circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core is pure computation',
      severity: 'error',
      from: { path: '^core/src/' },
      to: {
        pathNot:
          '^(core/src/|node_modules/(jsonc-parser|fastest-levenshtein|papaparse|pure-rand|ml-levenberg-marquardt|ml-matrix|simple-statistics|fflate|fast-png|ajv)/)'
      }
    },
    {
      name: 'the command line stands on core alone',
      severity: 'error',
      from: { path: '^cli/src/' },
      to: { path: '^src/' }
    },
    {
      name: 'libraries do not know the routes',
      severity: 'error',
      from: { path: '^src/lib/' },
      to: { path: '^src/routes/' }
    },
    {
      name: 'only routes and lib/server speak to the database',
      severity: 'error',
      from: { path: '^src/lib/', pathNot: '^src/lib/server/' },
      to: { path: '^(src/lib/server/|node_modules/pg/)' }
    },
    {
      name: 'the server does not know the interface',
      severity: 'error',
      from: { path: '^src/lib/server/' },
      to: { path: `^src/lib/(ui|sync|element|parts|train|rail|workbench|${STAGES.join('|')})/` }
    },
    {
      name: 'what tests stand in for is in no page',
      severity: 'error',
      from: { path: '^src/', pathNot: '(\\.test\\.ts$|^src/lib/testing/)' },
      to: { path: '^src/lib/testing/' }
    },
    ...coreRules,
    ...appRules
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^\\.svelte-kit|^build|generated/validate)' },
    webpackConfig: { fileName: 'scripts/layers.resolve.cjs' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'svelte', 'default'] }
  }
};
