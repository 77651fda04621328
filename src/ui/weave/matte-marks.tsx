import type { Drawing } from '../../core/plan/plan-views';
import { Thumb } from './thumb';
import { RULER, useSizes } from './weave-sizes';

/** A stored frame of the matte that is being worked on. */
export interface MatteMark {
  /** Film frame. */
  readonly frame: number;
  readonly kind: 'hand' | 'carried' | 'doubt';
  readonly settled: boolean;
}

const MARK_TEXT = { hand: 'by hand', carried: 'carried', doubt: 'carried, in doubt' } as const;

const LOOK = {
  hand: 'size-[10px] rounded-full bg-ink',
  carried: 'size-[8px] rounded-full border-[1.5px] border-ink bg-sheet',
  doubt: 'size-[8px] rotate-45 bg-heed',
} as const;

/**
 * The matte itself on every stored frame, with a mark: filled where a hand painted, a ring where it was carried, a lozenge where that is in
 * doubt; a bar under settled ones.
 */
export function MatteMarks({
  marks,
  drawingAt,
  x,
  onFrame,
}: {
  readonly marks: readonly MatteMark[];
  readonly drawingAt: (frame: number) => Drawing;
  readonly x: (frame: number) => number;
  readonly onFrame: (frame: number) => void;
}) {
  const { cell, row, rows, picture } = useSizes();
  return (
    <div role="list" aria-label="Frames of the matte" className="absolute" style={{ top: RULER + rows * row }}>
      {marks.map((m) => (
        <button
          key={m.frame}
          type="button"
          role="listitem"
          tabIndex={-1}
          data-matte-mark={m.kind}
          aria-label={`Frame ${m.frame}, ${MARK_TEXT[m.kind]}${m.settled ? ', locked' : ''}`}
          onClick={() => onFrame(m.frame)}
          className="absolute top-[2px] border-r border-sheet"
          style={{ left: x(m.frame), width: cell, height: picture }}
        >
          <span className="block overflow-hidden">
            <Thumb drawing={drawingAt(m.frame)} width={cell} height={picture} />
          </span>
          <span className={`absolute bottom-[3px] left-[4px] block outline-[1.5px] outline-sheet outline-solid ${LOOK[m.kind]}`} />
          {m.settled && <span className="absolute inset-x-0 -bottom-[3px] block h-[2px] bg-ink" />}
        </button>
      ))}
    </div>
  );
}
