'use client';
import { Magnet } from 'lucide-react';
import { hint } from '../commands/commands';
import { IconButton } from '../parts/button';
import { toggleSnapping, useReelChoice } from '../store/reel-choice';
import { REEL_ZOOM_STEP, showWholeReel, zoomReel } from '../store/reel-view';

/** Whether edges snap, and how large the reel is drawn. */
export function ReelZoom() {
  const { snaps } = useReelChoice();
  return (
    <span className="flex items-center justify-end gap-1 px-3 text-soft">
      <button
        type="button"
        aria-pressed={snaps}
        title={hint('snapOnOff', snaps ? 'Edges snap to cuts, sounds, markers and beats' : 'Edges do not snap')}
        className={`mr-auto inline-flex items-center gap-1 rounded px-1.5 ${snaps ? 'bg-pressed text-ink' : ''}`}
        onClick={toggleSnapping}
      >
        <Magnet size={12} /> snap
      </button>
      <IconButton label={hint('reelOut', 'Zoom out')} onClick={() => zoomReel(1 / REEL_ZOOM_STEP)}>
        −
      </IconButton>
      <IconButton label={hint('reelIn', 'Zoom in')} onClick={() => zoomReel(REEL_ZOOM_STEP)}>
        +
      </IconButton>
      <button type="button" title={hint('reelWhole')} className="rounded px-1.5 hover:bg-pressed" onClick={showWholeReel}>
        fit
      </button>
    </span>
  );
}
