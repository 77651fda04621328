'use client';
import { Slider } from 'radix-ui';
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { evaluateSum } from '../../core/motion/sum';

interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly min?: number;
  readonly max?: number;
  readonly step?: number;
  readonly disabled?: boolean;
  /** While dragging. */
  readonly onPreview?: (value: number) => void;
  readonly onCommit: (value: number) => void;
}

const rounded = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(6));

/** A number to type (sums too), step with the arrows (Shift: ten steps) or drag sideways by its unit. */
export function NumberField({
  label,
  value,
  unit = '',
  min = -1e6,
  max = 1e6,
  step = 1,
  disabled = false,
  onPreview,
  onCommit,
}: NumberFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const drag = useRef<{ x: number; from: number; value: number } | null>(null);
  const clamp = (v: number): number => Math.max(min, Math.min(max, rounded(v, step)));
  const givenUp = useRef(false);
  const commit = (): void => {
    const typed = draft === null || givenUp.current ? null : evaluateSum(draft);
    givenUp.current = false;
    setDraft(null);
    if (typed !== null && clamp(typed) !== value) onCommit(clamp(typed));
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    // leaving the field stores what was typed, and gives the keys back to the page
    if (event.key === 'Enter') event.currentTarget.blur();
    else if (event.key === 'Escape') {
      givenUp.current = true;
      event.currentTarget.blur();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const next = clamp(value + (event.key === 'ArrowUp' ? 1 : -1) * step * (event.shiftKey ? 10 : 1));
      setDraft(null);
      if (next !== value) onCommit(next);
    } else if (event.key !== 'Tab') event.stopPropagation();
  };
  const onPointerMove = (event: PointerEvent): void => {
    if (drag.current === null) return;
    drag.current.value = clamp(drag.current.from + Math.round((event.clientX - drag.current.x) / 3) * step);
    onPreview?.(drag.current.value);
    setDraft(String(drag.current.value));
  };
  const endDrag = (): void => {
    const moved = drag.current;
    drag.current = null;
    if (moved === null) return;
    setDraft(null);
    if (moved.value !== moved.from) onCommit(moved.value);
  };
  return (
    <span className={`flex h-6 w-[76px] shrink-0 items-center rounded-[4px] border border-rule bg-sheet ${disabled ? 'opacity-45' : ''}`}>
      <input
        aria-label={label}
        disabled={disabled}
        className="w-full min-w-0 bg-transparent pl-1.5 font-mono text-[11.5px] outline-offset-2"
        value={draft ?? String(rounded(value, step))}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={commit}
        onFocus={(e) => e.target.select()}
        onKeyDown={onKeyDown}
      />
      <span
        className="min-w-4 cursor-ew-resize px-1 text-right font-mono text-[10.5px] text-soft select-none"
        aria-hidden
        onPointerDown={(e) => {
          if (disabled) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, from: value, value };
        }}
        onPointerMove={onPointerMove}
        onPointerUp={endDrag}
        onPointerCancel={endDrag}
      >
        {unit === '' ? '↔' : unit}
      </span>
    </span>
  );
}

/** A label with its number field on one line. */
export function NumberRow(props: NumberFieldProps) {
  return (
    <div className="flex items-center justify-between gap-2">
      <span aria-hidden>{props.label}</span>
      <NumberField {...props} />
    </div>
  );
}

/** A label, a slider and its number field. */
export function SliderRow(props: NumberFieldProps & { readonly min: number; readonly max: number }) {
  const { label, value, min, max, step = 1, disabled = false, onPreview, onCommit } = props;
  const id = useId();
  const [live, setLive] = useState<number | null>(null);
  return (
    <div className="flex items-center gap-3">
      <span id={id} className="w-[58px] shrink-0">
        {label}
      </span>
      <Slider.Root
        className="relative flex h-5 min-w-0 grow touch-none items-center"
        min={min}
        max={max}
        step={step}
        disabled={disabled}
        value={[Math.max(min, Math.min(max, live ?? value))]}
        onValueChange={([v = 0]) => {
          setLive(v);
          onPreview?.(v);
        }}
        onValueCommit={([v = 0]) => {
          setLive(null);
          if (v !== value) onCommit(v);
        }}
      >
        <Slider.Track className="relative h-[2px] grow bg-rule">
          <Slider.Range className="absolute h-full bg-ink" />
        </Slider.Track>
        <Slider.Thumb aria-labelledby={id} className="block size-3.5 rounded-full border-[1.5px] border-ink bg-sheet" />
      </Slider.Root>
      <NumberField {...props} value={live ?? value} />
    </div>
  );
}
