'use client';
import { Plus, X } from 'lucide-react';
import { addMarker, addMediumMarker, removeMarker, removeMediumMarker, setMarker, setMediumMarker } from '../../../core/film/edits/marks';
import { Button, IconButton } from '../../parts/button';
import { NumberField } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';

const newId = (): string => crypto.randomUUID();

interface MarkersProps {
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  /** The medium whose own markers are shown too, and its second under the playhead. */
  readonly mediumId: string | null;
  readonly second: number | null;
}

/** The markers of the film, and of the medium that is chosen, by name and place. */
export function MarkersSection({ frame, onFrame, mediumId, second }: MarkersProps) {
  const { store } = useTools();
  const { film, shelf } = useFilm('film', 'shelf');
  const ofMedium = (film.mediumMarkers ?? []).filter((m) => m.mediumId === mediumId);
  const medium = shelf.find((m) => m.id === mediumId);
  const mediumName = medium?.facts?.name ?? medium?.sound?.name ?? 'this media';
  return (
    <Section title="Markers" startsFolded>
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={() => store.edit('Added a marker', (d) => void addMarker(d, frame, newId))}>
          <Plus size={13} /> On the film
        </Button>
        {mediumId !== null && second !== null && (
          <Button
            title={`It stays with ${mediumName}, wherever that is shown or heard`}
            onClick={() => store.edit(`Add a marker on ${mediumName}`, (d) => void addMediumMarker(d, mediumId, second, newId))}
          >
            <Plus size={13} /> On {mediumName}
          </Button>
        )}
      </div>
      <ul className="flex flex-col gap-1">
        {(film.markers ?? []).map((m) => (
          <li key={m.id} className="flex items-center gap-1.5">
            <Name value={m.name} onCommit={(name) => store.edit('Named a marker', (d) => setMarker(d, m.id, { name }))} />
            <NumberField
              label={`Frame of ${m.name}`}
              value={Math.round(10 * m.frame) / 10}
              min={0}
              onCommit={(v) => store.edit(`Moved ${m.name}`, (d) => setMarker(d, m.id, { frame: v }))}
            />
            <button type="button" className="text-[11px] underline" onClick={() => onFrame(Math.floor(m.frame))}>
              go
            </button>
            <IconButton label={`Delete ${m.name}`} onClick={() => store.edit(`Deleted ${m.name}`, (d) => removeMarker(d, m.id))}>
              <X size={12} />
            </IconButton>
          </li>
        ))}
        {ofMedium.map((m) => (
          <li key={m.id} className="flex items-center gap-1.5">
            <Name value={m.name} onCommit={(name) => store.edit('Named a marker', (d) => setMediumMarker(d, m.id, { name }))} />
            <NumberField
              label={`Second of ${m.name}`}
              unit="s"
              step={0.01}
              value={Math.round(1000 * m.seconds) / 1000}
              min={0}
              onCommit={(seconds) => store.edit(`Moved ${m.name}`, (d) => setMediumMarker(d, m.id, { seconds }))}
            />
            <IconButton label={`Delete ${m.name}`} onClick={() => store.edit(`Deleted ${m.name}`, (d) => removeMediumMarker(d, m.id))}>
              <X size={12} />
            </IconButton>
          </li>
        ))}
      </ul>
    </Section>
  );
}

function Name({ value, onCommit }: { readonly value: string; readonly onCommit: (name: string) => void }) {
  return (
    <input
      key={value}
      aria-label="Name of the marker"
      defaultValue={value}
      className="h-6 min-w-0 grow rounded-[4px] border border-rule bg-sheet px-1.5"
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={(event) => {
        const name = event.currentTarget.value.trim();
        if (name !== '' && name !== value) onCommit(name);
        else event.currentTarget.value = value;
      }}
    />
  );
}
