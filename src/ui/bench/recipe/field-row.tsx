'use client';
import type { Colour } from '../../../core/film/composition';
import type { Field } from '../../../core/recipes/kind';
import { ColourRow } from '../../parts/colour-row';
import { NumberRow } from '../../parts/number-field';
import { Segmented } from '../../parts/segmented';
import { SelectRow, SwitchRow } from '../../parts/select-row';

/** Fields that need nothing of the film to be set. */
export type PlainField<S> = Extract<Field<S>, { readonly kind: 'choice' | 'switch' | 'number' | 'colour' }>;

export const isPlain = <S,>(field: Field<S>): field is PlainField<S> => ['choice', 'switch', 'number', 'colour'].includes(field.kind);

/** One setting of a recipe, as its kind is set. */
export function FieldRow<S>({
  field,
  settings,
  onChange,
}: {
  readonly field: PlainField<S>;
  readonly settings: S;
  readonly onChange: (part: Partial<S>) => void;
}) {
  const value = settings[field.name];
  const set = (next: unknown): void => onChange({ [field.name]: next } as Partial<S>);
  if (field.kind === 'switch') return <SwitchRow label={field.label} value={value as boolean} onChange={set} />;
  if (field.kind === 'colour') return <ColourRow label={field.label} value={value as Colour} onChange={set} />;
  if (field.kind === 'number') {
    const { factor = 1 } = field;
    return (
      <NumberRow
        label={field.label}
        unit={field.unit}
        min={field.min}
        max={field.max}
        step={field.step}
        value={((value as number | undefined) ?? 0) * factor}
        onCommit={(v) => set(v / factor)}
      />
    );
  }
  const options = field.options.map((o) => ({ value: String(o), text: String(o) }));
  if (options.length > 3 || options.some((o) => o.text.length > 7))
    return <SelectRow label={field.label} value={String(value)} options={options} onChange={set} />;
  return (
    <div className="flex items-center justify-between gap-2">
      <span className="shrink-0">{field.label}</span>
      <Segmented label={field.label} options={options} value={String(value)} onChange={set} />
    </div>
  );
}
