'use client';
import { useEffect, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import type { MatchMap } from '../../../core/pair/match-map';

interface MapCanvasProps {
  readonly map: MatchMap;
  readonly scores: Float32Array;
  readonly marks: readonly { readonly row: number; readonly column: number }[];
  /** The cut as it is; may lie beyond the map. */
  readonly now: { readonly row: number; readonly column: number };
  readonly rowText: (row: number) => string;
  readonly columnText: (column: number) => string;
  readonly onChoose: (row: number, column: number) => void;
}

/** CSS pixels. */
const SIDE = 236;

/** Frames of the leaving shot from the top down, of the entering one from left to right: the darker, the better they go together. */
export function MapCanvas({ map, scores, marks, now, rowText, columnText, onChoose }: MapCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { rows, columns } = map;
  const [at, setAt] = useState<{ row: number; column: number } | null>(null);
  useEffect(() => {
    const target = canvas.current!;
    Object.assign(target, { width: columns, height: rows });
    const context = target.getContext('2d')!;
    const picture = context.createImageData(columns, rows);
    let [least, most] = [Infinity, -Infinity];
    for (const v of scores) [least, most] = [Math.min(least, v), Math.max(most, v)];
    for (let i = 0; i < scores.length; i++) {
      // what is good stands out: most pairs are not
      const share = most > least ? ((scores[i]! - least) / (most - least)) ** 2 : 0;
      // from paper to aubergine
      picture.data.set([236 - share * (236 - 91), 233 - share * (233 - 58), 226 - share * (226 - 107), 255], 4 * i);
    }
    context.putImageData(picture, 0, 0);
    target.dataset.drawn = 'yes';
  }, [scores, rows, columns]);
  const cellAt = (event: MouseEvent): { row: number; column: number } => {
    const box = event.currentTarget.getBoundingClientRect();
    const place = (share: number, count: number): number => Math.max(0, Math.min(count - 1, Math.floor(share * count)));
    return {
      row: place((event.clientY - box.top) / box.height, rows),
      column: place((event.clientX - box.left) / box.width, columns),
    };
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    const here = at ?? marks[0] ?? { row: 0, column: 0 };
    if (event.key === 'Enter') onChoose(here.row, here.column);
    else if (by !== undefined)
      setAt({
        row: Math.max(0, Math.min(rows - 1, here.row + by[0]!)),
        column: Math.max(0, Math.min(columns - 1, here.column + by[1]!)),
      });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const place = (row: number, column: number): { left: string; top: string } => ({
    left: `${(100 * (column + 0.5)) / columns}%`,
    top: `${(100 * (row + 0.5)) / rows}%`,
  });
  const isInside = now.row >= 0 && now.row < rows && now.column >= 0 && now.column < columns;
  return (
    <div className="flex flex-col gap-1">
      <div
        role="application"
        aria-label="Match map: arrows move, Enter cuts there"
        tabIndex={0}
        className="relative cursor-crosshair touch-none border border-rule"
        style={{ width: '100%', maxWidth: SIDE, height: Math.min(SIDE, Math.round((SIDE * rows) / columns)) }}
        onPointerMove={(event) => setAt(cellAt(event))}
        onPointerLeave={() => setAt(null)}
        onClick={(event) => {
          const { row, column } = cellAt(event);
          onChoose(row, column);
        }}
        onKeyDown={onKeyDown}
      >
        <canvas ref={canvas} data-match-map className="size-full [image-rendering:pixelated]" />
        {marks.map(({ row, column }, i) => (
          <span
            key={`${row} ${column}`}
            className="pointer-events-none absolute flex size-3.5 -translate-1/2 items-center justify-center rounded-full border border-ink bg-sheet font-mono text-[9px]"
            style={place(row, column)}
          >
            {i + 1}
          </span>
        ))}
        {isInside && (
          <span
            className="pointer-events-none absolute size-2.5 -translate-1/2 rotate-45 border-2 border-heed"
            style={place(now.row, now.column)}
          />
        )}
        {at !== null && (
          <>
            <span className="pointer-events-none absolute inset-x-0 h-px bg-ink/60" style={{ top: place(at.row, 0).top }} />
            <span className="pointer-events-none absolute inset-y-0 w-px bg-ink/60" style={{ left: place(0, at.column).left }} />
          </>
        )}
      </div>
      <p className="h-4 truncate font-mono text-[10.5px] text-soft">
        {at === null
          ? '↓ leaving  → entering, a click cuts'
          : `${rowText(at.row)} · ${columnText(at.column)} · ${Math.round(100 * scores[at.row * columns + at.column]!)} %`}
      </p>
    </div>
  );
}
