import type { Film, Media, Shot } from '../film/film';
import { framesText, handlesOf, mediumOf, startOfShot, type PlacedJoin } from '../film/timing';
import { planFrame } from '../plan/plan-film';
import { repairText, type Finding, type Repair } from './finding';

/** Frames of the overlap, and of the entering shot, on which a shot has no picture; each with what mends it without tearing something else open. */
export function checkHandles(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  return [...leavingRunsOut(film, media, placed), ...enteringRunsOut(film, media, placed)];
}

function leavingRunsOut(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const { join, leaving } = placed;
  const medium = mediumOf(media, leaving);
  const short = medium === null ? 0 : join.after - handlesOf(film, leaving, medium).after;
  if (short <= 0 || !isMissed(film, media, placed, leaving, placed.to - Math.min(short, join.after), placed.to)) return [];
  const left = Math.max(0, join.after - short);
  // an overlap of nothing is no way out
  const repair: Repair =
    join.before + left === 0 ? { kind: 'make room', frames: join.after } : { kind: 'overlap', before: join.before, after: left };
  return [
    {
      kind: 'no picture',
      from: placed.to - Math.min(short, join.after),
      to: placed.to - 1,
      text: `${leaving.name} has no picture on the last ${framesText(short)} of the overlap.`,
      advice:
        repair.kind === 'make room' ? `${repairText(repair)}.` : `End the overlap ${framesText(Math.min(short, join.after))} earlier.`,
      repair,
    },
  ];
}

function enteringRunsOut(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const { join, entering } = placed;
  const medium = mediumOf(media, entering);
  if (medium === null) return [];
  const spare = handlesOf(film, entering, medium);
  const findings: Finding[] = [];
  const lacking = join.before - spare.before;
  if (lacking > 0 && (lacking > join.before || isMissed(film, media, placed, entering, placed.from, placed.from + lacking)))
    findings.push({
      kind: 'no picture',
      from: placed.from,
      to: placed.from + lacking - 1,
      text: `${entering.name} has no picture on the first ${framesText(lacking)}${lacking > join.before ? '' : ' of the overlap'}.`,
      ...mendStart(placed, lacking, Math.max(0, spare.after)),
    });
  const over = -spare.after;
  if (over > 0) {
    const end = startOfShot(film, entering.id) + entering.length;
    findings.push({
      kind: 'no picture',
      from: Math.max(placed.from, end - over),
      to: end - 1,
      text: `${entering.name} has no picture on its last ${framesText(over)}.`,
      ...mendEnd(over, spare.before - join.before),
    });
  }
  return findings;
}

/** Whether a layer would show a shot on some of these frames on which it has no picture: one that is held needs none. */
export function isMissed(film: Film, media: Media, placed: PlacedJoin, shot: Shot, first: number, end: number): boolean {
  const frames = Array.from({ length: Math.max(0, Math.min(end, placed.to) - first) }, (_, i) => first + i);
  return frames.some((f) => f >= 0 && planFrame(film, media, f, { samples: 1 }).missing.some((m) => m.shotId === shot.id));
}

type Mending = Pick<Finding, 'advice' | 'repair'>;

/** The entering shot lacks pictures where the overlap begins; it has `spare` frames after its end. */
function mendStart({ join, entering }: PlacedJoin, lacking: number, spare: number): Mending {
  if (lacking <= spare) {
    const repair: Repair = { kind: 'slide', later: -lacking, trimEnd: 0 };
    return { advice: `${repairText(repair)}, or start the overlap later.`, repair };
  }
  const runsOut = `Slid ${framesText(lacking)} earlier, ${entering.name} would run out ${framesText(lacking - spare)} before its end`;
  if (lacking <= join.before && join.before - lacking + join.after === 0) {
    const repair: Repair = { kind: 'make room', frames: join.before };
    return { advice: `${runsOut}: ${repairText(repair).toLowerCase()} instead.`, repair };
  }
  if (lacking <= join.before) {
    const repair: Repair = { kind: 'overlap', before: join.before - lacking, after: join.after };
    return { advice: `${runsOut}: start the overlap ${framesText(lacking)} later instead.`, repair };
  }
  const repair: Repair = { kind: 'slide', later: -lacking, trimEnd: lacking - spare };
  return { advice: `${runsOut}: trim its end by as many along with that.`, repair };
}

/** The entering shot goes on for `over` frames past its medium; it has `spare` frames before the overlap. */
function mendEnd(over: number, spare: number): Mending {
  if (over <= spare) {
    const repair: Repair = { kind: 'slide', later: over, trimEnd: 0 };
    return { advice: `${repairText(repair)}, or trim its end by as many.`, repair };
  }
  return {
    advice: `Slid ${framesText(over)} later, it would lack ${framesText(over - Math.max(0, spare))} at its start: trim its end by ${over} instead.`,
    repair: { kind: 'trim end', by: over },
  };
}
