import type { Film, Media } from '../film/film';
import { handlesOf, mediumOf, startOfShot, type PlacedJoin } from '../film/timing';
import { createImage, type Image } from '../image/image';
import { Compositor } from '../render/compositor';
import { planFrame } from '../render/plan';
import { reportWipe } from './wipe';

/** Something an attentive viewer would notice. Frames are film frames, first to last. */
export interface Finding {
  readonly kind: 'empty pixels' | 'no picture' | 'never covers' | 'shrinks' | 'open too early' | 'leaves too early' | 'no outline';
  readonly from: number;
  readonly to: number;
  /** One sentence: what is wrong. */
  readonly text: string;
  /** One sentence: what to try. */
  readonly advice: string;
}

const CHECK_HEIGHT = 180;

/** Consecutive frames put together: [from, to] pairs, both ends included. */
export function runsOf(frames: readonly number[]): [number, number][] {
  const runs: [number, number][] = [];
  for (const frame of frames) {
    const last = runs.at(-1);
    if (last !== undefined && last[1] === frame - 1) last[1] = frame;
    else runs.push([frame, frame]);
  }
  return runs;
}

/** Share of each overlap frame that no layer covers, by drawing the real plan with blank pictures at a small size. */
export function emptyShares(film: Film, media: Media, placed: PlacedJoin): number[] {
  const width = Math.max(1, Math.round((CHECK_HEIGHT * film.width) / film.height));
  const compositor = new Compositor(width, CHECK_HEIGHT);
  const out = createImage(width, CHECK_HEIGHT);
  const blank: Image = { width: 1, height: 1, data: new Uint8ClampedArray([0, 0, 0, 255]) };
  const shares: number[] = [];
  for (let frame = placed.from; frame < placed.to; frame++) {
    compositor.draw(planFrame(film, media, frame), () => blank, out);
    let empty = 0;
    // a rounding step or two along an edge is no hole
    for (let i = 3; i < out.data.length; i += 4) if (out.data[i]! < 253) empty += 1 - out.data[i]! / 255;
    shares.push(empty / (width * CHECK_HEIGHT));
  }
  return shares;
}

const percent = (share: number): string => (share < 0.01 ? 'under 1 %' : `${Math.round(100 * share)} %`);
const framesText = (from: number, to: number): string => (from === to ? `Frame ${from}` : `Frames ${from} to ${to}`);

/** Goes through every frame of a join. An empty list means nothing was found. */
export function checkJoin(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const findings: Finding[] = [...checkHandles(film, media, placed)];
  const shares = emptyShares(film, media, placed);
  const empty = shares.flatMap((share, i) => (share > 0 ? [placed.from + i] : []));
  for (const [from, to] of runsOf(empty)) {
    const worst = Math.max(...shares.slice(from - placed.from, to - placed.from + 1));
    findings.push({
      kind: 'empty pixels',
      from,
      to,
      text: `${framesText(from, to)}: ${percent(worst)} of the picture is empty.`,
      advice: 'Let a layer reach there, or make the overlap shorter.',
    });
  }
  if (placed.join.kind === 'wipe past') findings.push(...checkWipe(film, media, placed));
  return findings;
}

function checkHandles(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const findings: Finding[] = [];
  const leaving = mediumOf(media, placed.leaving);
  const entering = mediumOf(media, placed.entering);
  const short = leaving === null ? 0 : placed.join.after - handlesOf(film, placed.leaving, leaving).after;
  if (leaving !== null && short > 0)
    findings.push({
      kind: 'no picture',
      from: placed.to - Math.min(short, placed.join.after),
      to: placed.to - 1,
      text: `${placed.leaving.name} has no picture on the last ${count(short)} of the overlap.`,
      advice: 'End the overlap earlier, or cut away from this shot sooner.',
    });
  const spare = entering === null ? null : handlesOf(film, placed.entering, entering);
  const early = spare === null ? 0 : placed.join.before - spare.before;
  if (early > 0)
    findings.push({
      kind: 'no picture',
      from: placed.from,
      to: placed.from + early - 1,
      text: `${placed.entering.name} has no picture on the first ${count(early)}${early > placed.join.before ? '' : ' of the overlap'}.`,
      advice: `Slide the entering shot ${count(early)} later into its medium, or start the overlap later.`,
    });
  if (spare !== null && spare.after < 0) {
    const end = startOfShot(film, placed.entering.id) + placed.entering.length;
    findings.push({
      kind: 'no picture',
      from: Math.max(placed.from, end + spare.after),
      to: end - 1,
      text: `${placed.entering.name} has no picture on its last ${count(-spare.after)}.`,
      advice: `Trim its end by as many on the reel, or slide it ${count(-spare.after)} earlier into its medium.`,
    });
  }
  return findings;
}

const count = (frames: number): string => (frames === 1 ? '1 frame' : `${frames} frames`);

function checkWipe(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const report = reportWipe(film, media, placed);
  if (report === null || report.firstHole === null || report.widest === null)
    return [
      {
        kind: 'no outline',
        from: placed.from,
        to: Math.max(placed.from, placed.to - 1),
        text: 'Nothing of the leaving shot is hidden yet.',
        advice: 'In Mask, draw an outline around the area behind the trailing edge and move it as the edge moves.',
      },
    ];
  const findings: Finding[] = [];
  if (report.fullFrom === null) {
    const share = report.hidden[report.widest - report.start]!;
    const text =
      share > 1 - 1e-6
        ? `The whole frame is hidden on frame ${report.widest}, but the leaving shot shows again later.`
        : `The outline never covers the whole frame: on frame ${report.widest} it hides most, and ${percent(1 - share)} of the leaving shot still shows.`;
    findings.push({
      kind: 'never covers',
      from: report.widest,
      to: report.widest,
      text,
      advice: 'Move the last keyframe until the outline lies outside the frame on every side.',
    });
  }
  for (const [from, to] of runsOf(report.shrinks))
    findings.push({
      kind: 'shrinks',
      from,
      to,
      text: `${framesText(from, to)}: the hidden area gets smaller, so the leaving shot comes back.`,
      advice: 'Move the outline so that it only grows from frame to frame.',
    });
  if (report.firstHole < placed.from)
    findings.push({
      kind: 'open too early',
      from: report.firstHole,
      to: placed.from - 1,
      text: `The hole opens on frame ${report.firstHole}, before the overlap starts on ${placed.from}: the wipe begins with a jump.`,
      advice: 'Fit the overlap to the hole.',
    });
  if (report.fullFrom !== null && report.fullFrom > placed.to)
    findings.push({
      kind: 'leaves too early',
      from: placed.to,
      to: report.fullFrom - 1,
      text: `The overlap ends on frame ${placed.to - 1}, before the frame is fully hidden on ${report.fullFrom}: the rest of the leaving shot vanishes with a jump.`,
      advice: 'Fit the overlap to the hole.',
    });
  return findings;
}
