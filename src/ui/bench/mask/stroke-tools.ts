import { useMemo, useState } from 'react';
import type { Film, Matte, Media } from '../../../core/film/film';
import type { ShotSide } from '../../../core/film/composition';
import { carryGoals, restOfCarry, type CarryGoal, type CarrySpans } from '../../../core/film/carry-orders';
import { DOUBTFUL, type MatteFrame } from '../../../core/film/matte-frame';
import { setStrokes, strokesAt } from '../../../core/film/edits/mattes';
import { mediumOf, filmFrameOf, type PlacedJoin } from '../../../core/film/timing';
import type { StoredCoverage } from '../../../core/matte/coverage/stored-coverage';
import { brushed, type BrushMode } from '../../../core/matte/cut/brush';
import type { Stroke, Strokes } from '../../../core/matte/cut/strokes';
import { matteSpace } from '../../../core/plan/stage-plans';
import { joinSpan, shotSpan } from '../common/join-span';
import { useTools } from '../../store/film-context';
import { useCutCoverage } from './use-cut-coverage';

/** The painted matte the Mask step works on, at the current frame, and what can be done to it. */
export interface StrokeTools {
  readonly matte: Matte;
  /** Medium frame under the playhead; null where its shot has none. */
  readonly mediumFrame: number | null;
  readonly strokes: Strokes;
  /** What to show of the matte here: as it is being cut, else as stored; null where there is none. */
  readonly coverage: StoredCoverage | null;
  readonly frames: readonly MatteFrame[];
  /** The stored frame under the playhead. */
  readonly here: MatteFrame | null;
  readonly doubtful: readonly MatteFrame[];
  readonly mode: BrushMode;
  /** Width in film pixels. */
  readonly brush: number;
  readonly settled: boolean;
  readonly problem: string | null;
  filmFrame(mediumFrame: number): number;
  setMode(mode: BrushMode): void;
  setBrush(width: number): void;
  paint(stroke: Stroke, final: boolean): void;
  clear(): void;
  carry(goal: CarryGoal): void;
  /** Film frames that a carry to the start or end of the join's span would reach; null where there is nowhere to go. */
  readonly reaches: { readonly start: number | null; readonly end: number | null };
  /** Film frame up to which a stopped carry still has to go; null when there is nothing to go on with. */
  readonly unfinished: number | null;
  goOn(): void;
  /** Takes jitter out of the stored frames; 0..1. */
  smooth(strength: number): void;
  settle(settled: boolean): void;
  forgetCarried(): void;
}

/** Least and greatest width of the brush, in film pixels. */
export const MIN_BRUSH = 2;
export const MAX_BRUSH = 240;

const NOTHING: Strokes = { keep: [], drop: [] };

const NAMES: Record<BrushMode, string> = {
  keep: 'Painted a keep stroke',
  drop: 'Painted a drop stroke',
  loop: 'Drew a loop around the subject',
  box: 'Drew a box around the subject',
  hair: 'Painted over hair',
  'paint in': 'Painted into the matte',
  'paint out': 'Painted out of the matte',
  erase: 'Erased strokes',
};

