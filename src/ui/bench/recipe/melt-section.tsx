'use client';
import type { MeltSettings } from '../../../core/film/recipe-settings';
import { handlesOf, mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { layJoin, makeKind, setSettings } from '../../../core/recipes/making';
import { cutsOfTake, melt } from '../../../core/recipes/melt/melt';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { FieldRow, isPlain } from './field-row';
import { ByHandNote, OverRow } from './recipe-rows';
import { RollStrip } from './roll-strip';

/** How long a melt takes, what of the picture melts, and where the cut lies best. */
export function MeltSection({ placed, settings }: { readonly placed: PlacedJoin; readonly settings: MeltSettings }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { join, leaving, entering } = placed;
  const change = (title: string, part: Partial<MeltSettings>): void =>
    store.edit(`Melt: ${title}`, (d) => setSettings(d, media, join.id, 'melt', part));
  const mattes = film.mattes.filter(
    (m) => (m.mediumId === leaving.mediumId || m.mediumId === entering.mediumId) && m.ownerId === undefined,
  );
  const others = cutsOfTake(film, placed).filter((p) => p.join.id !== join.id);
  const [afterMedium, beforeMedium] = [mediumOf(media, leaving), mediumOf(media, entering)];
  const after = afterMedium === null ? 0 : handlesOf(film, leaving, afterMedium).after;
  const before = beforeMedium === null ? 0 : handlesOf(film, entering, beforeMedium).before;
  const held = Math.max(0, join.after - after) + Math.max(0, join.before - before);
  return (
    <Section title="Melt" name="Recipe">
      <OverRow join={join} kind="melt" />
      {melt.fields.filter(isPlain).map((field) => (
        <FieldRow key={field.name} field={field} settings={settings} onChange={(part) => change(field.label.toLowerCase(), part)} />
      ))}
      {mattes.length > 0 && (
        <SelectRow
          label="Melts"
          value={settings.matteId ?? ''}
          options={[{ value: '', text: 'all of the picture' }, ...mattes.map((m) => ({ value: m.id, text: `only ${m.name}` }))]}
          onChange={(id) => change('what melts', { matteId: id === '' ? null : id })}
        />
      )}
      {held > 0 && (
        <Note tone="heed">{held} frames of it show a still picture because the media ends before. A shorter melt needs fewer handles.</Note>
      )}
      <RollStrip placed={placed} />
      {others.length > 0 && (
        <Button
          onClick={() =>
            store.edit(`Melted ${others.length} cuts of ${leaving.name}`, (d) => {
              for (const p of others) makeKind(d, media, p.join.id, 'melt', settings, { length: join.before + join.after });
            })
          }
        >
          Melt {others.length === 1 ? 'the other cut' : `all ${others.length} other cuts`} of this take
        </Button>
      )}
      <ByHandNote join={join} name="melt" onAnew={(d) => layJoin(d, media, join.id)} />
    </Section>
  );
}
