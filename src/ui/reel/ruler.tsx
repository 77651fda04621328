import type { PointerEvent } from 'react';
import { clockText } from '../../core/format/clock';
import { toNumber, type Rational } from '../../core/geometry/rational';
import { useClock } from '../store/clock';
import { PAD } from './reel-scale';

/** CSS pixels that a time takes on the ruler at least. */
const ROOM = { timecode: 84, 'drop-frame': 84, frames: 60, seconds: 60 } as const;

/** Time along the top of the reel, by the clock that is chosen; the playhead is dragged there. */
export function Ruler({
  length,
  perFrame,
  rate,
  onScrub,
}: {
  readonly length: number;
  readonly perFrame: number;
  readonly rate: Rational;
  readonly onScrub: (event: PointerEvent) => void;
}) {
  const [clock] = useClock(rate);
  const perSecond = Math.round(toNumber(rate));
  const every = [1, 2, 5, 10, 30, 60, 300, 600].find((s) => s * perSecond * perFrame >= ROOM[clock]) ?? 3600;
  const marks = Array.from({ length: Math.floor(length / (every * perSecond)) + 1 }, (_, i) => i * every * perSecond);
  return (
    <div
      className="absolute inset-x-0 top-0 h-5 cursor-ew-resize touch-none border-b border-rule"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        onScrub(e);
      }}
      onPointerMove={onScrub}
    >
      {marks.map((frame) => (
        <span
          key={frame}
          className="absolute bottom-0 border-l border-rule pl-1 font-mono text-[10px] text-soft"
          style={{ left: PAD + frame * perFrame }}
        >
          {clock === 'seconds' ? `${frame / perSecond} s` : clockText(rate, frame, clock)}
        </span>
      ))}
    </div>
  );
}
