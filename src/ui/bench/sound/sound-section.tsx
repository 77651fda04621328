'use client';
import { X } from 'lucide-react';
import { addHit, removeHit, setHit, setSoundChange } from '../../../core/film/edits/sound';
import { LOUDEST_DB, PLAIN_CHANGE, SILENCE_DB, SOUND_CHANGES } from '../../../core/film/sound';
import type { PlacedJoin } from '../../../core/film/timing';
import { toNumber } from '../../../core/geometry/rational';
import { IconButton } from '../../parts/button';
import { NumberField, NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { newId } from '../../store/new-id';

const TEXTS = {
  hard: 'at once',
  'cross fade': 'cross-fade',
  'leaving only': 'leaving only, to the end',
  'entering only': 'entering only, from the start',
} as const;

/** How sound goes over in the join, and the sounds that it brings along. */
export function SoundSection({ placed, frame }: { readonly placed: PlacedJoin; readonly frame: number }) {
  const { store } = useTools();
  const { film, sounds } = useFilm('film', 'sounds');
  const { join, cut } = placed;
  const change = join.sound ?? PLAIN_CHANGE;
  const isFixed = change.kind === 'leaving only' || change.kind === 'entering only';
  const set = (title: string, part: Partial<typeof change>): void => store.edit(title, (d) => setSoundChange(d, join.id, part));
  const ms = Math.round((1000 * change.at) / toNumber(film.rate));
  return (
    <Section title="Sound">
      <SelectRow
        label="Change"
        value={change.kind}
        options={SOUND_CHANGES.map((value) => ({ value, text: TEXTS[value] }))}
        onChange={(kind) => set(`Sound change: ${TEXTS[kind]}`, { kind })}
      />
      {change.kind === 'cross fade' && (
        <NumberRow
          label="Over"
          unit="ms"
          min={1}
          max={10_000}
          value={change.milliseconds}
          onCommit={(milliseconds) => set('Length of the cross-fade', { milliseconds })}
        />
      )}
      {!isFixed && (
        <>
          <NumberRow
            label="From the cut"
            unit="fr"
            step={0.1}
            value={change.at}
            min={-placed.leaving.length}
            max={placed.entering.length}
            onCommit={(at) => set('Moved the sound change', { at })}
          />
          <p className="text-soft">
            {change.at === 0 ? 'With the picture.' : `${Math.abs(ms)} ms ${ms < 0 ? 'before' : 'after'} the picture.`}
            {change.at !== 0 && (
              <button type="button" className="pl-2 underline" onClick={() => set('Sound changes with the picture', { at: 0 })}>
                with the picture
              </button>
            )}
          </p>
        </>
      )}
      {(join.hits ?? []).map((hit) => (
        <div key={hit.id} className="flex items-center gap-1">
          <span className="min-w-0 grow truncate">{hit.name}</span>
          <NumberField
            label={`Frame of ${hit.name}`}
            unit="fr"
            step={0.1}
            value={Math.round(10 * (hit.at + cut)) / 10}
            onCommit={(v) => store.edit(`Moved ${hit.name}`, (d) => setHit(d, join.id, hit.id, { at: v - cut }))}
          />
          <NumberField
            label={`Level of ${hit.name}`}
            unit="dB"
            min={SILENCE_DB}
            max={LOUDEST_DB}
            value={hit.level}
            onCommit={(level) => store.edit(`Level of ${hit.name}`, (d) => setHit(d, join.id, hit.id, { level }))}
          />
          <IconButton label={`Delete ${hit.name}`} onClick={() => store.edit(`Deleted ${hit.name}`, (d) => removeHit(d, join.id, hit.id))}>
            <X size={12} />
          </IconButton>
        </div>
      ))}
      {sounds.size > 0 && (
        <SelectRow
          label="A sound here"
          value=""
          options={[{ value: '', text: 'from the shelf…' }, ...[...sounds.values()].map((s) => ({ value: s.id, text: s.name }))]}
          onChange={(id) => {
            const sound = sounds.get(id);
            if (sound !== undefined)
              store.edit(`Put ${sound.name} on frame ${frame}`, (d) => addHit(d, join.id, sound, frame - cut, newId));
          }}
        />
      )}
    </Section>
  );
}
