// The arrows between the rooms of the house: downwards only.
const apart = (name, from, to, comment) => ({ name, severity: 'error', comment, from: { path: from }, to: { path: to } });

/** The rooms of the core, from the ground up: each uses only what stands below it. */
const rooms = [
  'vocabulary',
  'space',
  'ledger',
  'kinds',
  'conditions',
  'document',
  'pieces',
  'sentences',
  'language',
  'kernel',
  'reading',
  'rehearsal',
  'formats',
  'search',
  'checks',
  'diagnosis',
];
const coreRooms = rooms.map((room, at) =>
  apart(
    `core-${room}`,
    `^packages/core/src/${room}/`,
    `^packages/core/src/(${[...rooms.slice(at + 1), 'index\\.ts'].join('|')})`,
    `What stands in ${room}/ uses only the rooms below it.`,
  ),
);
// A new folder has to be given its place.
const unknownRoom = apart(
  'core-rooms-are-known',
  `^packages/core/src/(?!(${rooms.join('|')})/|index\\.ts)`,
  '.',
  'Give it a place.',
);

/** The parts of the kernel, from the ground up; the files beside them are on top. */
const kernelParts = ['state', 'physics', 'sensing', 'chains', 'queue'];
const kernel = '^packages/core/src/kernel';
const kernelLadder = kernelParts.map((part, at) => {
  const above = [...kernelParts.slice(at + 1).map((other) => `${other}/`), '[^/]+$'].join('|');
  return apart(
    `kernel-${part}`,
    `${kernel}/${part}/`,
    `${kernel}/(${above})`,
    `What stands in ${part}/ uses only the parts below it.`,
  );
});
const unknownPart = apart('kernel-parts-are-known', `${kernel}/(?!(${kernelParts.join('|')})/|[^/]+$)`, '.', 'Give it a place.');

/** The folders of the studio, from the ground up; those on one floor do not use each other. */
const floors = [
  ['controls'],
  ['workers'],
  ['state'],
  ['board', 'sentence', 'saving'],
  ['editing'],
  ['overview'],
  ['levels', 'draw', 'wire', 'rehearse', 'check'],
  ['page'],
];
const app = '^apps/web/src/app';
const studioFolders = floors.flatMap((floor, at) =>
  floor.map((folder) => {
    const barred = floors
      .slice(at)
      .flat()
      .filter((other) => other !== folder);
    const above = [...barred.map((other) => `${other}/`), '[^/]+$'].join('|');
    // The files beside the folders start the page: what is on top uses them, they use everything.
    return apart(
      `studio-${folder}`,
      `${app}/${folder}/`,
      `${app}/(${above})`,
      `What stands in ${folder}/ uses only the floors below it.`,
    );
  }),
);
const unknownFolder = apart(
  'studio-folders-are-known',
  `${app}/(?!(${floors.flat().join('|')})/|[^/]+$)`,
  '.',
  'Give it a place.',
);

/** @type {import('dependency-cruiser').IConfiguration} */
export default {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      comment: 'Two files that need each other are one file, or hide a third.',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    apart(
      'core-stands-alone',
      '^packages/core/src',
      '^(packages/contract|apps)/',
      'The core knows neither the border nor the applications.',
    ),
    apart('contract-on-core', '^packages/contract/src', '^apps/', 'The contract knows no application.'),
    apart('web-alone', '^apps/web/src', '^apps/(server|cli)/', 'Applications do not know each other.'),
    apart('server-alone', '^apps/server/src', '^apps/(web|cli)/', 'Applications do not know each other.'),
    apart('cli-alone', '^apps/cli/src', '^(apps/(web|server)|packages/contract)/', 'The command line needs the core only.'),
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'The core uses nothing but small pure libraries: no I/O, no clock, no interface. Of “sarif” there are only types.',
      from: { path: '^packages/core/src' },
      to: {
        pathNot:
          '^(packages/core/src|sarif$|node_modules/(zod|fastest-levenshtein|jsonc-parser|pure-rand|papaparse|xmlbuilder|@marcbachmann/cel-js)/)',
        dependencyTypesNot: ['type-only'],
      },
    },
    ...coreRooms,
    unknownRoom,
    ...kernelLadder,
    unknownPart,
    ...studioFolders,
    unknownFolder,
    {
      name: 'no-orphans',
      severity: 'error',
      comment: 'Nothing needs this file.',
      from: { orphan: true, path: '^(packages|apps)/[^/]+/src', pathNot: '(main|program|index|openapi|\\.worker)\\.ts$' },
      to: {},
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(\\.spec\\.ts$|/dist/|/\\.angular/|/test/)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.mjs', '.js', '.json'],
    },
  },
};
