'use client';
import { useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { usePreference } from '../store/preferences';

interface RoomLayoutProps {
  /** Keeps the pane sizes of this room apart from the other's. */
  readonly name: string;
  readonly top: ReactNode;
  readonly leftLabel: string;
  readonly left: ReactNode;
  readonly stage: ReactNode;
  readonly rightLabel: string;
  readonly right: ReactNode;
  readonly barLeft: ReactNode;
  readonly bar: ReactNode;
  readonly barRight: ReactNode;
  readonly bottomLabel: string;
  readonly bottom: ReactNode;
  readonly bottomHeight: number;
  /** The bottom pane holds more than usual: it has another height, remembered apart. */
  readonly isTall?: boolean;
}

interface Pane {
  readonly size: number;
  readonly divider: ReactNode;
}

const STEP = 16;
/** Height of a bottom pane that holds more than usual, at first. */
const TALL = 300;

/** A pane's size in pixels, remembered, and the divider that changes it; `sign` is +1 where dragging right or down grows it. */
function usePane(name: string, label: string, fallback: number, min: number, max: number, axis: 'x' | 'y', sign: 1 | -1): Pane {
  const [stored, store] = usePreference(`pane:${name}`, fallback);
  const [drag, setDrag] = useState<{ at: number; from: number; size: number } | null>(null);
  const clamp = (size: number): number => Math.max(min, Math.min(max, size));
  const size = clamp(drag?.size ?? stored);
  const at = (event: PointerEvent): number => (axis === 'x' ? event.clientX : event.clientY);
  const end = (): void => {
    if (drag !== null) store(size);
    setDrag(null);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const grow = axis === 'x' ? { ArrowLeft: -1, ArrowRight: 1 }[event.key] : { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (grow === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    store(clamp(size + sign * grow * STEP));
  };
  const place =
    axis === 'x'
      ? `inset-y-0 w-[7px] cursor-col-resize ${sign === 1 ? '-right-[3px]' : '-left-[3px]'}`
      : 'inset-x-0 -top-[3px] h-[7px] cursor-row-resize';
  const divider = (
    <div
      role="separator"
      tabIndex={0}
      aria-label={label}
      aria-orientation={axis === 'x' ? 'vertical' : 'horizontal'}
      aria-valuenow={size}
      aria-valuemin={min}
      aria-valuemax={max}
      className={`absolute z-30 touch-none hover:bg-seam/40 ${place}`}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrag({ at: at(e), from: size, size });
      }}
      onPointerMove={(e) => drag !== null && setDrag({ ...drag, size: clamp(drag.from + sign * (at(e) - drag.at)) })}
      onPointerUp={end}
      onPointerCancel={end}
      onDoubleClick={() => store(fallback)}
      onKeyDown={onKeyDown}
    />
  );
  return { size, divider };
}

/** The frame both rooms share: panes around the stage, the transport under it, the frames along the bottom. Panes resize and remember. */
export function RoomLayout(props: RoomLayoutProps) {
  const { name, top, left, stage, right, barLeft, bar, barRight, bottom, bottomHeight, isTall = false } = props;
  const leftPane = usePane(`${name}-left`, 'Width of the left pane', 212, 160, 420, 'x', 1);
  const rightPane = usePane(`${name}-right`, 'Width of the right pane', 268, 220, 480, 'x', -1);
  const usualBottom = usePane(`${name}-bottom`, 'Height of the bottom pane', bottomHeight, 96, 620, 'y', -1);
  const tallBottom = usePane(`${name}-tall-bottom`, 'Height of the bottom pane', TALL, 96, 620, 'y', -1);
  const bottomPane = isTall ? tallBottom : usualBottom;
  const columns = { gridTemplateColumns: `${leftPane.size}px minmax(0, 1fr) ${rightPane.size}px` };
  return (
    <div className="flex h-screen flex-col">
      {top}
      <div className="grid min-h-0 grow grid-rows-[minmax(0,1fr)]" style={columns}>
        <aside aria-label={props.leftLabel} className="relative min-h-0 min-w-0">
          {left}
          {leftPane.divider}
        </aside>
        <main className="min-h-0 min-w-0">{stage}</main>
        <aside aria-label={props.rightLabel} className="relative min-h-0 min-w-0">
          <div className="h-full overflow-y-auto border-l border-rule bg-sheet/60">{right}</div>
          {rightPane.divider}
        </aside>
      </div>
      <section aria-label="Transport" className="grid h-[34px] shrink-0 border-y border-rule bg-sheet" style={columns}>
        {barLeft}
        {bar}
        {barRight}
      </section>
      <section aria-label={props.bottomLabel} className="relative shrink-0" style={{ height: bottomPane.size }}>
        {bottom}
        {bottomPane.divider}
      </section>
    </div>
  );
}
