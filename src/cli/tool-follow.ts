import { parseArgs } from 'node:util';
import Joi from 'joi';
import type { MotionModel } from '../core/geometry/fit-map';
import { bridgeHidden } from '../core/track/hidden-frames';
import { PlaneFollower } from '../core/track/plane-follower';
import { isFollowable, type Corner } from '../core/track/plane-template';
import { PointFollower } from '../core/track/point-follower';
import type { TrackFrame } from '../core/track/track';
import { analysisSize } from '../core/matte/coverage/resize';
import { AnalysisFrames } from '../server/video/analysis-frames';
import { probe } from '../server/video/ffmpeg';
import { parse } from '../server/base/parse';
import { readFrameSpan } from './frame-span';
import { takes } from './help';
import { fromCaller, outputFile, writeText } from './output';
import { UsageError } from './usage';

const place = Joi.array<Corner>().ordered(Joi.number().required(), Joi.number().required()).length(2);
const MODELS: readonly MotionModel[] = ['similarity', 'affine', 'perspective'];

function places(text: string, name: string, least: number): Corner[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new UsageError(`${name} takes a list of places like [[10,20],[30,40]], not ${text}`);
  }
  return parse<Corner[]>(Joi.array().items(place).min(least).max(2000).label(name), value);
}

interface PointsFrame {
  readonly frame: number;
  readonly points: readonly (Corner | null)[];
}

/** `tool follow`: a plane region or points given on one frame, on the others. Pixel centres are at whole numbers here. */
export async function followCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: {
      video: { type: 'string' },
      frame: { type: 'string' },
      corners: { type: 'string' },
      points: { type: 'string' },
      model: { type: 'string', default: 'perspective' },
      out: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
    },
  });
  const given = values.corners ?? values.points;
  if (values.video === undefined || values.frame === undefined || values.out === undefined || given === undefined)
    throw new UsageError(takes('follow'));
  const out = outputFile(values.out, values.video);
  if (values.corners !== undefined && values.points !== undefined)
    throw new UsageError('--corners and --points are two different jobs; give one');
  const model = MODELS.find((m) => m === values.model);
  if (model === undefined) throw new UsageError(`--model takes ${MODELS.join(', ')}, not "${values.model}"`);
  const listed = values.corners === undefined ? places(given, '--points', 1) : places(given, '--corners', 3);
  const video = fromCaller(values.video);
  const probed = await probe(video);
  const { frame, from, to } = await readFrameSpan({ ...values, frame: values.frame }, video, probed);
  const size = analysisSize(probed.width, probed.height);
  const scale = size.width / probed.width;
  const inward = ([x, y]: Corner): Corner => [(x + 0.5) * scale, (y + 0.5) * scale];
  const outward = ([x, y]: Corner): Corner => [round(x / scale - 0.5), round(y / scale - 0.5)];
  const frames = new AnalysisFrames({ path: video, probe: probed }, size.width, size.height);
  try {
    const key = await frames.frame(frame);
    const start = listed.map(inward);
    if (values.corners !== undefined && !isFollowable(start, size.width, size.height))
      throw new UsageError(
        `--corners ${given} hold almost nothing of the picture (${probed.width}×${probed.height}); give a larger region inside it`,
      );
    const regions: TrackFrame[] = [{ frame, corners: start, confidence: 1 }];
    const pointsFrames: PointsFrame[] = [{ frame, points: listed }];
    for (const step of [1, -1]) {
      const end = step === 1 ? to : from;
      if (end === frame) continue;
      const region = values.corners === undefined ? null : new PlaneFollower(key, start, model);
      const points = values.corners === undefined ? new PointFollower(key, start) : null;
      for (let n = frame + step; step === 1 ? n <= end : n >= end; n += step) {
        const picture = await frames.frame(n);
        if (region !== null) regions.push({ frame: n, ...region.step(picture) });
        else pointsFrames.push({ frame: n, points: points!.step(picture).map((p) => (p.confidence === 0 ? null : outward([p.x, p.y]))) });
        process.stderr.write(`\rframe ${n}  `);
      }
    }
    process.stderr.write('\n');
    const rising = (a: { readonly frame: number }, b: { readonly frame: number }): number => a.frame - b.frame;
    const lines =
      values.corners === undefined
        ? pointsFrames.sort(rising)
        : bridgeHidden(regions.sort(rising)).map((r) => ({
            frame: r.frame,
            corners: r.corners.map(outward),
            confidence: round(r.confidence),
          }));
    await writeText(out, `${JSON.stringify({ frames: lines })}\n`);
  } finally {
    frames.close();
  }
}

const round = (v: number): number => Math.round(1000 * v) / 1000;
