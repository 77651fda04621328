/** Imports point down only: app → server → core, ui → workers → core, cli → server → core. Types count. */
const layer = (name, allowed, why) => ({
  name,
  comment: why,
  severity: 'error',
  from: { path: `^src/${name}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^(src|bench|tests|demo)/', pathNot: `^src/(${[name, ...allowed].join('|')})/` },
});
const room = (name, allowed, why) => ({
  name: `core ${name}`,
  comment: why,
  severity: 'error',
  from: { path: `^src/core/${name}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^src/core/', pathNot: `^src/core/(${[name, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    {
      name: 'no circle',
      comment: 'What two files need of each other has a room of its own.',
      severity: 'error',
      from: { path: '^(src|bench|tests|demo)' },
      to: { circular: true },
    },
    layer('core', [], 'The computation knows nothing of screens, servers or files.'),
    layer('workers', ['core'], 'A worker is a thin way to run the computation.'),
    layer('server', ['workers', 'core'], 'The server knows no page and no command line; it starts worker threads.'),
    layer('ui', ['workers', 'core'], 'A page asks the server over the network, not by an import.'),
    layer('app', ['ui', 'server', 'core'], 'A route parses, calls the server and answers; a page shows what ui has.'),
    layer('cli', ['server', 'core'], 'The verbs run what the server runs, without it.'),
    {
      name: 'core packages',
      comment: 'Core runs in any worker, page or test: small maths and data libraries only.',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypesNot: ['local'], pathNot: '^(src|node_modules/(immer|fft\\.js|lru-cache))' },
    },
    room('kernels', [], 'Loops over raw arrays: whoever has pictures and fields lays them there.'),
    room('geometry', ['kernels'], 'Maps, polygons and rationals know no pictures.'),
    room('image', ['kernels', 'geometry'], 'Pixels and filters know nothing of what is in a picture.'),
    room('motion', ['geometry'], 'Curves are numbers over time.'),
    room('flow', ['image', 'kernels', 'geometry'], 'Flow is found between two pictures, whatever they show.'),
    room('track', ['flow', 'image', 'kernels', 'geometry', 'motion'], 'Tracks stand on flow and pictures.'),
    room('matte', ['track', 'flow', 'image', 'kernels', 'geometry', 'motion'], 'A matte knows no film: it may be cut on the command line.'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
  },
};
