'use client';
import { kindOf } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { ContextMenu } from '../commands/context-menu';
import { useJoinMenu } from './join-menu';
import { toggleJoin, useReelChoice } from '../store/reel-choice';
import { SHOT_HEIGHT, SHOT_TOP } from './reel-scale';

const MOST_NAME_WIDTH = 170;
const NAME_GAP = 8;

interface KnotProps {
  readonly placed: PlacedJoin;
  readonly x: (frame: number) => number;
  readonly onOpen: () => void;
}

/** A join: the span of its overlap as a band under the shots and a knot to open it by. */
export function Knot({ placed, x, onOpen }: KnotProps) {
  const actions = useJoinMenu(placed, onOpen);
  const isChosen = useReelChoice((s) => s.joins.has(placed.join.id));
  const made = kindOf(placed.join) !== 'cut' || placed.to > placed.from;
  // the name has room up to halfway to its neighbours
  const room = Math.min(MOST_NAME_WIDTH, x(placed.leaving.length) - x(0), x(placed.entering.length) - x(0)) - NAME_GAP;
  return (
    <>
      {placed.to > placed.from && (
        <span
          className="pointer-events-none absolute z-10 border-x border-seam bg-seam/30"
          style={{ left: x(placed.from), width: x(placed.to) - x(placed.from), top: SHOT_TOP, height: SHOT_HEIGHT }}
        />
      )}
      <ContextMenu label={`Join ${placed.join.name}`} actions={actions}>
        <button
          type="button"
          onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? toggleJoin(placed.join.id) : onOpen())}
          onPointerDown={(e) => e.stopPropagation()}
          aria-label={`Open join ${placed.join.name}`}
          title={`Open “${placed.join.name}” on the bench; Shift adds it to the selection`}
          className="group absolute z-20 flex -translate-x-1/2 flex-col items-center"
          style={{ left: x(placed.cut), top: SHOT_TOP + SHOT_HEIGHT - 9 }}
        >
          <span
            className={`block size-[17px] rounded-full border-2 border-seam group-hover:scale-110 ${made ? 'bg-seam' : 'bg-sheet'} ${isChosen ? 'outline-2 outline-offset-2 outline-ink outline-solid' : ''}`}
          >
            <svg viewBox="0 0 13 14" className={made ? 'stroke-sheet' : 'stroke-seam'} fill="none" strokeWidth="1.6" aria-hidden>
              <path d="M2.500 5.300h5.500M5 8.700h5.500" />
            </svg>
          </span>
          <span className="mt-0.5 truncate text-[11px] group-hover:underline" style={{ maxWidth: room }}>
            {placed.join.name}
          </span>
        </button>
      </ContextMenu>
    </>
  );
}
