import { CELL, ROW, RULER } from './weave-sizes';

/** A stored frame of the matte that is being worked on. */
export interface MatteMark {
  /** Film frame. */
  readonly frame: number;
  readonly kind: 'hand' | 'carried' | 'doubt';
  readonly settled: boolean;
}

const MARK_TEXT = { hand: 'by hand', carried: 'carried', doubt: 'carried, in doubt' } as const;

/** One mark a stored frame: filled where a hand painted, a ring where it was carried, a lozenge where that is in doubt; a bar under settled ones. */
export function MatteMarks({
  marks,
  x,
  onFrame,
}: {
  readonly marks: readonly MatteMark[];
  readonly x: (frame: number) => number;
  readonly onFrame: (frame: number) => void;
}) {
  const look = {
    hand: 'size-[10px] rounded-full bg-ink',
    carried: 'size-[7px] rounded-full border-[1.5px] border-soft',
    doubt: 'size-[8px] rotate-45 bg-heed',
  };
  return (
    <div role="list" aria-label="Frames of the matte" className="absolute" style={{ top: RULER + 3 * ROW }}>
      {marks.map((m) => (
        <button
          key={m.frame}
          type="button"
          role="listitem"
          tabIndex={-1}
          data-matte-mark={m.kind}
          aria-label={`Frame ${m.frame}, ${MARK_TEXT[m.kind]}${m.settled ? ', settled' : ''}`}
          onClick={() => onFrame(m.frame)}
          className="absolute flex h-6 items-center justify-center"
          style={{ left: x(m.frame), width: CELL }}
        >
          <span className={`block ${look[m.kind]}`} />
          {m.settled && <span className="absolute bottom-[2px] block h-[2px] w-4 bg-ink" />}
        </button>
      ))}
    </div>
  );
}
