'use client';
import { duplicateClip, laneOfClip, moveClip, removeClip, setClipSound, splitClip, trimClip } from '../../../core/film/edits/sound';
import { toNumber } from '../../../core/geometry/rational';
import { Button } from '../../parts/button';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { chooseClip } from '../../store/reel-choice';
import { SoundNumbers } from './level-row';
import { newId } from '../../store/new-id';

/** Numbers of the chosen sound in a lane. */
export function ClipDetails({ clipId, frame }: { readonly clipId: string; readonly frame: number }) {
  const { store } = useTools();
  const { film, sounds } = useFilm('film', 'sounds');
  const clip = laneOfClip(film.soundLanes ?? [], clipId).clips.find((c) => c.id === clipId)!;
  const sound = sounds.get(clip.mediumId);
  const tenth = (v: number): number => Math.round(10 * v) / 10;
  return (
    <Section title={clip.name} name="Sound">
      <NumberRow
        label="Starts on frame"
        unit="fr"
        min={0}
        value={tenth(clip.start)}
        onCommit={(v) => store.edit(`Moved ${clip.name}`, (d) => moveClip(d, clip.id, v))}
      />
      {sound !== undefined && (
        <>
          <NumberRow
            label="Length"
            unit="fr"
            min={0.1}
            value={tenth(clip.length)}
            onCommit={(v) => store.edit(`Trimmed the end of ${clip.name}`, (d) => trimClip(d, sound, clip.id, 'end', v - clip.length))}
          />
          <NumberRow
            label="From second"
            unit="s"
            min={0}
            step={0.01}
            value={Math.round(1000 * clip.from) / 1000}
            onCommit={(v) =>
              store.edit(`Trimmed the start of ${clip.name}`, (d) =>
                trimClip(d, sound, clip.id, 'start', (v - clip.from) * toNumber(film.rate)),
              )
            }
          />
        </>
      )}
      {sound === undefined && <p className="text-fault">The sound of this clip is not ready.</p>}
      <SoundNumbers
        sound={clip}
        frame={frame - clip.start}
        length={clip.length}
        onChange={(title, part) => store.edit(`${title} of ${clip.name}`, (d) => setClipSound(d, clip.id, part))}
      />
      <div className="flex flex-wrap gap-1.5">
        <Button
          disabled={frame <= clip.start || frame >= clip.start + clip.length}
          onClick={() => store.edit(`Split ${clip.name}`, (d) => void splitClip(d, clip.id, frame, newId))}
        >
          Split here
        </Button>
        <Button onClick={() => store.edit(`Duplicated ${clip.name}`, (d) => void duplicateClip(d, clip.id, newId))}>Duplicate</Button>
        <Button
          onClick={() => {
            chooseClip(null);
            store.edit(`Deleted ${clip.name}`, (d) => removeClip(d, clip.id));
          }}
        >
          Delete
        </Button>
      </div>
    </Section>
  );
}
