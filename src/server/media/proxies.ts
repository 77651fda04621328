import { rename, stat } from 'node:fs/promises';
import { toNumber } from '../../core/geometry/rational';
import { mediumFile } from '../base/data-folder';
import { AppError } from '../base/errors';
import { run, runLimit } from '../base/processes';
import { countFrames, proxyArgs, type PictureFile, type Probe } from '../video/ffmpeg';
import { requireSteady, scanPackets, type Packets } from '../video/packets';
import { FirstParts } from './first-parts';
import type { MediumRow } from './media';
import type { StoredFacts } from './stored-facts';

const PROXY_WIDTH = 960;
const STRIP_TILES = 40;
const STRIP_COLUMNS = 8;
const STRIP_TILE_WIDTH = 160;

const even = (n: number): number => Math.max(2, 2 * Math.round(n / 2));

/** Pictures, and a share of all, by which a file may be shorter than it says before that is worth a word. */
const SHORTER_BY = { frames: 6, share: 0.02 };

/** A sentence where a file holds fewer pictures than it says it has. */
export function endsEarly(probed: Probe, frames: number): string | null {
  const said = Math.round(probed.duration * toNumber(probed.rate));
  if (said - frames <= Math.max(SHORTER_BY.frames, SHORTER_BY.share * said)) return null;
  return `This file ends early: ${frames} of about ${said} pictures came in. The rest is missing or damaged.`;
}

/** Seconds of picture in a file, by what is stored of it; what a file says of its length may be missing or wrong. */
const storedSeconds = ({ duration }: Probe, { first, end }: Packets): number => Math.max(duration, end - first);

/** Makes what the page draws a medium from, its strip and its poster. @throws AppError 'unusable-file' */
export async function makeProxy(
  row: Pick<MediumRow, 'id' | 'name' | 'bytes'>,
  { path: original, probe: probed }: PictureFile,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
  onPart: (facts: StoredFacts) => Promise<void> = () => Promise.resolve(),
): Promise<{ readonly facts: StoredFacts; readonly endsEarly: string | null }> {
  const packets = await scanPackets(original, 'v', row.bytes, signal);
  requireSteady(packets, 'picture', probed.rate);
  const proxyWidth = even(Math.min(PROXY_WIDTH, probed.width));
  const proxyHeight = even((proxyWidth * probed.height) / probed.width);
  const proxy = mediumFile(row.id, 'proxy.webm');
  const partial = `${proxy}.part`;
  const expected = Math.max(1, storedSeconds(probed, packets) * toNumber(probed.rate));
  const { width, height, rate, codec, hasSound, wasVariable, timecode = null, reelName = null } = probed;
  const factsOf = (frames: number, file: StoredFacts['proxy'], stripTiles: number): StoredFacts => ({
    id: row.id,
    kind: frames === 1 ? 'still' : 'video',
    name: displayName(row.name),
    proxy: file,
    ...{ width, height, rate, frames, codec, hasSound, wasVariable, timecode, reelName },
    ...{ proxyWidth, proxyHeight, stripTiles, stripColumns: STRIP_COLUMNS },
    probe: probed,
  });
  const parts = new FirstParts(row.id, partial, expected, async (file, frames) => {
    await makePoster(row.id, mediumFile(row.id, file));
    await onPart(factsOf(frames, file as StoredFacts['proxy'], 0));
  });
  await run('ffmpeg', proxyArgs(original, probed, proxyWidth, proxyHeight, partial), {
    signal,
    seconds: runLimit(row.bytes, expected * probed.width * probed.height),
    onLine(line) {
      const frame = /^frame=(\d+)/.exec(line)?.[1];
      if (frame === undefined) return;
      onProgress(Math.min(0.97, (0.97 * Number(frame)) / expected));
      parts.reached(Number(frame));
    },
  });
  await parts.ended();
  const frames = await countFrames(partial, signal);
  if (frames === 0) throw new AppError('unusable-file', 'This file holds no picture that can be decoded.');
  await rename(partial, proxy);
  const stripTiles = Math.min(STRIP_TILES, frames);
  await makeStrip(row.id, proxy, frames, stripTiles, signal);
  onProgress(1);
  return { facts: factsOf(frames, 'proxy.webm', stripTiles), endsEarly: endsEarly(probed, frames) };
}

/** 'street-tram.webm' is shown as 'Street tram'. */
export function displayName(file: string): string {
  const words = file
    .replace(/\.[^.]+$/, '')
    .replace(/[-_]+/g, ' ')
    .trim();
  return words === '' ? file : words[0]!.toUpperCase() + words.slice(1);
}

/** Draws the tiles that the shelf scrubs over, evenly spread, and a larger poster from a third into the medium. */
async function makeStrip(id: string, proxy: string, frames: number, tiles: number, signal: AbortSignal): Promise<void> {
  const wanted = Array.from({ length: tiles }, (_, i) => Math.floor(((i + 0.5) * frames) / tiles));
  const select = (list: readonly number[]): string => `select='${list.map((n) => `eq(n\\,${n})`).join('+')}'`;
  const rows = Math.ceil(tiles / STRIP_COLUMNS);
  const poster = Math.floor(frames / 3);
  await run(
    'ffmpeg',
    [
      '-hide_banner',
      '-nostdin',
      '-v',
      'error',
      '-y',
      '-i',
      proxy,
      '-filter_complex',
      `[0:v]split[a][b];[a]${select(wanted)},scale=${STRIP_TILE_WIDTH}:-2,tile=${STRIP_COLUMNS}x${rows}[strip];[b]${select([poster])},scale=480:-2[poster]`,
      '-map',
      '[strip]',
      '-frames:v',
      '1',
      '-q:v',
      '4',
      '-f',
      'mjpeg',
      mediumFile(id, 'strip.jpg'),
      '-map',
      '[poster]',
      '-frames:v',
      '1',
      '-q:v',
      '3',
      '-f',
      'mjpeg',
      mediumFile(id, 'poster.jpg'),
    ],
    { signal, seconds: runLimit((await stat(proxy)).size) },
  );
}

/** The first picture of what is there of a medium, for its card until the strip is made. */
async function makePoster(id: string, proxy: string): Promise<void> {
  const args = ['-v', 'error', '-nostdin', '-y', '-i', proxy, '-frames:v', '1', '-vf', 'scale=480:-2', '-q:v', '3', '-f', 'mjpeg'];
  await run('ffmpeg', [...args, mediumFile(id, 'first.jpg')], { seconds: runLimit((await stat(proxy)).size) });
}
