import { endIdleAnalysis } from '../server/analysis-worker';
import { getDb } from '../server/db';
import { seedDemoFilm } from '../server/demo-film';
import { renderCommand } from './render';
import { toolCommand } from './tool';
import { UsageError } from './usage';

const VERBS: Record<string, (args: readonly string[]) => Promise<void>> = {
  render: renderCommand,
  tool: toolCommand,
  'seed-demo': async () => {
    const id = await seedDemoFilm(await getDb(), (line) => console.error(line));
    console.error(`demo film: /films/${id}`);
  },
};

const [verb = '', ...args] = process.argv.slice(2);
try {
  const command = VERBS[verb];
  if (command === undefined) throw new UsageError(`unknown verb "${verb}"; known: ${Object.keys(VERBS).join(', ')}`);
  await command(args);
} catch (error) {
  console.error(`irimi ${verb}: ${(error as Error).message}`);
  process.exitCode = 2;
}
await endIdleAnalysis();
process.exit();
