/** Imports point down only: app → server → core, ui → workers → core, cli → server → core. Types count. */
const layer = (name, allowed, why) => ({
  name,
  comment: why,
  severity: 'error',
  from: { path: `^src/${name}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^(src|bench|tests|demo)/', pathNot: `^src/(${[name, ...allowed].join('|')})/` },
});
/** What a room of one of the houses may import of the other rooms there. Helpers of tests are free. */
const HELPERS = '\\.test\\.tsx?$|/test-[a-z-]+\\.ts$|/sample-film\\.ts$';
const roomsOf = (house, under) => (name, allowed, why) => ({
  name: `${house} ${name}`,
  comment: why,
  severity: 'error',
  from: { path: `^${under}/${name}/`, pathNot: HELPERS },
  to: { path: `^${under}/`, pathNot: `^${under}/(${[name, ...allowed].join('|')})/` },
});
const core = roomsOf('core', 'src/core');
const server = roomsOf('server', 'src/server');
const ui = roomsOf('ui', 'src/ui');
const bench = roomsOf('bench', 'src/ui/bench');

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
      to: { dependencyTypesNot: ['local'], pathNot: '^(src|node_modules/(immer|fft\\.js|lru-cache|papaparse|smpte-timecode))' },
    },
    core('kernels', [], 'Loops over raw arrays: whoever has pictures and fields lays them there.'),
    core('geometry', ['kernels'], 'Maps, polygons and rationals know no pictures.'),
    core('image', ['kernels', 'geometry'], 'Pixels and filters know nothing of what is in a picture.'),
    core('motion', ['geometry'], 'Curves are numbers over time.'),
    core('flow', ['image', 'kernels', 'geometry'], 'Flow is found between two pictures, whatever they show.'),
    core('track', ['flow', 'image', 'kernels', 'geometry', 'motion'], 'Tracks stand on flow and pictures.'),
    core('matte', ['track', 'flow', 'image', 'kernels', 'geometry', 'motion'], 'A matte knows no film: it may be cut on the command line.'),
    core('film', ['geometry', 'matte', 'motion', 'track'], 'The document knows what it holds, and nothing of how that is drawn or heard.'),
    core('effects', ['film', 'image', 'kernels'], 'An effect is pixels in, pixels out, with parameters that a film names.'),
    core('lanes', ['effects', 'film', 'motion'], 'Which curves of a film can be shown and changed.'),
    core('sound', ['film', 'geometry', 'motion'], 'Sound is mixed from a film, and sees no picture.'),
    core('morph', ['film', 'flow', 'geometry', 'image', 'matte'], 'Pictures between pictures; what a film says of them are settings.'),
    core(
      'plan',
      ['film', 'geometry', 'matte', 'morph', 'motion', 'track'],
      'A plan is data: what makes a frame, before anything is drawn.',
    ),
    core('render', ['effects', 'film', 'geometry', 'image', 'kernels', 'matte', 'morph', 'plan'], 'Drawing knows plans, and no recipe.'),
    core('recipes', ['film', 'geometry', 'matte', 'motion', 'plan'], 'A kind of join makes layers of settings; it draws nothing.'),
    core(
      'format',
      ['effects', 'film', 'geometry', 'motion', 'recipes'],
      'The size and rate of a film, changed with all that hangs on them.',
    ),
    core(
      'pair',
      ['film', 'flow', 'geometry', 'image', 'kernels', 'motion', 'plan', 'recipes'],
      'Two shots compared, and laid over each other.',
    ),
    core(
      'check',
      ['effects', 'film', 'geometry', 'image', 'motion', 'pair', 'plan', 'recipes', 'render'],
      'Check looks at all of it, and nothing needs Check.',
    ),
    core('interchange', ['film', 'matte', 'track'], 'Files in and out of what a film holds.'),

    server('base', [], 'Errors, events, processes and folders know no film.'),
    server('schema', ['base'], 'What may be stored, told by shape alone.'),
    server('video', ['base'], 'Programs that read and write pictures and sound.'),
    server('media', ['base', 'video'], 'Files that were imported, and what was made of them.'),
    server('database', ['base'], 'Tables and their migrations.'),
    server('films', ['base', 'database', 'media', 'schema'], 'Films, their edits and what is stored beside them.'),
    server('work', ['base', 'films', 'media', 'video'], 'What a job does to a film or a matte.'),
    server('exports', ['base', 'films', 'media', 'video'], 'Files that go out.'),
    server(
      'workshop',
      ['base', 'database', 'exports', 'films', 'media', 'work'],
      'The queue of jobs, and what starts and sweeps a data folder.',
    ),
    server('http', ['base', 'films', 'media', 'schema', 'workshop'], 'Requests: who may ask, and how bodies are read.'),
    server('demo', ['base', 'films', 'media', 'video', 'work'], 'The demo film is made by what everyone uses.'),

    ui('store', [], 'What the page knows, and how it asks the server. It shows nothing.'),
    ui('parts', ['store'], 'Buttons, rows and sheets that know no room.'),
    ui('commands', ['parts'], 'The one table of keys.'),
    ui('sound', ['commands', 'parts', 'store'], 'Waves and the meter.'),
    ui('weave', ['commands', 'parts', 'store'], 'Frames of a join, shot under shot.'),
    ui('lanes', ['parts', 'store', 'weave'], 'Curves in time.'),
    ui('shots', ['parts', 'store'], 'Rows of a shot that both rooms show.'),
    ui('stage', ['commands', 'parts', 'sound', 'store'], 'The picture, and what is drawn over it.'),
    ui('send', ['parts', 'store'], 'The dialog of exports.'),
    ui('room', ['commands', 'parts', 'send', 'store'], 'What frames both rooms: panes, header, notices.'),
    ui('shelf', ['commands', 'parts', 'sound', 'store'], 'Media as cards.'),
    ui('films', ['commands', 'parts', 'store'], 'The first page.'),
    ui('reel', ['commands', 'lanes', 'parts', 'room', 'shelf', 'shots', 'sound', 'stage', 'store', 'weave'], 'The room of the reel.'),
    ui('bench', ['commands', 'lanes', 'parts', 'room', 'shots', 'sound', 'stage', 'store', 'weave'], 'The room of one join.'),

    bench('common', [], 'What the steps share.'),
    bench('kinds', [], 'The sheet of kinds, and custom recipes.'),
    bench('layers', [], 'The stack at the left.'),
    bench('sound', [], 'Sound under the weave.'),
    bench('check', [], 'The panel of Check.'),
    bench('track', ['common'], 'The step Track.'),
    bench('pair', ['common', 'kinds'], 'The step Pair.'),
    bench('mask', ['common'], 'The step Mask.'),
    bench('recipe', ['common', 'pair'], 'The settings of a kind of join.'),
    bench('move', ['recipe'], 'The step Move.'),
    bench('blend', ['move'], 'The step Blend.'),
    bench('work', ['common', 'kinds', 'layers', 'mask', 'pair', 'sound', 'track'], 'What is chosen and worked with, for all steps.'),
    bench('stage', ['blend', 'common', 'mask', 'move', 'sound', 'track', 'work'], 'The stage and the weave of the bench.'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
  },
};
