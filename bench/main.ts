import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { benchComposition } from './composition';
import { benchCompositor } from './compositor';
import { benchCorrections } from './corrections';
import { benchEffects } from './effects';
import { benchFilm } from './film';
import { benchFollowing } from './following';
import { benchMattes } from './mattes';
import { benchMedia } from './media';
import { benchPairing } from './pairing';
import { benchPlaying } from './playing';
import { benchPointer } from './pointer';
import { benchScale } from './scale';
import { benchSound } from './sound';
import { benchStrokes } from './strokes';
import type { Line } from './line';

const GROUPS: Record<string, () => Promise<Line[]>> = {
  compositor: benchCompositor,
  composition: benchComposition,
  corrections: benchCorrections,
  effects: benchEffects,
  film: benchFilm,
  following: benchFollowing,
  mattes: benchMattes,
  media: benchMedia,
  pairing: benchPairing,
  playing: benchPlaying,
  pointer: benchPointer,
  scale: benchScale,
  sound: benchSound,
  strokes: benchStrokes,
};

const { positionals, values } = parseArgs({ allowPositionals: true, options: { json: { type: 'string' } } });
const wanted = positionals.length > 0 ? positionals : Object.keys(GROUPS);
const lines: Line[] = [];
for (const name of wanted) {
  const group = GROUPS[name];
  if (group === undefined) {
    console.error(`irimi bench: unknown group "${name}"; known: ${Object.keys(GROUPS).join(', ')}`);
    process.exit(2);
  }
  for (const line of await group()) {
    lines.push(line);
    console.log(`${line.what.padEnd(64)} ${line.value.padStart(16)}   ${line.against}`);
  }
}
if (values.json !== undefined) writeFileSync(values.json, `${JSON.stringify(lines, null, 2)}\n`);
process.exit(0);
