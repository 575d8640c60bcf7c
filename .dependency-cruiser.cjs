/** The layers: core imports nothing above it, nobody imports app, heavy work goes through the client. */
const forbid = (name, from, to, comment) => ({ name, severity: 'error', comment, from, to });
const runtimeCore =
  '^src/core/(?!(time|score|target|diagnostic|wire|plan/(plan|plan-schema|job-file|use-recipe|made-by|placed)|smf/(text|name|limits)|steps/(call|scope|curves/simplify)|seating/(key-use|drum-kinds|programs|suspect|chart-worth|seat-sound)|sound/(edits|levels?|peaks|samples|port-sender|say-beat|align/(frames|jumps))|reading/(drift|preset-places)|compare/say-figures|outputs/pack|formats/own/(schema|kept)|sets/(set|changes|layout|manifest|compare-card|card-folder|write-card|names|rules|set-file|set-receipt|on-card|several-at-once)|sources/(which|module/(choices|samples/roles)))[/.])';
/** The folders of the core, from the ground up: a folder imports only what stands before it. */
const FOLDERS = [
  'diagnostic',
  'smf',
  'time',
  'formats',
  'score',
  'sound',
  'sources',
  'target',
  'reading',
  'seating',
  'learning',
  'compare',
  'steps',
  'rules',
  'outputs',
  'standin',
  'plan',
  'handover',
  'sets',
  'wire',
];
const oneWay = FOLDERS.slice(0, -1).map((folder, i) =>
  forbid(
    `${folder}-stands-below`,
    { path: `^src/core/${folder}/`, pathNot: '\\.test\\.ts$' },
    { path: `^src/core/(${FOLDERS.slice(i + 1).join('|')})/` },
    'folders of the core point one way, types too',
  ),
);
module.exports = {
  forbidden: [
    ...oneWay,
    forbid(
      'core-is-pure',
      { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      { path: '^(src/(app|worker|server|cli)|testing|demo|bench|e2e)/' },
      'core imports no other layer',
    ),
    forbid(
      'core-packages',
      {
        path: '^src/core/',
        pathNot:
          '(\\.test\\.ts$|^src/core/(outputs|standin|sources/(readers|module/samples)|sound|formats|handover/file-beside)[/.])',
      },
      { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/zod/' },
      'core uses zod alone; what lays two files beside each other finds their differences by a package',
    ),
    forbid(
      'outputs-packages',
      { path: '^src/core/outputs/', pathNot: '\\.test\\.ts$' },
      {
        dependencyTypes: ['npm', 'npm-dev', 'core'],
        pathNot: 'node_modules/(zod|fflate|papaparse|fast-xml-parser)/',
      },
      'zip and csv belong to outputs, and the XML of examples',
    ),
    forbid(
      'format-packages',
      { path: '^src/core/formats/', pathNot: '\\.test\\.ts$' },
      {
        dependencyTypes: ['npm', 'npm-dev', 'core'],
        pathNot: 'node_modules/(zod|fflate|jsonc-parser|fast-xml-parser)/',
      },
      'what reads formats takes zip, JSON with places and XML',
    ),
    forbid(
      'own-formats-apart',
      { path: '^src/core/outputs/own/', pathNot: '\\.test\\.ts$' },
      {
        path: '^src/core/formats/own/(read|patterns|interpret|row|whose|take-case|settle-cases|candidates)',
      },
      'what writes a format of its own shares the description alone with what reads it back',
    ),
    forbid(
      'csv-packages',
      { path: '^src/core/(standin|sources/readers)/', pathNot: '\\.test\\.ts$' },
      { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/(zod|papaparse)/' },
      'readers take zod and csv',
    ),
    forbid(
      'nobody-imports-app',
      { path: '^src/(worker|server|cli|core)/' },
      { path: '^src/app/' },
      'app is the top',
    ),
    forbid(
      'app-through-client',
      { path: '^src/app/', pathNot: '\\.test\\.ts$' },
      {
        path: '^src/worker/',
        pathNot: '^src/worker/(client|protocol|(run|set|sound|learning)-protocol)\\.ts$',
      },
      'app talks to the client',
    ),
    forbid(
      'app-light-core',
      { path: '^src/app/', pathNot: '(\\.test\\.ts$|^src/app/audio/worklet/)' },
      { path: runtimeCore, dependencyTypesNot: ['type-only'] },
      'app takes types and small pure helpers of core',
    ),
    forbid(
      'server-and-cli',
      { path: '^src/(server|cli)/' },
      { path: '^src/(worker|app)/' },
      'they use core alone',
    ),
    forbid(
      'tests-only',
      { path: '^src/', pathNot: '\\.test\\.ts$' },
      { path: '^testing/' },
      'testing is for tests',
    ),
    forbid(
      'readers-apart',
      { path: '^src/core/standin/', pathNot: '\\.test\\.ts$' },
      {
        path: '^src/core/(?!(standin|formats|target|diagnostic)/)',
        dependencyTypesNot: ['type-only'],
      },
      'a stand-in shares no code with writers, with the reader of sources, or with the score',
    ),
    forbid(
      'writers-apart',
      { path: '^src/core/(outputs|smf|score|reading|sources)/', pathNot: '\\.test\\.ts$' },
      { path: '^src/core/standin/', dependencyTypesNot: ['type-only'] },
      'what writes does not lean on what reads back',
    ),
    forbid('no-cycles', { path: '^src/' }, { circular: true }, 'one direction, types too'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.vue', '.mjs', '.js', '.json'] },
  },
};
