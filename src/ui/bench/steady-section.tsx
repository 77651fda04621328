'use client';
import { setSteadying } from '../../core/film/matte-edits';
import type { Shot, Steadying } from '../../core/film/film';
import type { Track } from '../../core/track/track';
import { SliderRow } from '../parts/number-field';
import { Section } from '../parts/section';
import { Segmented } from '../parts/segmented';
import { useFilm, useTools } from '../store/film-context';
import type { PreviewChange } from './preview';

const PARTS = [
  { part: 'position', label: 'Place' },
  { part: 'turn', label: 'Turn' },
  { part: 'size', label: 'Size' },
] as const;

/** Holds the tracked shot still on the region, wherever the film shows it. */
export function SteadySection({
  shot,
  track,
  onPreview,
}: {
  readonly shot: Shot;
  readonly track: Track;
  readonly onPreview: (change: PreviewChange) => void;
}) {
  const { store } = useTools();
  const set =
    (steadying: Steadying | null): PreviewChange =>
    (d) =>
      setSteadying(d, shot.id, steadying);
  const { film } = useFilm();
  const held = shot.steadying?.trackId === track.id ? shot.steadying : null;
  const other = held === null ? film.tracks?.find((t) => t.id === shot.steadying?.trackId) : undefined;
  return (
    <Section title="Hold still">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-ink"
          checked={held !== null}
          onChange={(e) =>
            store.edit(
              e.target.checked ? `${shot.name} is held still on ${track.name}` : `${shot.name} moves again`,
              set(e.target.checked ? { trackId: track.id, position: 1, turn: 0, size: 0, centred: false, edges: 'mirror' } : null),
            )
          }
        />
        <span className="truncate">{shot.name}, the whole shot</span>
      </label>
      {other !== undefined && <p className="text-soft">Held on {other.name} now.</p>}
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
              onPreview={(v) => onPreview(set({ ...held, [part]: v / 100 }))}
              onCommit={(v) => store.edit(`How still ${shot.name} is held`, set({ ...held, [part]: v / 100 }))}
            />
          ))}
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-ink"
              checked={held.centred}
              onChange={(e) => store.edit('Where the region is held', set({ ...held, centred: e.target.checked }))}
            />
            In the middle of the frame
          </label>
          <div className="flex items-center justify-between">
            <span>Edges</span>
            <Segmented
              label={`Edges of ${shot.name}`}
              value={held.edges}
              onChange={(edges) => store.edit(`Edges of ${shot.name}`, set({ ...held, edges }))}
              options={[
                { value: 'mirror', text: 'Mirrored' },
                { value: 'enlarge', text: 'Enlarged' },
              ]}
            />
          </div>
        </>
      )}
    </Section>
  );
}
