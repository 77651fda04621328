'use client';
import { Expand, ExternalLink, Maximize, Sun, ZoomIn, ZoomOut } from 'lucide-react';
import type { ReactNode } from 'react';
import { hint } from '../commands/commands';
import { useOneStop } from '../parts/one-stop';
import { GuidesMenu } from './guides';
import { ZOOM_STEP, type StagePlace } from './use-stage-place';

interface StageToolsProps {
  readonly place: StagePlace;
  /** How many times as bright the picture is shown. */
  readonly gain: number;
  readonly onGain: () => void;
  readonly onFullScreen: () => void;
  readonly onSecondWindow: () => void;
}

/** How the picture is looked at: its size, what lies beyond the frame, brightness, guides, and where else it is shown. */
export function StageTools({ place, gain, onGain, onFullScreen, onSecondWindow }: StageToolsProps) {
  const tools = useOneStop<HTMLDivElement>();
  return (
    <>
      <div {...tools} role="toolbar" aria-label="How the picture is looked at" className="flex shrink-0 items-center gap-2">
        <IconOnWell label={hint('zoomOut')} onClick={() => place.zoom(1 / ZOOM_STEP)}>
          <ZoomOut size={14} />
        </IconOnWell>
        <span data-zoom className="w-10 text-center font-mono">
          {Math.round(100 * place.now.scale)} %
        </span>
        <IconOnWell label={hint('zoomIn')} onClick={() => place.zoom(ZOOM_STEP)}>
          <ZoomIn size={14} />
        </IconOnWell>
        <IconOnWell label={hint('fitFrame')} onClick={() => place.fitFrame()}>
          <Maximize size={13} />
        </IconOnWell>
        <IconOnWell label="Look beyond the frame" onClick={() => place.fitFrame(true)}>
          <span className="relative block size-3.5 border border-dashed border-current">
            <span className="absolute inset-[3px] bg-current" />
          </span>
        </IconOnWell>
        <IconOnWell label="Show the picture brighter, on this stage only" onClick={onGain}>
          <Sun size={14} />
        </IconOnWell>
        <GuidesMenu />
        <IconOnWell label={hint('fullScreen')} onClick={onFullScreen}>
          <Expand size={13} />
        </IconOnWell>
        <IconOnWell label={hint('secondWindow')} onClick={onSecondWindow}>
          <ExternalLink size={13} />
        </IconOnWell>
      </div>
      {gain > 1 && <span className="shrink-0 font-mono">{gain} × as bright</span>}
    </>
  );
}

function IconOnWell({ label, onClick, children }: { readonly label: string; readonly onClick: () => void; readonly children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="inline-flex size-5 items-center justify-center rounded hover:bg-white/10"
    >
      {children}
    </button>
  );
}
