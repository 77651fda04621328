'use client';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { setMatteUse } from '../../../core/film/edits/layers';
import type { Film, Matte } from '../../../core/film/film';
import { sideOf, type Combining, type Layer, type MatteUse, type Side } from '../../../core/film/composition';
import { addMatteUse, duplicateMatte, moveMatteUse, removeMatte, renameMatte, stopUsingMatte } from '../../../core/film/edits/mattes';
import type { PlacedJoin } from '../../../core/film/timing';
import { Button, IconButton } from '../../parts/button';
import { SliderRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SwitchRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import type { PreviewChange } from '../../store/preview';
import { newId } from '../../store/new-id';

type UseChoice = 'none' | Side;

const TEXT: Record<UseChoice, string> = { none: 'not used', inside: 'Inside', outside: 'Outside' };
const COMBINING: Record<Combining, string> = { intersect: 'and', add: 'plus', subtract: 'minus' };

/** Which layers of the join use the matte, how it joins the layer's other mattes and how its edge is drawn; its name, copies, removal. */
export function MatteUseSection({
  placed,
  matte,
  onPreview,
}: {
  readonly placed: PlacedJoin;
  readonly matte: Matte;
  readonly onPreview: (change: PreviewChange) => void;
}) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const { join } = placed;
  const choose = (layerId: string, name: string, now: UseChoice, next: UseChoice): void => {
    if (now === next) return;
    store.edit(next === 'none' ? `${name} no longer uses ${matte.name}` : `${name} ${TEXT[next]} of ${matte.name}`, (d) => {
      if (next === 'none') stopUsingMatte(d, join.id, layerId, matte.id);
      else if (now === 'none') addMatteUse(d, join.id, layerId, matte.id, next);
      else setMatteUse(d, join.id, layerId, matte.id, { side: next });
    });
  };
  return (
    <Section title="Used by">
      {join.layers.map((layer) => {
        const use = layer.mattes.find((u) => u.matteId === matte.id);
        const now: UseChoice = use?.side ?? 'none';
        return (
          <div key={layer.id} className="space-y-1.5">
            <label className="flex items-center justify-between gap-2">
              <span className="truncate">{layer.name}</span>
              <select
                aria-label={`How ${layer.name} uses the matte`}
                className="rounded-[4px] border border-rule bg-sheet px-1.5 py-0.5"
                value={now}
                onChange={(e) => choose(layer.id, layer.name, now, e.target.value as UseChoice)}
              >
                {(['none', 'inside', 'outside'] as const).map((v) => (
                  <option key={v} value={v}>
                    {TEXT[v]}
                  </option>
                ))}
              </select>
            </label>
            {use !== undefined && mediumOfLayer(placed, layer) !== matte.mediumId && (
              <SwitchRow
                label="Moves with the layer"
                value={use.ridesAlong === true}
                onChange={(ridesAlong) =>
                  store.edit(ridesAlong ? `${matte.name} moves with ${layer.name}` : `${matte.name} stands with its own shot`, (d) =>
                    setMatteUse(d, join.id, layer.id, matte.id, { ridesAlong }),
                  )
                }
              />
            )}
            {use !== undefined && layer.mattes.length > 1 && <Combination film={film} joinId={join.id} layer={layer} />}
            {use !== undefined && <EdgeSliders joinId={join.id} layer={layer} use={use} onPreview={onPreview} />}
          </div>
        );
      })}
      <input
        aria-label="Name of the matte"
        className="w-full rounded-[4px] border border-rule bg-sheet px-1.5 py-1"
        defaultValue={matte.name}
        key={matte.name}
        maxLength={100}
        onBlur={(e) => {
          const name = e.target.value.trim();
          if (name !== '' && name !== matte.name) store.edit(`Named the matte ${name}`, (d) => renameMatte(d, matte.id, name));
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      <div className="flex gap-1.5">
        <Button
          onClick={() => {
            let copy = '';
            store.edit(`Copied ${matte.name}`, (d) => {
              copy = duplicateMatte(d, matte.id, newId);
            });
            if (matte.painted !== undefined) void store.askWhenSaved(`mattes/${matte.id}`, { do: 'copy', to: copy });
          }}
        >
          Duplicate
        </Button>
        <Button onClick={() => store.edit(`Removed ${matte.name}`, (d) => removeMatte(d, matte.id))}>Remove</Button>
      </div>
    </Section>
  );
}

/** The medium whose picture a layer shows; null for one without. */
function mediumOfLayer(placed: PlacedJoin, layer: Layer): string | null {
  if (layer.source.kind === 'medium') return layer.source.mediumId;
  const side = sideOf(layer);
  return side === null ? null : placed[side].mediumId;
}

/** All mattes of a layer in the order in which they are combined. */
function Combination({ film, joinId, layer }: { readonly film: Film; readonly joinId: string; readonly layer: Layer }) {
  const { store } = useTools();
  const nameOf = (id: string): string => film.mattes.find((m) => m.id === id)?.name ?? '';
  const move = (matteId: string, by: -1 | 1): void => {
    store.edit('Changed the order of mattes', (d) => moveMatteUse(d, joinId, layer.id, matteId, by));
  };
  return (
    <ol aria-label={`Mattes of ${layer.name}, combined in this order`} className="rounded-[4px] border border-rule bg-sheet">
      {layer.mattes.map((u, i) => (
        <li key={u.matteId} className="flex items-center gap-1 px-1 py-0.5">
          {i === 0 ? (
            <span className="w-16 shrink-0 text-soft">first</span>
          ) : (
            <select
              aria-label={`How ${nameOf(u.matteId)} joins the mattes before it`}
              className="w-16 shrink-0 rounded-[4px] border border-rule bg-sheet px-1"
              value={u.combine ?? 'intersect'}
              onChange={(e) => {
                const combine = e.target.value as Combining;
                store.edit(`Combined mattes by ${COMBINING[combine]}`, (d) => setMatteUse(d, joinId, layer.id, u.matteId, { combine }));
              }}
            >
              {(['intersect', 'add', 'subtract'] as const).map((v) => (
                <option key={v} value={v}>
                  {COMBINING[v]}
                </option>
              ))}
            </select>
          )}
          <span className="min-w-0 grow truncate" title={`${u.side} of ${nameOf(u.matteId)}`}>
            {u.side === 'outside' && 'outside '}
            {nameOf(u.matteId)}
          </span>
          <IconButton label={`Combine ${nameOf(u.matteId)} earlier`} disabled={i === 0} onClick={() => move(u.matteId, -1)}>
            <ArrowUp size={12} />
          </IconButton>
          <IconButton
            label={`Combine ${nameOf(u.matteId)} later`}
            disabled={i === layer.mattes.length - 1}
            onClick={() => move(u.matteId, 1)}
          >
            <ArrowDown size={12} />
          </IconButton>
        </li>
      ))}
    </ol>
  );
}

function EdgeSliders({
  joinId,
  layer,
  use,
  onPreview,
}: {
  readonly joinId: string;
  readonly layer: Layer;
  readonly use: MatteUse;
  readonly onPreview: (change: PreviewChange) => void;
}) {
  const { store } = useTools();
  const set =
    (change: Partial<MatteUse>): PreviewChange =>
    (d) =>
      setMatteUse(d, joinId, layer.id, use.matteId, change);
  return (
    <>
      <SliderRow
        label="Feather"
        unit="px"
        min={0}
        max={120}
        step={0.5}
        value={use.featherPx}
        onPreview={(featherPx) => onPreview(set({ featherPx }))}
        onCommit={(featherPx) => store.edit('Changed the feather', set({ featherPx }))}
      />
      <SliderRow
        label="Grow"
        unit="px"
        min={-60}
        max={60}
        step={0.5}
        value={use.growPx}
        onPreview={(growPx) => onPreview(set({ growPx }))}
        onCommit={(growPx) => store.edit('Grew the matte', set({ growPx }))}
      />
      <SliderRow
        label="Clean edge"
        unit="%"
        min={0}
        max={100}
        value={Math.round(100 * (use.cleanEdge ?? 0))}
        onPreview={(v) => onPreview(set({ cleanEdge: v / 100 }))}
        onCommit={(v) => store.edit('Cleaned the edge', set({ cleanEdge: v / 100 }))}
      />
    </>
  );
}
