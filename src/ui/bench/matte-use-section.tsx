'use client';
import { addMatteUse, duplicateMatte, removeMatte, renameMatte, stopUsingMatte } from '../../core/film/matte-edits';
import { setMatteUse } from '../../core/film/edits';
import type { Matte, MatteUse, Side } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { Button } from '../parts/button';
import { SliderRow } from '../parts/number-field';
import { Section } from '../parts/section';
import { useTools } from '../store/film-context';

type UseChoice = 'none' | Side;

const TEXT: Record<UseChoice, string> = { none: 'not used', inside: 'keeps inside', outside: 'keeps outside' };

/** Which layers of the join use the matte, and how its edge is drawn there; its name, copies, removal. */
export function MatteUseSection({
  placed,
  matte,
  showsEdges,
  onUsePreview,
}: {
  readonly placed: PlacedJoin;
  readonly matte: Matte;
  /** Feather and grow here, not elsewhere on the panel. */
  readonly showsEdges: boolean;
  readonly onUsePreview: (layerId: string, change: Partial<MatteUse>) => void;
}) {
  const { store } = useTools();
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
            {showsEdges && use !== undefined && (
              <>
                <SliderRow
                  label="Feather"
                  unit="px"
                  min={0}
                  max={120}
                  step={0.5}
                  value={use.featherPx}
                  onPreview={(featherPx) => onUsePreview(layer.id, { featherPx })}
                  onCommit={(featherPx) =>
                    store.edit('Changed the feather', (d) => setMatteUse(d, join.id, layer.id, matte.id, { featherPx }))
                  }
                />
                <SliderRow
                  label="Grow"
                  unit="px"
                  min={-60}
                  max={60}
                  step={0.5}
                  value={use.growPx}
                  onPreview={(growPx) => onUsePreview(layer.id, { growPx })}
                  onCommit={(growPx) => store.edit('Grew the matte', (d) => setMatteUse(d, join.id, layer.id, matte.id, { growPx }))}
                />
              </>
            )}
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
              copy = duplicateMatte(d, matte.id, () => crypto.randomUUID());
            });
            if (matte.painted !== undefined) void store.allSent().then(() => store.ask(`mattes/${matte.id}`, { do: 'copy', to: copy }));
          }}
        >
          Duplicate
        </Button>
        <Button onClick={() => store.edit(`Removed ${matte.name}`, (d) => removeMatte(d, matte.id))}>Remove</Button>
      </div>
    </Section>
  );
}
