import type { ShotSide } from '../../../core/film/composition';
import { setFraming, setShotMove } from '../../../core/film/edits/shots';
import { slideEntering, slipLeaving } from '../../../core/film/edits/trims';
import { addMatte, setKey, type MatteKind } from '../../../core/film/edits/mattes';
import type { Media } from '../../../core/film/film';
import { addInterest } from '../../../core/film/edits/interest';
import { apply, invert, type Point } from '../../../core/geometry/matrix';
import { matteSpace } from '../../../core/plan/stage-plans';
import { changedFilm } from '../../../core/film/history';
import { framesText, mediumOf } from '../../../core/film/timing';
import type { ColourKey } from '../../../core/matte/key/key';
import { movedBy, moveOf, moveSpanOf, STANDING } from '../../../core/pair/borrowed-move';
import type { NextThing } from '../../../core/recipes/next-thing';
import { overlapName, rollCutAndRefit, setOverlapAndRefit } from '../../../core/recipes/refit';
import { deleted, withKey } from '../../lanes/lane-edits';
import type { FilmStore } from '../../store/film-store';
import type { Step } from '../common/bench-place';
import { chooseKeys, drawMove, markEye, useBench } from '../../store/bench-state';
import { slideName } from '../pair/pair-panel';
import type { PreviewChange } from '../../store/preview';
import type { BenchWork } from './use-bench-work';
import { newId } from '../../store/new-id';

export type BenchActions = ReturnType<typeof benchActions>;

/** What can be done on the bench from more than one of its parts. */
export function benchActions(store: FilmStore, media: Media, work: BenchWork) {
  const { placed, join, place, go, setView, frame, setFrame, playback, matte, side, tools, track, lanes } = work;
  const openMask = (): void => {
    // an outline is drawn on the leaving shot as it is, without what it takes out
    if (place.view !== side && matte !== null && (tools === null || !matte.outline.closed)) setView(side);
    go({ step: 'mask' });
  };
  const openTrack = (): void => {
    if (track !== null && place.view !== track.side) setView(track.side);
    go({ step: 'track' });
  };
  const openMove = (step: 'move' | 'blend'): void => {
    // what moves is looked at as it comes out
    if (place.view !== 'result') setView('result');
    go({ step });
  };
  const previewTiming = timingPreview(store, work);
  const sideOfMatte = (matteId: string | null): ShotSide => {
    const chosen = store.snapshot().film!.mattes.find((m) => m.id === matteId);
    return chosen === undefined || chosen.mediumId === placed.leaving.mediumId ? 'leaving' : 'entering';
  };
  return {
    openStep(step: Step): void {
      if (step === 'mask') openMask();
      else if (step === 'track') openTrack();
      else if (step === 'move' || step === 'blend') openMove(step);
      else go({ step });
    },
    /** Goes to where the next thing is done. */
    goTo({ step, matteId, frame: at }: NextThing): void {
      go({ step, ...(matteId === null ? {} : { matteId }), ...(at === null ? {} : { frame: at }) });
      if (step === 'mask') setView(sideOfMatte(matteId));
    },
    /** Opens a matte where it is drawn, on the shot it is of, at the cut. */
    openMatte(matteId: string, of: ShotSide): void {
      go({ step: 'mask', matteId, frame: of === 'leaving' ? placed.cut - 1 : placed.cut });
      setView(of);
    },
    step(by: number): void {
      setFrame(playback.stop() + by);
    },
    selectMatte(id: string): void {
      go({ matteId: id });
      if (place.step === 'mask') setView(sideOfMatte(id));
    },
    addMatteOf(kind: MatteKind, of: ShotSide): void {
      const name = `${placed[of].name}, ${kind === 'strokes' ? 'subject' : kind}`;
      store.edit(`Added a matte of ${placed[of].name}`, (d) => go({ matteId: addMatte(d, placed[of].mediumId, kind, name, newId) }));
      setView(of);
      go({ step: 'mask' });
    },
    ...timingActions(store, media, work),
    /** Moves the entering shot's picture in the frame, film pixels. */
    nudgePicture(dx: number, dy: number): void {
      const { entering } = placed;
      const own = typeof entering.framing === 'object' ? entering.framing : { x: 0, y: 0, scale: 1, turn: 0 };
      store.edit(`Nudged the picture of ${entering.name}`, (d) => setFraming(d, entering.id, { ...own, x: own.x + dx, y: own.y + dy }));
    },
    /** Marks where the eye is, at a place of the frame, on the frame of a shot that is looked at. */
    markEyeAt(of: ShotSide, x: number, y: number): void {
      const medium = mediumOf(media, placed[of]);
      const { matrix, mediumFrame } = matteSpace(work.shownFilm, media, placed, of, frame);
      if (medium === null || mediumFrame === null) return;
      const at = apply(invert(matrix), { x, y });
      store.edit(`Marked a point of interest in ${placed[of].name}`, (d) => addInterest(d, join.id, of, mediumFrame, at.x, at.y, newId));
      markEye(null);
    },
    /** Gives a shot's camera the way of a drag across the picture, film pixels from its start; it keeps how it turns and goes in. */
    drawMoveOf(of: ShotSide, way: readonly Point[], final: boolean): void {
      const shot = placed[of];
      const span = moveSpanOf(shot);
      const move = movedBy(shot.move ?? moveOf(STANDING, span), way, span);
      previewTiming(`Camera move of ${shot.name}`, final, (d) => setShotMove(d, shot.id, move));
      if (final) drawMove(null);
    },
    /** Takes the colour of the key that is worked on from the picture; null where that is no colour key. */
    pickColour:
      matte?.key?.kind !== 'colour'
        ? null
        : (colour: ColourKey['colour']): void => {
            const key = matte.key;
            if (key?.kind === 'colour') store.edit('Picked the key colour', (d) => setKey(d, matte.id, { ...key, colour }));
          },
    /** Several channels are keyed on one frame at once: those whose lanes are there. */
    keyLanes: (): void =>
      store.edit(`Keyframes at ${frame}`, (d) => {
        for (const lane of lanes) withKey(join.id, lane, frame - lane.facts.origin)(d);
      }),
    deleteKeys(): void {
      store.edit('Deleted keyframes', deleted(join.id, lanes, useBench.getState().keys));
      chooseKeys(new Map());
    },
  };
}

