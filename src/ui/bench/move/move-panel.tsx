'use client';
import type { ShotSide } from '../../../core/film/composition';
import type { PlacedJoin } from '../../../core/film/timing';
import { useBench } from '../../store/bench-state';
import type { PreviewChange } from '../../store/preview';
import { FromAbove } from './from-above';
import { MotionSection } from './motion-section';
import { RecipeSection } from '../recipe/recipe-section';

/** The controls of Move: the recipe on top, the motion of what is selected, and the set from above. */
export function MovePanel({
  placed,
  frame,
  onGoTo,
  onPreview,
  onOpen,
  onView,
}: {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly onGoTo: (frame: number) => void;
  readonly onPreview: (change: PreviewChange) => void;
  readonly onOpen: (matteId: string, side: ShotSide) => void;
  readonly onView: (view: ShotSide) => void;
}) {
  const selected = useBench((s) => s.selected);
  return (
    <>
      <RecipeSection frame={frame} placed={placed} onGoTo={onGoTo} onOpen={onOpen} onView={onView} />
      {selected === null ? (
        <p className="border-b border-rule px-3.5 py-3 text-soft">
          Select a layer, a carrier or the camera on the left: its motion stands here, its keyframes under the weave.
        </p>
      ) : (
        <MotionSection placed={placed} frame={frame} of={selected} onPreview={onPreview} />
      )}
      <FromAbove placed={placed} frame={frame} />
    </>
  );
}
