'use client';
import { AudioWaveform } from 'lucide-react';
import { doubleBeats, halveBeats, moveBeat, nearestIndex, removeBeats, setBeats, shiftBeats } from '../../../core/film/edits/marks';
import type { MediumBeats } from '../../../core/film/sound';
import { isUnderWay } from '../../../core/film/job';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { StopJob } from '../../parts/stop-job';
import { useFilm, useJob, useTools } from '../../store/film-context';

interface BeatsProps {
  readonly mediumId: string;
  /** Second of the medium under the playhead; null where it is not heard there. */
  readonly second: number | null;
  /** Beats tapped so far that are not stored yet. */
  readonly taps: number;
}

/** The beats of a sound: found, and set right by hand. */
export function BeatsSection({ mediumId, second, taps }: BeatsProps) {
  const { store } = useTools();
  const { film, sounds } = useFilm('film', 'sounds');
  const job = useJob(mediumId, (j) => j.kind === 'find beats' && isUnderWay(j));
  const newest = useJob(mediumId, (j) => j.kind === 'find beats');
  const sound = sounds.get(mediumId);
  const beats = film.beats?.find((b) => b.mediumId === mediumId);
  if (sound === undefined) return null;
  const change = (title: string, made: (b: MediumBeats) => MediumBeats): void => {
    if (beats !== undefined) store.edit(`${title} of ${sound.name}`, (d) => setBeats(d, made(beats)));
  };
  const nearest = beats === undefined || second === null ? -1 : nearestIndex(beats.seconds, second);
  return (
    <Section title={`Beats of ${sound.name}`} name="Beats">
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={job !== undefined} onClick={() => void store.askWhenSaved('find-beats', { mediumId })}>
          <AudioWaveform size={13} /> {beats === undefined ? 'Find beats' : 'Find beats again'}
        </Button>
        {job !== undefined && <StopJob job={job} />}
        {beats !== undefined && (
          <Button onClick={() => store.edit(`Deleted the beats of ${sound.name}`, (d) => removeBeats(d, mediumId))}>Delete beats</Button>
        )}
      </div>
      {job === undefined && newest?.state === 'failed' && <Note tone="heed">{newest.error}</Note>}
      {beats !== undefined && (
        <>
          <p className="font-mono text-[11.5px]" data-testid="tempo">
            {beats.beatsPerMinute.toFixed(1)} a minute · {beats.seconds.length} beats
            <span className="text-soft"> · sure {Math.round(100 * beats.confidence)} %</span>
          </p>
          <NumberRow
            label="Shift all"
            unit="ms"
            step={5}
            min={-5000}
            max={5000}
            value={0}
            onCommit={(ms) => change('Shifted the beats', (b) => shiftBeats(b, ms / 1000))}
          />
          <div className="flex flex-wrap gap-1.5">
            <Button onClick={() => change('Halved the beats', halveBeats)}>Half as many</Button>
            <Button onClick={() => change('Doubled the beats', doubleBeats)}>Twice as many</Button>
            <Button
              disabled={nearest < 0}
              title="The beat nearest to the playhead begins a bar"
              onClick={() => change('Set where bars begin', (b) => ({ ...b, downbeat: nearest % b.perBar }))}
            >
              Bar begins here
            </Button>
            <Button
              disabled={nearest < 0}
              title="The beat nearest to the playhead comes to it"
              onClick={() => change('Moved a beat', (b) => moveBeat(b, nearest, second!))}
            >
              Beat here
            </Button>
          </div>
          <NumberRow
            label="Beats a bar"
            min={1}
            max={16}
            value={beats.perBar}
            onCommit={(perBar) => change('Beats a bar', (b) => ({ ...b, perBar, downbeat: b.downbeat % perBar }))}
          />
        </>
      )}
      <p className="text-soft">{taps > 0 ? `${taps} tapped…` : 'Or play, and tap B on every beat.'}</p>
    </Section>
  );
}
