import { kindOf, type Film, type Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import { sideOf } from '../film/composition';
import type { Finding } from './finding';
import type { FrameLook } from './look';
import { checkLooks, checkTiming } from './looks';
import { checkComposition } from './composition';
import { framesToCover } from './frames';
import { checkHandles } from './handles';
import { checkEffectEnds, checkNeeds } from './lacks';
import { kindNamed } from '../recipes/kinds';
import { wipeMatte } from '../recipes/wipe-past/wipe-past-report';

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

const percent = (share: number): string => (share < 0.01 ? 'under 1 %' : `${Math.round(100 * share)} %`);
const spanText = (from: number, to: number): string => (from === to ? `Frame ${from}` : `Frames ${from} to ${to}`);

/**
 * Goes through every frame of a join. `shares` are the empty shares of the frames it has to cover (`framesToCover`), measured on the real plan
 * with the mattes as they are; `looks` what its frames look like, with one before and one after, where that is known. An empty list means nothing was
 * found.
 */
export function checkJoin(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  shares: readonly number[],
  looks: readonly (FrameLook | null)[] = [],
): Finding[] {
  return [
    ...checkHandles(film, media, placed),
    ...checkEmptiness(placed, framesToCover(film, media, placed), shares),
    ...checkNeeds(film, media, placed),
    ...checkEffectEnds(placed),
    ...checkComposition(film, media, placed),
    ...checkWipe(film, media, placed),
    ...checkTiming(film, media, placed),
    ...checkLooks(film, media, placed, looks),
  ];
}

function checkEmptiness(placed: PlacedJoin, frames: readonly number[], shares: readonly number[]): Finding[] {
  // a layer that is cut out is not the one that should reach there
  const mirrored = placed.join.layers
    .filter((l) => l.visible && l.edges === 'none' && l.mattes.length === 0 && sideOf(l) !== null)
    .map((l) => l.id);
  const shareOf = new Map(frames.map((frame, i) => [frame, shares[i] ?? 0]));
  const empty = frames.filter((frame) => shareOf.get(frame)! > 0);
  return runsOf(empty).map(([from, to]) => ({
    kind: 'empty pixels',
    from,
    to,
    text: `${spanText(from, to)}: ${percent(Math.max(...frames.filter((f) => f >= from && f <= to).map((f) => shareOf.get(f)!)))} of the picture is empty.`,
    advice: 'Let a layer reach there, or make the overlap shorter.',
    repair: mirrored.length === 0 ? null : { kind: 'mirror borders', layerIds: mirrored },
  }));
}

function checkWipe(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const kind = kindOf(placed.join);
  const reportOf = kind === 'cut' ? undefined : kindNamed(kind).report;
  if (reportOf === undefined) return [];
  const report = reportOf(film, media, placed);
  if (report === null || report.firstHole === null || report.widest === null)
    return [
      {
        kind: 'no outline',
        from: placed.from,
        to: Math.max(placed.from, placed.to - 1),
        text: 'The outline hides nothing of the leaving shot yet.',
        advice: 'In Mask, draw an outline around the area behind the trailing edge and move it as the edge moves.',
        repair: null,
      },
    ];
  const findings: Finding[] = [];
  const followed = wipeMatte(film, placed)?.matte;
  if (followed?.coversFrame === null)
    findings.push({
      kind: 'never covers',
      from: report.widest,
      to: report.widest,
      text: 'What passes never covers the whole frame: above or below it the edge between both shots shows.',
      advice: 'Enlarge the leaving shot until it does, soften the edge, or choose another pass.',
      repair: null,
    });
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
      repair: null,
    });
  }
  for (const [from, to] of runsOf(report.shrinks))
    findings.push({
      kind: 'shrinks',
      from,
      to,
      text: `${spanText(from, to)}: the hidden area gets smaller, so the leaving shot comes back.`,
      advice: 'Move the outline so that it only grows from frame to frame.',
      repair: null,
    });
  if (report.firstHole < placed.from)
    findings.push({
      kind: 'open too early',
      from: report.firstHole,
      to: placed.from - 1,
      text: `The hole opens on frame ${report.firstHole}, before the overlap starts on ${placed.from}: the wipe begins with a jump.`,
      advice: 'Fit the overlap to the hole.',
      repair: { kind: 'fit hole' },
    });
  if (report.fullFrom !== null && report.fullFrom > placed.to)
    findings.push({
      kind: 'leaves too early',
      from: placed.to,
      to: report.fullFrom - 1,
      text: `The overlap ends on frame ${placed.to - 1}, before the frame is fully hidden on ${report.fullFrom}: the rest of the leaving shot vanishes with a jump.`,
      advice: 'Fit the overlap to the hole.',
      repair: { kind: 'fit hole' },
    });
  return findings;
}