/** Null without a painted matte to work on, or while its media is not ready. */
export function useStrokeTools(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  frame: number,
  matte: Matte | null,
  side: ShotSide,
): StrokeTools | null {
  const { store } = useTools();
  const [mode, setMode] = useState<BrushMode>('keep');
  const [brush, setBrush] = useState(28);
  const painted = matte?.painted !== undefined;
  const medium = mediumOf(media, placed[side]);
  const { mediumFrame } = matteSpace(film, media, placed, side, frame);
  const known = matte === null ? undefined : store.snapshot().matteFrames.get(matte.id);
  const frames = useMemo(() => known ?? [], [known]);
  const here = frames.find((f) => f.frame === mediumFrame) ?? null;
  const strokes = useMemo(() => (matte === null || mediumFrame === null ? NOTHING : strokesAt(matte, mediumFrame)), [matte, mediumFrame]);
  const matteId = matte?.id ?? null;

  const { coverage, problem, cutLive } = useCutCoverage({
    matteId: painted ? matteId : null,
    medium,
    mediumFrame,
    here,
    isKnown: known !== undefined,
    strokes,
  });

  if (matte === null || !painted || medium === null) return null;
  const filmFrame = (at: number): number => filmFrameOf(film, placed, side, medium, at);
  const toMedium = (at: number): number | null => matteSpace(film, media, placed, side, at).mediumFrame;
  const inMedium = ({ first, last }: { readonly first: number; readonly last: number }): { first: number; last: number } => ({
    first: toMedium(first) ?? 0,
    last: toMedium(last) ?? medium.frames - 1,
  });
  const spans: CarrySpans = { ...inMedium(joinSpan(placed, side, frame)), shot: inMedium(shotSpan(placed, side)), length: medium.frames };
  const ends = (['start', 'end'] as const).map((goal) => (mediumFrame === null ? [] : carryGoals(goal, mediumFrame, frames, spans))[0]);
  const settled = frames.length > 0 && frames.every((f) => f.settled);

  const rest = restOfCarry(store.snapshot().jobs, matte.id, frames);

  return {
    matte,
    mediumFrame,
    strokes,
    coverage,
    frames,
    here,
    doubtful: frames.filter((f) => f.confidence < DOUBTFUL && f.origin === 'carried'),
    mode,
    brush,
    settled,
    problem,
    filmFrame,
    setMode,
    setBrush: (width) => setBrush(Math.max(MIN_BRUSH, Math.min(MAX_BRUSH, width))),
    paint(stroke, final) {
      if (mediumFrame === null) return;
      if (here?.settled === true) {
        store.notify('The frames of this matte are locked. Unlock them to paint.');
        return;
      }
      const next = brushed(strokes, mode, stroke);
      if (final) {
        // on what is painted by now: strokes may come quicker than the page draws
        store.edit(NAMES[mode], (d) => {
          const now = d.mattes.find((m) => m.id === matte.id);
          if (now === undefined) return;
          const painted = strokesAt(now, mediumFrame);
          const more = brushed(painted, mode, stroke);
          if (JSON.stringify(more) !== JSON.stringify(painted)) setStrokes(d, matte.id, { frame: mediumFrame, ...more });
        });
        return;
      }
      if (mode === 'erase' || mode === 'loop' || mode === 'box') return;
      cutLive(next, stroke);
    },
    clear() {
      if (mediumFrame !== null)
        store.edit('Cleared the strokes', (d) => setStrokes(d, matte.id, { frame: mediumFrame, keep: [], drop: [] }));
    },
    carry(goal) {
      if (mediumFrame === null || here === null) {
        store.notify('There is no matte on this frame to carry on from. Paint a few strokes first.');
        return;
      }
      const goals = carryGoals(goal, mediumFrame, frames, spans);
      if (goals.length === 0) {
        store.notify('There is no frame to carry to in this direction.');
        return;
      }
      void store.allSent().then(async (isSent) => {
        if (isSent) for (const to of goals) await store.ask('carry', { matteId: matte.id, from: mediumFrame, to });
      });
    },
    reaches: { start: ends[0] === undefined ? null : filmFrame(ends[0]), end: ends[1] === undefined ? null : filmFrame(ends[1]) },
    unfinished: rest === null ? null : filmFrame(rest.to),
    goOn() {
      if (rest !== null) void store.askWhenSaved('carry', rest);
    },
    smooth(strength) {
      const order = { matteId: matte.id, first: frames[0]!.frame, last: frames.at(-1)!.frame, strength };
      void store.askWhenSaved('smooth', order);
    },
    settle(on) {
      void store.settle(matte.id, on);
    },
    forgetCarried() {
      void store.ask(`mattes/${matte.id}`, { do: 'forget carried' });
    },
  };
}
