'use client';
import type { Colour } from '../../core/film/composition';

const hex = (v: number): string =>
  Math.max(0, Math.min(255, Math.round(v)))
    .toString(16)
    .padStart(2, '0');
const colourOf = (text: string): Colour => {
  const at = (i: number): number => Number.parseInt(text.slice(i, i + 2), 16);
  return [at(1), at(3), at(5)];
};

interface ColourProps {
  readonly label: string;
  readonly value: Colour;
  readonly onChange: (value: Colour) => void;
}

/** A colour, chosen from the system's own picker. */
export const ColourField = ({ label, value, onChange }: ColourProps) => (
  <input
    type="color"
    aria-label={label}
    className="h-6 w-12 cursor-pointer rounded-[4px] border border-rule bg-sheet"
    value={`#${value.map(hex).join('')}`}
    onChange={(e) => onChange(colourOf(e.target.value))}
  />
);

/** A label and a colour. */
export const ColourRow = (props: ColourProps) => (
  <label className="flex items-center justify-between gap-2">
    {props.label}
    <ColourField {...props} />
  </label>
);
