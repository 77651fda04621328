import type { PointerEvent } from 'react';
import { PAD } from './reel-scale';

/** Seconds along the top of the reel; the playhead is dragged there. */
export function Ruler({
  length,
  perFrame,
  perSecond,
  onScrub,
}: {
  readonly length: number;
  readonly perFrame: number;
  readonly perSecond: number;
  readonly onScrub: (event: PointerEvent) => void;
}) {
  const every = [1, 2, 5, 10, 30, 60, 300, 600].find((s) => s * perSecond * perFrame >= 60) ?? 3600;
  const marks = Array.from({ length: Math.floor(length / (every * perSecond)) + 1 }, (_, i) => i * every);
  return (
    <div
      className="absolute inset-x-0 top-0 h-5 cursor-ew-resize touch-none border-b border-rule"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        onScrub(e);
      }}
      onPointerMove={onScrub}
    >
      {marks.map((second) => (
        <span
          key={second}
          className="absolute bottom-0 border-l border-rule pl-1 font-mono text-[10px] text-soft"
          style={{ left: PAD + second * perSecond * perFrame }}
        >
          {second} s
        </span>
      ))}
    </div>
  );
}
