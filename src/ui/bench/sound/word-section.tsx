'use client';
import { SOUND_RATE } from '../../../core/film/sound';
import { Search } from 'lucide-react';
import { useState } from 'react';
import { cutInWord } from '../../../core/film/edits/words';
import { changedFilm } from '../../../core/film/history';
import type { PlacedJoin } from '../../../core/film/timing';
import { silence, type Stereo } from '../../../core/sound/samples';
import type { SecondsSpan } from '../../../core/sound/words';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { soundAround } from './sound-under';
import { keepFound, selectSpan, useWord } from './word-choice';

/** Seconds around the cut in which the word is looked for. */
const AROUND = 60;
/** Likeness under which what was found is doubtful. */
const DOUBTFUL = 0.6;
/** Seconds of silence between two takes that are heard one after the other. */
const PAUSE = 0.25;

const samples = (seconds: number): number => Math.round(seconds * SOUND_RATE);

/** One word that both shots say: selected in one, found in the other, heard, and cut in. */
export function WordSection({ placed }: { readonly placed: PlacedJoin }) {
  const { store, sound: client, player } = useTools();
  const { film, media, sounds } = useFilm('film', 'media', 'sounds');
  const { joinId, side, span, found } = useWord();
  const [isLooking, setLooking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const other = side === 'leaving' ? 'entering' : 'leaving';
  const [a, b] = [placed[side], placed[other]];
  const isHere = joinId === placed.join.id;
  if (!sounds.has(placed.leaving.mediumId) || !sounds.has(placed.entering.mediumId)) return null;
  const around = (which: typeof side): SecondsSpan | null =>
    soundAround(film, placed, which, media.get(placed[which].mediumId)?.rate, sounds.get(placed[which].mediumId)?.samples, AROUND);
  const look = async (): Promise<void> => {
    const [aWithin, bWithin] = [around(side), around(other)];
    if (span === null || aWithin === null || bWithin === null) return;
    setLooking(true);
    setProblem(null);
    try {
      const word = await client.word(a.mediumId, aWithin, span, b.mediumId, bWithin);
      keepFound(word);
      if (word === null) setProblem(`${b.name} is too short to hold it.`);
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setLooking(false);
    }
  };
  const read = (which: typeof side, { start, end }: SecondsSpan): Promise<Stereo> =>
    client.medium(placed[which].mediumId, samples(start), samples(end - start));
  const hear = (sound: () => Promise<Stereo>): void => {
    setProblem(null);
    player.once(sound()).catch((error: Error) => setProblem(error.message));
  };
  const cut = (): void => {
    if (found === null) return;
    let isDone = false;
    changedFilm(film, (d) => void (isDone = cutInWord(d, media, placed.join.id, side, found)));
    if (!isDone) {
      setProblem('The cut would lie outside one of the shots, or a shot runs at a speed of its own.');
      return;
    }
    selectSpan(placed.join.id, side, null);
    store.edit('Cut inside the shared word', (d) => void cutInWord(d, media, placed.join.id, side, found));
  };
  return (
    <Section title="Shared word">
      {!isHere || span === null ? (
        <p className="text-soft">Drag over a word in the sound of one shot, under the weave. It is looked for in the other.</p>
      ) : (
        <>
          <p>
            Selected in {a.name}: <span className="font-mono">{spanText(span)}</span>
          </p>
          <div className="flex flex-wrap gap-1.5">
            <Button disabled={isLooking} onClick={() => void look()}>
              <Search size={13} /> {isLooking ? 'Looking…' : `Find it in ${b.name}`}
            </Button>
            <Button onClick={() => hear(() => read(side, span))}>Hear it</Button>
          </div>
          {found !== null && (
            <>
              <p data-testid="found-word">
                Found in {b.name}: <span className="font-mono">{spanText(found.b)}</span>
              </p>
              {found.likeness < DOUBTFUL && <Note tone="heed">They sound little alike: listen before you cut.</Note>}
              <div className="flex flex-wrap gap-1.5">
                <Button onClick={() => hear(async () => joined(await read(side, found.a), await read(other, found.b)))}>
                  One after the other
                </Button>
                <Button onClick={() => hear(async () => together(await read(side, found.a), await read(other, found.b)))}>Together</Button>
                <Button tone="ink" onClick={cut}>
                  Cut inside it
                </Button>
              </div>
            </>
          )}
        </>
      )}
      {problem !== null && <Note tone="heed">{problem}</Note>}
    </Section>
  );
}

const spanText = ({ start, end }: SecondsSpan): string => `${start.toFixed(2)} to ${end.toFixed(2)} s`;

function joined(a: Stereo, b: Stereo): Stereo {
  const gap = samples(PAUSE);
  const out = silence(a.left.length + gap + b.left.length);
  for (const channel of ['left', 'right'] as const) {
    out[channel].set(a[channel]);
    out[channel].set(b[channel], a.left.length + gap);
  }
  return out;
}

/** The first in the left ear and the other in the right. */
function together(a: Stereo, b: Stereo): Stereo {
  const out = silence(Math.max(a.left.length, b.left.length));
  out.left.set(a.left);
  out.right.set(b.right);
  return out;
}
