'use client';
import type { Matte } from '../../../core/film/film';
import { setTidying } from '../../../core/film/edits/mattes';
import { UNTIDIED, type Tidying } from '../../../core/matte/coverage/tidy';
import { SliderRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useTools } from '../../store/film-context';
import type { PreviewChange } from '../../store/preview';

const PARTS: readonly { readonly part: keyof Tidying; readonly label: string; readonly name: string; readonly max: number }[] = [
  { part: 'smoothPx', label: 'Smooth', name: 'Smoothed the matte', max: 40 },
  { part: 'holesPx', label: 'Fill holes', name: 'Filled holes of the matte', max: 200 },
  { part: 'specksPx', label: 'Drop specks', name: 'Dropped specks of the matte', max: 200 },
];

/** What is smoothed, filled and dropped on every frame of a painted or keyed matte. */
export function TidySection({ matte, onPreview }: { readonly matte: Matte; readonly onPreview: (change: PreviewChange) => void }) {
  const { store } = useTools();
  const tidying = matte.tidying ?? UNTIDIED;
  const set =
    (change: Partial<Tidying>): PreviewChange =>
    (d) =>
      setTidying(d, matte.id, change);
  return (
    <Section title="Tidy" startsFolded>
      {PARTS.map(({ part, label, name, max }) => (
        <SliderRow
          key={part}
          label={label}
          unit="px"
          min={0}
          max={max}
          value={tidying[part]}
          onPreview={(v) => onPreview(set({ [part]: v }))}
          onCommit={(v) => store.edit(name, set({ [part]: v }))}
        />
      ))}
    </Section>
  );
}
