import { parseArgs } from 'node:util';
import type { Image } from '../core/image/pixels';
import { crossingOutline } from '../core/matte/outline/crossing-outline';
import { findCrossing } from '../core/track/crossing';
import { AnalysisFrames } from '../server/video/analysis-frames';
import { CROSSING_FRAMES, CROSSING_WIDTH } from '../server/work/crossing-frames';
import { countVideoFrames, probe } from '../server/video/ffmpeg';
import { frameNumber } from './frame-span';
import { takes } from './help';
import { fromCaller, outputFile, writeText } from './output';
import { UsageError } from './usage';

/**
 * `tool edge`: the trailing edge of what crosses a video, as an outline around the hole it leaves behind. Pixel centres
 * are at whole numbers here.
 */
export async function edgeCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: { video: { type: 'string' }, out: { type: 'string' }, from: { type: 'string' }, to: { type: 'string' } },
  });
  if (values.video === undefined || values.out === undefined) throw new UsageError(takes('edge'));
  const out = outputFile(values.out, values.video);
  const video = fromCaller(values.video);
  const probed = await probe(video);
  const end = (await countVideoFrames(video, probed)) - 1;
  const from = values.from === undefined ? 0 : frameNumber(values.from, '--from', end);
  const to = values.to === undefined ? Math.min(end, from + CROSSING_FRAMES - 1) : frameNumber(values.to, '--to', end);
  if (to - from < 2 || to - from >= CROSSING_FRAMES)
    throw new UsageError(`--from ${from} --to ${to}: give between 3 and ${CROSSING_FRAMES} frames around the pass`);
  const width = Math.min(CROSSING_WIDTH, probed.width);
  const height = Math.max(1, Math.round((width * probed.height) / probed.width));
  const frames = new AnalysisFrames({ path: video, probe: probed }, width, height);
  const pictures: Image[] = [];
  try {
    for (let n = from; n <= to; n++) pictures.push(await frames.frame(n));
  } finally {
    frames.close();
  }
  const crossing = findCrossing(pictures);
  if (crossing === null) throw new UsageError(`${values.video}: nothing was found that crosses the picture and leaves it free again`);
  const length = crossing.direction === 'left' || crossing.direction === 'right' ? width : height;
  const outline = crossingOutline(crossing, length, from, probed.width, probed.height);
  const corner = (v: number, side: number): number => Math.round(100 * (v + side / 2 - 0.5)) / 100;
  const keys = outline.keys.map((k) => ({
    frame: k.frame,
    points: k.points.map((p) => [corner(p.x, probed.width), corner(p.y, probed.height)]),
  }));
  const covered = crossing.covered === null ? null : { from: from + crossing.covered.from, to: from + crossing.covered.to };
  await writeText(out, `${JSON.stringify({ direction: crossing.direction, covered, keys })}\n`);
}
