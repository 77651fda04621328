'use client';
import { Pencil } from 'lucide-react';
import type { ShotSide } from '../../../core/film/composition';
import type { ArriveSettings } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { ARRIVE_FIELDS, layArrive, setArriveSettings, SHORTEST_ARRIVAL } from '../../../core/recipes/arrive';
import { IconButton } from '../../parts/button';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { FieldRow } from './field-row';
import { ByHandNote, OverRow } from './recipe-rows';

const LONGEST_ARRIVAL = 500;

interface ArriveProps {
  readonly placed: PlacedJoin;
  readonly settings: ArriveSettings;
  readonly onOpen: (matteId: string, side: ShotSide) => void;
}

/** What of the entering shot arrives, from where, and how the rest of it follows. */
export function ArriveSection({ placed, settings, onOpen }: ArriveProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { join, entering } = placed;
  const { matteId } = settings;
  const change = (title: string, part: Partial<ArriveSettings>): void =>
    store.edit(`Arrive: ${title}`, (d) => setArriveSettings(d, media, join.id, part));
  const mattes = film.mattes.filter((m) => m.mediumId === entering.mediumId);
  return (
    <Section title="Arrive" name="Recipe">
      <div className="flex items-center gap-1">
        <div className="min-w-0 grow">
          <SelectRow
            label="What arrives"
            value={matteId ?? ''}
            options={[...(matteId === null ? [{ value: '', text: 'choose…' }] : []), ...mattes.map((m) => ({ value: m.id, text: m.name }))]}
            onChange={(id) => change('what arrives', { matteId: id === '' ? null : id })}
          />
        </div>
        {matteId !== null && (
          <IconButton label={`Paint it in ${entering.name}`} onClick={() => onOpen(matteId, 'entering')}>
            <Pencil size={12} />
          </IconButton>
        )}
      </div>
      <OverRow join={join} name="Arrival" least={SHORTEST_ARRIVAL} most={LONGEST_ARRIVAL} lay={(d, id) => layArrive(d, media, id)} />
      {ARRIVE_FIELDS.filter((f) => f.when?.(settings) ?? true).map((field) => (
        <FieldRow key={field.name} field={field} settings={settings} onChange={(part) => change(field.label.toLowerCase(), part)} />
      ))}
      <p>
        It stands in its place from {placed.from + settings.arrivesIn} on; the rest of {entering.name} is there{' '}
        {settings.ground === 'cuts' ? `from ${placed.cut} on` : `by ${Math.max(placed.from, placed.to - 1)}`}.
      </p>
      <ByHandNote join={join} name="arrival" onAnew={(d) => layArrive(d, media, join.id)} />
    </Section>
  );
}
