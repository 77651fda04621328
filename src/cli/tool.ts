import { parseArgs } from 'node:util';
import { readyMedia } from '../core/film/media-facts';
import { placedJoins } from '../core/film/timing';
import { checkStoredJoin } from '../server/work/check-film';
import { openDataDb } from '../server/database/db';
import { findFilm } from '../server/films/films';
import { listMedia } from '../server/media/media';
import { edgeCommand } from './tool-edge';
import { followCommand } from './tool-follow';
import { carryCommand, cutCommand } from './tool-mattes';
import { betweenCommand, morphCommand, pairCommand } from './tool-pair';
import { solveCommand } from './tool-solve';
import { beatsCommand, wordCommand } from './tool-sound';
import { takes, type ToolName } from './help';
import { outputFile, writeText } from './output';
import { UsageError, wholeNumber } from './usage';

type Tool = (args: readonly string[]) => Promise<void>;

/** Writes {"joins":[{"name","from","to","findings":[…]}]} for the joins of a film. */
async function check(args: readonly string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args: [...args],
    allowPositionals: true,
    options: { join: { type: 'string' }, out: { type: 'string' } },
  });
  const [name] = positionals;
  if (name === undefined || positionals.length > 1 || values.out === undefined) throw new UsageError(takes('check'));
  const out = outputFile(values.out);
  const db = await openDataDb();
  const { id, film } = await findFilm(db, name);
  const media = readyMedia(await listMedia(db, id));
  const placed = placedJoins(film);
  const wanted = values.join === undefined ? placed : placed.slice(wholeNumber(values.join, '--join', 1) - 1).slice(0, 1);
  if (wanted.length === 0) throw new UsageError(`--join ${values.join}: the reel has ${placed.length} joins`);
  const joins = [];
  for (const p of wanted)
    joins.push({ name: p.join.name, from: p.from, to: p.to, findings: await checkStoredJoin(db, id, film, media, p) });
  await writeText(out, `${JSON.stringify({ joins }, null, 2)}\n`);
}

const TOOLS = new Map<string, Tool>(
  Object.entries({
    cut: cutCommand,
    carry: carryCommand,
    follow: followCommand,
    edge: edgeCommand,
    solve: solveCommand,
    pair: pairCommand,
    between: betweenCommand,
    morph: morphCommand,
    beats: beatsCommand,
    word: wordCommand,
    check,
  } satisfies Record<ToolName, Tool>),
);

/** `tool NAME …`: the same computation on plain files. */
export async function toolCommand([name = '', ...args]: readonly string[]): Promise<void> {
  const tool = TOOLS.get(name);
  const known = [...TOOLS.keys()].join(', ');
  if (tool === undefined) throw new UsageError(name === '' ? `tool NAME …; known: ${known}` : `unknown tool "${name}"; known: ${known}`);
  await tool(args);
}
