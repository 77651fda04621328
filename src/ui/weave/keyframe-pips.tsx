import { useState, type KeyboardEvent } from 'react';
import type { Ease } from '../../core/motion/curve';
import { useOneStop } from '../parts/one-stop';
import { RULER, useSizes } from './weave-sizes';

export interface WeaveKey {
  /** Film frame. */
  readonly frame: number;
  readonly ease: Ease;
}

interface KeyframePipsProps {
  readonly keys: readonly WeaveKey[];
  readonly x: (frame: number) => number;
  readonly current: number;
  readonly onFrame: (frame: number) => void;
  readonly onMove: (from: number, to: number, copy: boolean) => void;
  readonly onDelete: (frame: number) => void;
}

const PIP: Record<Ease, string> = {
  'soft both': 'size-[10px] rounded-full',
  straight: 'h-[12px] w-[5px] rounded-[1px]',
  hold: 'size-[9px]',
};

/** Keyframe pips: drag to move, with Alt to copy; with the focus ← and → do the same, Enter goes there, Delete removes, ↑ and ↓ go to the others. */
export function KeyframePips({ keys, x, current, onFrame, onMove, onDelete }: KeyframePipsProps) {
  const { cell, row, rows } = useSizes();
  const stop = useOneStop<HTMLDivElement>();
  const onKeyDown = (event: KeyboardEvent, at: number): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by !== undefined) onMove(at, at + by, event.altKey);
    else if (event.key === 'Delete') onDelete(at);
    else if (event.key === 'Enter') onFrame(at);
    else return;
    event.preventDefault();
  };
  const [drag, setDrag] = useState<{ frame: number; startX: number; to: number } | null>(null);
  return (
    <div {...stop} role="group" aria-label="Keyframes" className="absolute inset-x-0" style={{ top: RULER + rows * row, height: 24 }}>
      {keys.map((key) => {
        const at = drag?.frame === key.frame ? drag.to : key.frame;
        return (
          <button
            key={key.frame}
            type="button"
            aria-label={`Keyframe at ${key.frame}`}
            title={`Keyframe at ${key.frame}: drag or use the arrows to move it, with Alt to copy`}
            onKeyDown={(e) => onKeyDown(e, key.frame)}
            className="absolute top-0 flex h-6 w-6 -translate-x-1/2 cursor-ew-resize touch-none items-center justify-center"
            style={{ left: x(at) + cell / 2 }}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setDrag({ frame: key.frame, startX: e.clientX, to: key.frame });
            }}
            onPointerMove={(e) => drag !== null && setDrag({ ...drag, to: drag.frame + Math.round((e.clientX - drag.startX) / cell) })}
            onPointerUp={(e) => {
              // where the pointer was let go counts, also when the page has not been drawn since
              const to = drag === null ? key.frame : drag.frame + Math.round((e.clientX - drag.startX) / cell);
              setDrag(null);
              if (to === key.frame) onFrame(key.frame);
              else onMove(key.frame, to, e.altKey);
            }}
            onPointerCancel={() => setDrag(null)}
          >
            <span className={`block ${PIP[key.ease]} ${at === current ? 'bg-ink' : 'border-[1.5px] border-ink bg-ink/70'}`} />
          </button>
        );
      })}
    </div>
  );
}
