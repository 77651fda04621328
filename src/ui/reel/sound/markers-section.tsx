'use client';
import { Plus, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import {
  addMarker,
  addMediumMarker,
  removeMarker,
  removeMediumMarker,
  setMarker,
  setMediumMarker,
  type LookPart,
} from '../../../core/film/edits/marks';
import type { MarkerLook } from '../../../core/film/sound';
import { Button, IconButton } from '../../parts/button';
import { NameInput } from '../../parts/name-input';
import { NumberField } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { TintPicker } from '../../parts/tints';
import { useFilm, useTools } from '../../store/film-context';
import { askForMarker, useReelChoice } from '../../store/reel-choice';
import { usePreference } from '../../store/preferences';
import { newId } from '../../store/new-id';

const SECTION = 'Markers';

interface MarkersProps {
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  /** The medium whose own markers are shown too, and its second under the playhead. */
  readonly mediumId: string | null;
  readonly second: number | null;
}

/** The markers of the film, and of the medium that is chosen: name, place, colour and note. */
export function MarkersSection({ frame, onFrame, mediumId, second }: MarkersProps) {
  const { store } = useTools();
  const { film, shelf } = useFilm('film', 'shelf');
  const [isOpen, setOpen] = usePreference(`open:${SECTION}`, false);
  const list = useRef<HTMLUListElement>(null);
  const asked = useReelChoice((s) => s.askedMarkerId);
  useEffect(() => {
    if (asked === null) return;
    if (!isOpen) return setOpen(true);
    list.current?.querySelector<HTMLInputElement>(`[data-marker-fields="${asked}"] input`)?.select();
    askForMarker(null);
  }, [asked, isOpen, setOpen]);
  const ofMedium = (film.mediumMarkers ?? []).filter((m) => m.mediumId === mediumId);
  const medium = shelf.find((m) => m.id === mediumId);
  const mediumName = medium?.facts?.name ?? medium?.sound?.name ?? 'this media';
  return (
    <Section title={SECTION} startsFolded>
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
      <ul ref={list} aria-label="Markers" className="flex flex-col gap-2.5">
        {(film.markers ?? []).map((m) => (
          <MarkerFields
            key={m.id}
            id={m.id}
            look={m}
            onLook={(name, part) => store.edit(name, (d) => setMarker(d, m.id, part))}
            onDelete={() => store.edit(`Deleted ${m.name}`, (d) => removeMarker(d, m.id))}
          >
            <NumberField
              label={`Frame of ${m.name}`}
              value={Math.round(10 * m.frame) / 10}
              min={0}
              onCommit={(v) => store.edit(`Moved ${m.name}`, (d) => setMarker(d, m.id, { frame: v }))}
            />
            <button type="button" className="text-[11px] underline" onClick={() => onFrame(Math.floor(m.frame))}>
              go
            </button>
          </MarkerFields>
        ))}
        {ofMedium.map((m) => (
          <MarkerFields
            key={m.id}
            id={m.id}
            look={m}
            onLook={(name, part) => store.edit(name, (d) => setMediumMarker(d, m.id, part))}
            onDelete={() => store.edit(`Deleted ${m.name}`, (d) => removeMediumMarker(d, m.id))}
          >
            <NumberField
              label={`Second of ${m.name}`}
              unit="s"
              step={0.01}
              value={Math.round(1000 * m.seconds) / 1000}
              min={0}
              onCommit={(seconds) => store.edit(`Moved ${m.name}`, (d) => setMediumMarker(d, m.id, { seconds }))}
            />
          </MarkerFields>
        ))}
      </ul>
    </Section>
  );
}

interface MarkerFieldsProps {
  readonly id: string;
  readonly look: MarkerLook;
  readonly onLook: (name: string, part: LookPart) => void;
  readonly onDelete: () => void;
  /** Its place. */
  readonly children: React.ReactNode;
}

function MarkerFields({ id, look: { name, tint, note }, onLook, onDelete, children }: MarkerFieldsProps) {
  return (
    <li className="flex flex-col gap-1" data-marker-fields={id}>
      <span className="flex items-center gap-1.5">
        <NameInput
          label="Name of the marker"
          value={name}
          className="h-6 min-w-0 grow"
          onDone={(next) => next !== name && onLook('Named a marker', { name: next })}
        />
        {children}
        <IconButton label={`Delete ${name}`} onClick={onDelete}>
          <X size={12} />
        </IconButton>
      </span>
      <span className="flex items-center gap-2">
        <TintPicker label={`Colour of ${name}`} value={tint} onChange={(next) => onLook(`Colour of ${name}`, { tint: next })} />
        <input
          key={note}
          aria-label={`Note on ${name}`}
          placeholder="Note"
          maxLength={2000}
          defaultValue={note ?? ''}
          className="h-6 min-w-0 grow rounded-[4px] border border-rule bg-sheet px-1.5"
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          onBlur={(event) => {
            const next = event.currentTarget.value.trim();
            if (next !== (note ?? '')) onLook(`Note on ${name}`, { note: next });
          }}
        />
      </span>
    </li>
  );
}
