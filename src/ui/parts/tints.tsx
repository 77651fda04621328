'use client';
import { TINTS, type Tint } from '../../core/film/tint';

/** How the colours of shots and markers look, in both themes. */
export const TINT_COLOUR: Readonly<Record<Tint, string>> = {
  clay: '#b5573f',
  moss: '#5d7a3a',
  sea: '#2f7f86',
  plum: '#7d4f86',
  sand: '#b08a3c',
  slate: '#5b6b7d',
};

/** One of the colours, or none. */
export function TintPicker({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: Tint | undefined;
  readonly onChange: (tint: Tint | null) => void;
}) {
  return (
    <span role="group" aria-label={label} className="flex items-center gap-1">
      {TINTS.map((tint) => (
        <button
          key={tint}
          type="button"
          aria-label={tint}
          title={tint}
          aria-pressed={value === tint}
          className={`size-3.5 rounded-full ${value === tint ? 'outline-2 outline-offset-1 outline-ink' : ''}`}
          style={{ background: TINT_COLOUR[tint] }}
          onClick={() => onChange(value === tint ? null : tint)}
        />
      ))}
    </span>
  );
}
