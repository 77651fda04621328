'use client';
import Link from 'next/link';
import { useEffect, useId, useMemo, useSyncExternalStore } from 'react';
import { create } from 'zustand';
import { frameOfFinding, type Finding } from '../../core/check/finding';
import { checkJoin } from '../../core/check/join';
import type { Film } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { Button } from '../parts/button';
import { FindingNote } from '../parts/finding-note';
import { Note } from '../parts/note';
import { Section } from '../parts/section';
import { useFilm, useTools } from '../store/film-context';
import { lookThrough } from '../store/use-findings';

interface Looked {
  /** What the join was like when it was looked at. */
  readonly as: string;
  readonly findings: readonly Finding[];
}

/** What was found in the joins of the film, by join; it is kept up to date once it was asked for. */
const useReelFindings = create<{ readonly isOn: boolean; readonly looked: ReadonlyMap<string, Looked> }>(() => ({
  isOn: false,
  looked: new Map(),
}));

const PAUSE_MS = 400;

/** All that what is found in a join depends on, as text; film frames are counted from its cut. */
const asText = (film: Film, { join, leaving, entering, cut }: PlacedJoin, changes: number): string => {
  const used = new Set(join.layers.flatMap((l) => l.mattes.map((m) => m.matteId)));
  const mattes = film.mattes.filter((m) => used.has(m.id));
  return JSON.stringify([join, leaving, entering, cut, film.finish, mattes.map((m) => [m.outline, m.key, m.tidying]), changes]);
};

/** The frames of the findings of all joins, rising. */
export function useFoundFrames(joins: readonly PlacedJoin[]): readonly number[] {
  const looked = useReelFindings((s) => s.looked);
  return useMemo(
    () => joins.flatMap(({ join }) => (looked.get(join.id)?.findings ?? []).map(frameOfFinding)).sort((a, b) => a - b),
    [joins, looked],
  );
}

/** Looks through all joins, one after another, and lists what it finds. Joins that change are looked through again. */
export function ReelFindings({ joins, onGoTo }: { readonly joins: readonly PlacedJoin[]; readonly onGoTo: (frame: number) => void }) {
  const { frames, store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, frames.matteChanges);
  const { isOn, looked } = useReelFindings();
  const owner = useId();
  const texts = useMemo(() => new Map(joins.map((p) => [p.join.id, asText(film, p, changes)])), [film, joins, changes]);
  const open = joins.filter((p) => looked.get(p.join.id)?.as !== texts.get(p.join.id));
  useEffect(() => {
    if (!isOn) return;
    let wanted = true;
    const look = async (): Promise<void> => {
      for (const placed of joins) {
        const { id } = placed.join;
        const as = texts.get(id)!;
        if (useReelFindings.getState().looked.get(id)?.as === as) continue;
        const seen = await lookThrough(frames, film, media, placed, true, owner);
        if (!wanted || seen === null) return;
        const findings = checkJoin(film, media, placed, seen.shares, seen.looks);
        useReelFindings.setState((s) => ({ looked: new Map(s.looked).set(id, { as, findings }) }));
      }
    };
    const timer = setTimeout(() => {
      look().catch((error: Error) => wanted && store.notify(`The joins could not be looked through: ${error.message}`));
    }, PAUSE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
      frames.dropMeasures(owner);
    };
  }, [isOn, frames, store, owner, film, media, joins, texts]);
  const found = joins.filter((p) => (looked.get(p.join.id)?.findings.length ?? 0) > 0);
  const count = found.reduce((sum, p) => sum + looked.get(p.join.id)!.findings.length, 0);
  if (joins.length === 0) return null;
  return (
    <Section title="Issues in the joins" name="Findings">
      {!isOn ? (
        <div>
          <Button onClick={() => useReelFindings.setState({ isOn: true })}>Look through all joins</Button>
        </div>
      ) : open.length > 0 ? (
        <div className="flex items-center justify-between gap-2">
          <p className="text-soft" role="status">
            Looked through {joins.length - open.length} of {joins.length} joins…
          </p>
          <Button onClick={() => useReelFindings.setState({ isOn: false })}>Stop</Button>
        </div>
      ) : (
        count === 0 && <Note tone="good">All {joins.length} joins were looked through: nothing to mend.</Note>
      )}
      {found.map((placed) => (
        <div key={placed.join.id} className="flex flex-col gap-2" data-findings-of={placed.join.name}>
          <Link href={`/films/${store.filmId}/joins/${placed.join.id}?step=check`} className="font-semibold underline">
            {placed.join.name}
          </Link>
          {looked.get(placed.join.id)!.findings.map((f) => (
            <FindingNote key={`${f.kind} ${f.from} ${f.text}`} finding={f} joinId={placed.join.id} onGoTo={onGoTo} />
          ))}
        </div>
      ))}
    </Section>
  );
}
