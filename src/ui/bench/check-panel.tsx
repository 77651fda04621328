'use client';
import type { Finding } from '../../core/check/join';
import { setFitsHole } from '../../core/film/edits';
import type { PlacedJoin } from '../../core/film/timing';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { Section } from '../parts/section';
import { useFilm, useTools } from '../store/film-context';

/** The controls of Check: what an attentive viewer would notice, frame by frame. */
export function CheckPanel({
  placed,
  findings,
  onGoTo,
}: {
  readonly placed: PlacedJoin;
  readonly findings: readonly Finding[];
  readonly onGoTo: (frame: number) => void;
}) {
  const { store } = useTools();
  const { media } = useFilm();
  const frames = placed.to - placed.from;
  return (
    <Section title="Found in this join">
      {findings.length === 0 && (
        <Note tone="good">
          {frames === 0
            ? 'A plain cut: there is no overlap to check.'
            : `All ${frames} frames of the overlap are covered. No hole, nothing missing.`}
        </Note>
      )}
      <ul className="flex flex-col gap-3">
        {findings.map((f) => (
          <li key={`${f.kind} ${f.from}`}>
            <Note tone={f.kind === 'empty pixels' || f.kind === 'no picture' ? 'fault' : 'heed'}>
              <p className="font-semibold">{f.text}</p>
              <p>{f.advice}</p>
              <div className="mt-1.5 flex gap-1.5">
                <Button onClick={() => onGoTo(f.from)}>Go to {f.from}</Button>
                {(f.kind === 'open too early' || f.kind === 'leaves too early') && (
                  <Button
                    onClick={() => store.edit('Fitted the overlap to the hole', (draft) => setFitsHole(draft, media, placed.join.id, true))}
                  >
                    Fit the overlap
                  </Button>
                )}
              </div>
            </Note>
          </li>
        ))}
      </ul>
    </Section>
  );
}
