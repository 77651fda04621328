'use client';
import { Magnet } from 'lucide-react';
import { hint } from '../commands/commands';
import { IconButton } from '../parts/button';
import { toggleSnapping, useReelChoice } from '../store/reel-choice';

const [LEAST, USUAL, MOST, STEP] = [0.05, 2.5, 40, 1.5];

interface ReelZoomProps {
  /** Pixels a frame; null fits the whole film. */
  readonly zoom: number | null;
  readonly onZoom: (zoom: number | null) => void;
}

/** Whether edges snap, and how large the reel is drawn. */
export function ReelZoom({ zoom, onZoom }: ReelZoomProps) {
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
      <IconButton label="Zoom out" onClick={() => onZoom(Math.max(LEAST, (zoom ?? USUAL) / STEP))}>
        −
      </IconButton>
      <IconButton label="Zoom in" onClick={() => onZoom(Math.min(MOST, (zoom ?? USUAL) * STEP))}>
        +
      </IconButton>
      <button type="button" className="rounded px-1.5 hover:bg-pressed" onClick={() => onZoom(null)}>
        fit
      </button>
    </span>
  );
}
