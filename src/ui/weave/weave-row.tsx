import type { ReactNode } from 'react';
import type { DragHandlers } from './horizontal-drag';
import { useSizes } from './weave-sizes';

export function RowLabel({
  corner,
  name,
  note,
  tinted = false,
}: {
  readonly corner: ReactNode;
  readonly name: string;
  readonly note: string;
  readonly tinted?: boolean;
}) {
  const { row } = useSizes();
  return (
    <div className={`flex items-center gap-2 px-3.5 ${tinted ? 'bg-seam/10' : ''}`} style={{ height: row }}>
      <svg viewBox="0 0 11 11" className="size-[11px] shrink-0" aria-hidden>
        {corner}
      </svg>
      <span className="min-w-0 grow truncate font-semibold">{name}</span>
      <span className={`shrink-0 font-mono text-[10.5px] ${note.endsWith('missing') ? 'text-fault' : 'text-soft'}`}>{note}</span>
    </div>
  );
}

export function Row({
  top,
  label,
  tinted = false,
  drag,
  children,
}: {
  readonly top: number;
  readonly label: string;
  readonly tinted?: boolean;
  readonly drag?: DragHandlers;
  readonly children: ReactNode;
}) {
  const { row } = useSizes();
  const { justDragged: _, ...handlers } = drag ?? { justDragged: null };
  return (
    <div
      role="group"
      aria-label={label}
      className={`absolute inset-x-0 ${tinted ? 'bg-seam/10' : ''} ${drag === undefined ? '' : 'cursor-grab touch-none active:cursor-grabbing'}`}
      style={{ top, height: row }}
      {...handlers}
    >
      {children}
    </div>
  );
}

interface CellProps {
  readonly left: number;
  readonly current: boolean;
  readonly marked?: boolean;
  /** Its row can be dragged. */
  readonly slips?: boolean;
  readonly label: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

export function Cell({ left, current, marked = false, slips = false, label, onClick, children }: CellProps) {
  const { cell, picture } = useSizes();
  const ring = !current ? '' : marked ? 'z-10 outline-2 outline-ink outline-solid' : 'z-10 outline-1 outline-ink/60 outline-solid';
  return (
    <button
      type="button"
      // one cell a row is reached by Tab; the arrows take the focus along with the playhead
      tabIndex={current ? 0 : -1}
      data-weave-cell={current ? 'current' : ''}
      aria-label={label}
      aria-current={current ? 'true' : undefined}
      onClick={onClick}
      className={`absolute top-[2px] overflow-hidden border-r border-sheet ${slips ? 'cursor-grab' : ''} ${ring}`}
      style={{ left, width: cell, height: picture }}
    >
      {children}
    </button>
  );
}
