import { frameOfFinding } from '../../../core/check/finding';
import { DOUBTFUL } from '../../../core/film/matte-frame';
import type { Ghost } from '../../stage/outline-editor';
import type { WeaveKey } from '../../weave/keyframe-pips';
import type { MatteMark } from '../../weave/matte-marks';
import type { BenchWork } from './use-bench-work';

/** The keyframes of the outline that is worked on, as film frames. */
export const keyFramesOf = ({ tools }: BenchWork): WeaveKey[] =>
  tools === null ? [] : tools.matte.outline.keys.map((k) => ({ frame: tools.filmFrame(k.frame), ease: k.ease }));

/** The stored frames of the painted matte that is worked on, as film frames. */
export const matteMarksOf = ({ strokes }: BenchWork): MatteMark[] =>
  strokes === null
    ? []
    : strokes.frames.map((f) => ({
        frame: strokes.filmFrame(f.frame),
        kind: f.origin === 'hand' ? 'hand' : f.confidence < DOUBTFUL ? 'doubt' : 'carried',
        settled: f.settled,
      }));

/** Where the keys for the mark before and after stop: keyframes, keys of lanes, marks and findings, in order. */
export function stopsOf(work: BenchWork): number[] {
  const found = work.findings.map(frameOfFinding);
  // in Check they go through what was found, and nothing else
  if (work.place.step === 'check') return [...new Set(found)].sort((a, b) => a - b);
  const lanes = work.hasLanes
    ? work.lanes.flatMap((l) => (typeof l.channel === 'number' ? [] : l.channel.map((k) => k.frame + l.facts.origin)))
    : [];
  const marks = matteMarksOf(work).filter((m) => m.kind !== 'carried');
  const all = [...keyFramesOf(work), ...marks].map((k) => k.frame);
  return [...new Set([...all, ...lanes, ...found])].sort((a, b) => a - b);
}

/** The neighbouring keyframes of the outline, shown as ghosts. */
export function ghostsOf({ editing, ghosts, tools }: BenchWork): Ghost[] {
  if (!editing || !ghosts || tools === null) return [];
  const { keys } = tools.matte.outline;
  const earlier = keys.findLast((k) => k.frame < tools.mediumFrame!);
  const later = keys.find((k) => k.frame > tools.mediumFrame!);
  return [earlier, later].flatMap((k) => (k === undefined ? [] : [{ frame: k.frame, points: k.points }]));
}
