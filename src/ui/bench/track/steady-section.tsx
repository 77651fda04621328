'use client';
import { setSteadying } from '../../../core/film/edits/mattes';
import type { Medium, Shot, Steadying } from '../../../core/film/film';
import { enlargementOf } from '../../../core/plan/shot-framing';
import type { Track } from '../../../core/track/track';
import { Note } from '../../parts/note';
import { SliderRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { Segmented } from '../../parts/segmented';
import { useFilm, useTools } from '../../store/film-context';
import type { PreviewChange } from '../../store/preview';

const PARTS = [
  { part: 'position', label: 'Place' },
  { part: 'turn', label: 'Turn' },
  { part: 'size', label: 'Size' },
] as const;

/** Enlarged more than this the picture is visibly soft. */
const SOFT_FROM = 1.5;

/** Holds the tracked shot still on the region, wherever the film shows it. */
export function SteadySection({
  shot,
  medium,
  track,
  filmFrame,
  onPreview,
}: {
  readonly shot: Shot;
  readonly medium: Medium;
  readonly track: Track;
  readonly filmFrame: (mediumFrame: number) => number;
  readonly onPreview: (change: PreviewChange) => void;
}) {
  const { store } = useTools();
  const set =
    (steadying: Steadying | null): PreviewChange =>
    (d) =>
      setSteadying(d, shot.id, steadying);
  const { film } = useFilm('film');
  const held = shot.steadying?.trackId === track.id ? shot.steadying : null;
  const other = held === null ? film.tracks?.find((t) => t.id === shot.steadying?.trackId) : undefined;
  const enlarged = held === null ? null : enlargementOf(film, medium, shot);
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
        <span className="truncate">Hold {shot.name} still, all of it</span>
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
          {enlarged !== null && enlarged.bareFrame === null && (
            <Note tone={enlarged.scale > SOFT_FROM ? 'heed' : 'good'}>
              Enlarged {enlarged.scale.toFixed(2)} times.
              {enlarged.scale > SOFT_FROM && ' The picture gets soft; remove less of the movement, or mirror the edges.'}
            </Note>
          )}
          {enlarged !== null && enlarged.bareFrame !== null && (
            <Note tone="heed">
              Held so, frame {filmFrame(enlarged.bareFrame)} shows its border however much it is enlarged. Take less of the movement out, or
              mirror the edges.
            </Note>
          )}
        </>
      )}
    </Section>
  );
}
