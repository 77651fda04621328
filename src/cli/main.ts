import { endIdleAnalysis } from '../server/work/analysis-worker';
import { lockDataFolder, openDataDb } from '../server/database/db';
import { seedDemoFilm } from '../server/demo/demo-film';
import { helpOn } from './help';
import { renderCommand } from './render';
import { serveCommand } from './serve';
import { toolCommand } from './tool';
import { oneLine, UsageError, withNegatives } from './usage';
import { dataFolder } from '../server/base/data-folder';
import { troubleOf } from '../server/base/errors';

/** Works on the data folder as the only one. */
async function alone(work: () => Promise<void>): Promise<void> {
  const unlock = lockDataFolder();
  try {
    await work();
  } finally {
    unlock();
  }
}

const VERBS = new Map<string, (args: readonly string[]) => Promise<void>>([
  ['render', renderCommand],
  ['tool', toolCommand],
  [
    'seed-demo',
    () =>
      alone(async () => {
        const id = await seedDemoFilm(await openDataDb(), (line) => console.error(line));
        console.error(`demo film: /films/${id}`);
      }),
  ],
  ['serve', serveCommand],
  // before the server starts: says at once what would keep it from its data
  ['try-data', () => alone(async () => (await openDataDb()).destroy())],
]);

const [verb = '', ...args] = process.argv.slice(2);
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
  let count = 0;
  process.on(signal, () => {
    // sending out and serving end by themselves, unless they are told twice
    if ((verb !== 'render' && verb !== 'serve') || ++count > 1) process.exit(2);
  });
}
try {
  const command = VERBS.get(verb);
  if (command === undefined) throw new UsageError(`unknown verb "${verb}"; known: ${[...VERBS.keys()].join(', ')}`);
  const help = args.includes('--help')
    ? helpOn(
        verb,
        args.find((a) => !a.startsWith('-')),
      )
    : null;
  if (help !== null) process.stdout.write(help);
  else await command(withNegatives(args));
} catch (error) {
  const { message } = troubleOf(error, dataFolder()) ?? (error as Error);
  console.error(`irimi ${verb}: ${oneLine(message)}`);
  process.exitCode = 2;
}
await endIdleAnalysis();
process.exit();
