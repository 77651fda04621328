'use client';
import { framesText, type PlacedJoin } from '../../../core/film/timing';
import { FindingNote } from '../../parts/finding-note';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import type { Findings } from '../../store/use-findings';

/** The controls of Check: what an attentive viewer would notice, frame by frame. */
export function CheckPanel({
  placed,
  findings,
  onGoTo,
}: {
  readonly placed: PlacedJoin;
  readonly findings: Findings;
  readonly onGoTo: (frame: number) => void;
}) {
  const frames = placed.to - placed.from;
  const { list, isComplete } = findings;
  return (
    <Section title="Issues in this join">
      {!isComplete && <p className="text-soft">Checking {framesText(frames)}…</p>}
      {isComplete && list.length === 0 && (
        <Note tone="good">
          {frames === 0
            ? 'A plain cut has no overlap to check.'
            : `All ${frames} frames of the overlap are covered. No hole, nothing missing.`}
        </Note>
      )}
      <ul className="flex flex-col gap-3">
        {list.map((f) => (
          <li key={`${f.kind} ${f.from} ${f.text}`}>
            <FindingNote finding={f} joinId={placed.join.id} onGoTo={onGoTo} />
          </li>
        ))}
      </ul>
    </Section>
  );
}
