'use client';
import { setSteadying } from '../../core/film/matte-edits';
import type { Layer, Steadying } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import type { Track } from '../../core/track/track';
import { SliderRow } from '../parts/number-field';
import { Section } from '../parts/section';
import { Segmented } from '../parts/segmented';
import { useTools } from '../store/film-context';
import type { PreviewChange } from './preview';

const PARTS = [
  { part: 'position', label: 'Place' },
  { part: 'turn', label: 'Turn' },
  { part: 'size', label: 'Size' },
] as const;

/** Holds layers of the tracked shot still on the region. */
export function SteadySection({
  placed,
  layers,
  track,
  onPreview,
}: {
  readonly placed: PlacedJoin;
  /** The layers that show the tracked shot. */
  readonly layers: readonly Layer[];
  readonly track: Track;
  readonly onPreview: (change: PreviewChange) => void;
}) {
  const { store } = useTools();
  const set =
    (layerId: string, steadying: Steadying | null): PreviewChange =>
    (d) =>
      setSteadying(d, placed.join.id, layerId, steadying);
  return (
    <Section title="Hold still">
      {layers.map((layer) => {
        const held = layer.steadying?.trackId === track.id ? layer.steadying : null;
        return (
          <div key={layer.id} className="space-y-1.5">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-ink"
                checked={held !== null}
                onChange={(e) =>
                  store.edit(
                    e.target.checked ? `${layer.name} is held still on ${track.name}` : `${layer.name} moves again`,
                    set(
                      layer.id,
                      e.target.checked ? { trackId: track.id, position: 1, turn: 0, size: 0, centred: false, edges: 'mirror' } : null,
                    ),
                  )
                }
              />
              <span className="truncate">{layer.name}</span>
            </label>
            {held !== null && (
              <>
                {PARTS.map(({ part, label }) => (
                  <SliderRow
                    key={part}
                    label={label}
                    unit="%"
                    min={0}
                    max={100}
                    value={Math.round(100 * held[part])}
                    onPreview={(v) => onPreview(set(layer.id, { ...held, [part]: v / 100 }))}
                    onCommit={(v) => store.edit(`How still ${layer.name} is held`, set(layer.id, { ...held, [part]: v / 100 }))}
                  />
                ))}
                <label className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    className="accent-ink"
                    checked={held.centred}
                    onChange={(e) => store.edit('Where the region is held', set(layer.id, { ...held, centred: e.target.checked }))}
                  />
                  In the middle of the frame
                </label>
                <div className="flex items-center justify-between">
                  <span>Edges</span>
                  <Segmented
                    label={`Edges of ${layer.name}`}
                    value={held.edges}
                    onChange={(edges) => store.edit(`Edges of ${layer.name}`, set(layer.id, { ...held, edges }))}
                    options={[
                      { value: 'mirror', text: 'Mirrored' },
                      { value: 'enlarge', text: 'Enlarged' },
                    ]}
                  />
                </div>
              </>
            )}
          </div>
        );
      })}
    </Section>
  );
}
