'use client';
import type { DissolveSettings } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { DISSOLVE_FIELDS, layDissolve, setDissolveSettings, SHORTEST_DISSOLVE } from '../../../core/recipes/dissolve';
import { setMeltLength } from '../../../core/recipes/melt';
import { isChangedByHand } from '../../../core/recipes/recipe';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { FieldRow } from '../move/field-row';

/** How long a dissolve takes, and by which ease; its curve is the opacity of the upper layer. */
export function DissolveSection({ placed, settings }: { readonly placed: PlacedJoin; readonly settings: DissolveSettings }) {
  const { store } = useTools();
  const { media } = useFilm('media');
  const { join } = placed;
  const byHand = isChangedByHand(join);
  return (
    <Section title="Dissolve" name="Recipe">
      <NumberRow
        label="Over"
        unit="fr"
        min={SHORTEST_DISSOLVE}
        max={1000}
        value={join.before + join.after}
        onCommit={(length) =>
          store.edit(`Dissolve over ${length} frames`, (d) => {
            setMeltLength(d, media, join.id, length);
            if (!byHand) layDissolve(d, join.id);
          })
        }
      />
      {DISSOLVE_FIELDS.map((field) => (
        <FieldRow
          key={field.name}
          field={field}
          settings={settings}
          onChange={(part) => store.edit(`Dissolve: ${field.label.toLowerCase()}`, (d) => setDissolveSettings(d, join.id, part))}
        />
      ))}
      {byHand && (
        <Note tone="heed">
          <p>Something that this recipe made was changed by hand. It stays so until you have it made anew.</p>
          <div className="mt-1.5">
            <Button onClick={() => store.edit('Made the dissolve anew', (d) => layDissolve(d, join.id))}>Make it anew</Button>
          </div>
        </Note>
      )}
    </Section>
  );
}
