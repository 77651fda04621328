'use client';
import { X } from 'lucide-react';
import type { ShotSide } from '../../../core/film/composition';
import { setFraming } from '../../../core/film/edits/shots';
import { removeInterest, setInterest } from '../../../core/film/edits/interest';
import type { OwnFraming } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { broughtTogether, laidByPoints } from '../../../core/pair/bring-together';
import { Button, IconButton } from '../../parts/button';
import { NumberField } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { markEye, useBench } from '../../store/bench-state';

interface EyeProps {
  readonly placed: PlacedJoin;
  readonly onView: (view: ShotSide) => void;
  /** Frames on which each shot is looked at: its last before the cut, its first after. */
  readonly onFrame: (frame: number) => void;
}

/** Points in both shots: buttons to mark them on the picture, and each with its place and what it rides on. */
export function EyePoints({ placed, onView, onFrame }: EyeProps) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const marking = useBench((s) => s.marksEye);
  const { join, cut } = placed;
  const begin = (side: ShotSide): void => {
    markEye(marking === side ? null : side);
    onView(side);
    onFrame(side === 'leaving' ? cut - 1 : cut);
  };
  return (
    <>
      <div className="flex flex-wrap gap-1.5">
        {(['leaving', 'entering'] as const).map((side) => (
          <Button key={side} tone={marking === side ? 'ink' : 'plain'} aria-pressed={marking === side} onClick={() => begin(side)}>
            Mark in {placed[side].name}
          </Button>
        ))}
      </div>
      <ul className="flex flex-col gap-1">
        {(join.interest ?? []).map((p) => {
          const tracks = (film.tracks ?? []).filter((t) => t.mediumId === placed[p.side].mediumId);
          return (
            <li key={p.id} className="flex flex-col gap-1" data-interest={p.side}>
              <div className="flex items-center gap-1.5">
                <span className={p.side === 'leaving' ? 'text-leaving' : 'text-entering'}>{p.side === 'leaving' ? '◣' : '◢'}</span>
                {(['x', 'y'] as const).map((axis) => (
                  <NumberField
                    key={axis}
                    label={`${axis} of the point in ${placed[p.side].name}`}
                    unit="px"
                    value={Math.round(10 * p[axis]) / 10}
                    onCommit={(v) => store.edit('Moved a point of interest', (d) => setInterest(d, join.id, p.id, { [axis]: v }))}
                  />
                ))}
                <IconButton label="Delete the point" onClick={() => store.edit('Deleted a point', (d) => removeInterest(d, join.id, p.id))}>
                  <X size={12} />
                </IconButton>
              </div>
              {tracks.length > 0 && (
                <SelectRow
                  label="Rides on"
                  value={p.trackId ?? ''}
                  options={[{ value: '', text: 'nothing' }, ...tracks.map((t) => ({ value: t.id, text: t.name }))]}
                  onChange={(id) =>
                    store.edit('What the point rides on', (d) => setInterest(d, join.id, p.id, { trackId: id === '' ? null : id }))
                  }
                />
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** Where the eye is at the end of one shot and at the start of the other, and what brings both together. */
export function EyeSection(props: EyeProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const marking = useBench((s) => s.marksEye);
  const { placed } = props;
  const { entering } = placed;
  const lay = (title: string, framing: OwnFraming | null): void => {
    if (framing !== null) store.edit(title, (d) => setFraming(d, entering.id, framing));
  };
  const [together, laid] = [broughtTogether(film, media, placed), laidByPoints(film, media, placed)];
  return (
    <Section title="Points of interest" name="Eye">
      <p className="text-soft">
        {marking === null
          ? 'One point in each shot brings both together. Several points lay one shot over the other.'
          : `Click the point of interest in ${placed[marking].name}.`}
      </p>
      <EyePoints {...props} />
      {together !== null && (
        <div className="flex flex-col items-start gap-1">
          <Button onClick={() => lay('Brought the points together', together)}>Bring together</Button>
          <p className="text-soft">
            {entering.name} is enlarged to {Math.round(100 * together.scale)} %, just enough that no border shows.
          </p>
        </div>
      )}
      {laid !== null && <Button onClick={() => lay('Laid over by points', laid)}>Lay the points over each other</Button>}
    </Section>
  );
}
