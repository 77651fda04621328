'use client';
import type { DissolveSettings } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { DISSOLVE_FIELDS, layDissolve, setDissolveSettings, SHORTEST_DISSOLVE } from '../../../core/recipes/dissolve';
import { Section } from '../../parts/section';
import { useTools } from '../../store/film-context';
import { FieldRow } from '../move/field-row';
import { ByHandNote, OverRow } from '../move/recipe-rows';

/** How long a dissolve takes, and by which ease; its curve is the opacity of the upper layer. */
export function DissolveSection({ placed, settings }: { readonly placed: PlacedJoin; readonly settings: DissolveSettings }) {
  const { store } = useTools();
  const { join } = placed;
  return (
    <Section title="Dissolve" name="Recipe">
      <OverRow join={join} name="Dissolve" least={SHORTEST_DISSOLVE} most={1000} lay={layDissolve} />
      {DISSOLVE_FIELDS.map((field) => (
        <FieldRow
          key={field.name}
          field={field}
          settings={settings}
          onChange={(part) => store.edit(`Dissolve: ${field.label.toLowerCase()}`, (d) => setDissolveSettings(d, join.id, part))}
        />
      ))}
      <ByHandNote join={join} name="dissolve" onAnew={(d) => layDissolve(d, join.id)} />
    </Section>
  );
}