/** Shows a change of time while it is dragged, and stores it at last. */
const timingPreview =
  (store: FilmStore, work: BenchWork) =>
  (name: string, final: boolean, change: PreviewChange): void => {
    if (final) {
      work.setTimingPreview(null);
      store.edit(name, change);
    } else work.setTimingPreview(changedFilm(store.snapshot().film!, change));
  };

/** Sliding and slipping the shots of a join, rolling its cut, and how long it overlaps. */
function timingActions(store: FilmStore, media: Media, work: BenchWork) {
  const { placed, join } = work;
  const previewTiming = timingPreview(store, work);
  return {
    onSlide(by: number, final: boolean): void {
      const medium = mediumOf(media, placed.entering);
      if (medium !== null) previewTiming(slideName(by), final, (d) => slideEntering(d, medium, join.id, by));
    },
    onSlip(by: number, final: boolean): void {
      const medium = mediumOf(media, placed.leaving);
      if (medium !== null) previewTiming(slideName(by, 'leaving'), final, (d) => slipLeaving(d, medium, join.id, by));
    },
    onRoll(by: number, final: boolean): void {
      const name = `Rolled the cut ${framesText(Math.abs(by))} ${by < 0 ? 'earlier' : 'later'}`;
      previewTiming(name, final, (d) => rollCutAndRefit(d, media, join.id, by));
    },
    onOverlap(end: 'from' | 'to', at: number, final: boolean): void {
      const before = end === 'from' ? placed.cut - at : join.before;
      const after = end === 'to' ? at - placed.cut : join.after;
      previewTiming(overlapName(store.snapshot().film!, join.id, before), final, (d) =>
        setOverlapAndRefit(d, media, join.id, before, after),
      );
    },
  };
}
