'use client';
import { useState } from 'react';
import type { Finding } from '../../../core/check/finding';
import { slideEntering } from '../../../core/film/edits/trims';
import type { ShotSide } from '../../../core/film/composition';
import { kindOf } from '../../../core/film/film';
import { framesText, mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { overlapName, overlapReach, setOverlapAndRefit } from '../../../core/recipes/refit';
import { Button } from '../../parts/button';
import { FindingNote } from '../../parts/finding-note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { kindText } from '../common/bench-tabs';
import { RoomRow } from '../../shots/room-row';
import { SaveRecipe } from '../kinds/save-recipe';
import { OverlapByHandNote } from '../common/overlap-note';
import { AlignSection } from './align-section';
import { EyeSection } from './eye-section';
import { MatchSection } from './match-section';
import { ShotMoveSection } from './shot-move-section';

/** The controls of Pair: where the shots meet and for how long, and what kind of join this is. */
export function PairPanel({
  placed,
  shown,
  findings,
  onKinds,
  onFrame,
  onView,
}: {
  readonly placed: PlacedJoin;
  /** The same as a drag on the stage shows it. */
  readonly shown: PlacedJoin;
  readonly findings: readonly Finding[];
  readonly onKinds: () => void;
  readonly onFrame: (frame: number) => void;
  readonly onView: (view: ShotSide) => void;
}) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { join, entering } = placed;
  const [isSaving, setSaving] = useState(false);
  const limits = overlapReach(film, media, join.id);
  const enteringMedium = mediumOf(media, entering);
  const setEnds = (before: number, after: number): void =>
    store.edit(overlapName(film, join.id, before), (draft) => setOverlapAndRefit(draft, media, join.id, before, after));
  return (
    <>
      <Section title="Kind of join">
        <p>
          <b>{kindText(kindOf(join))}.</b> Everything a kind sets up can be edited.
        </p>
        <div>
          <Button onClick={onKinds}>Choose the kind of join…</Button>
        </div>
        <div>
          <Button onClick={() => setSaving(true)}>Save as a recipe…</Button>
        </div>
        {isSaving && <SaveRecipe placed={placed} onClose={() => setSaving(false)} />}
      </Section>
      <Section title="Overlap">
        <NumberRow
          label="Before the cut"
          unit="fr"
          value={join.before}
          min={0}
          max={limits.before}
          onCommit={(v) => setEnds(v, join.after)}
        />
        <NumberRow label="Past the cut" unit="fr" value={join.after} min={0} max={limits.after} onCommit={(v) => setEnds(join.before, v)} />
        <NumberRow
          label="Length"
          unit="fr"
          value={join.before + join.after}
          min={0}
          max={limits.before + limits.after}
          onCommit={(v) => {
            const before = Math.min(
              limits.before,
              Math.max(v - limits.after, Math.round((v * (join.before || 1)) / (join.before + join.after || 2))),
            );
            setEnds(before, v - before);
          }}
        />
        <OverlapByHandNote join={join} />
        <RoomRow joinIds={[join.id]} />
        {findings
          .filter((f) => f.kind === 'no picture')
          .map((f) => (
            <FindingNote key={f.text} finding={f} joinId={join.id} />
          ))}
      </Section>
      <Section title="Entering shot in time">
        <NumberRow
          label="First frame after the cut"
          unit="fr"
          value={Math.floor(entering.inFrame)}
          min={enteringMedium === null ? 0 : 1 - enteringMedium.frames}
          max={enteringMedium === null ? 0 : enteringMedium.frames - 1}
          disabled={enteringMedium === null}
          onCommit={(v) => {
            const by = Math.floor(entering.inFrame) - v;
            if (enteringMedium !== null) store.edit(slideName(by), (draft) => slideEntering(draft, enteringMedium, join.id, by));
          }}
        />
        <p className="text-soft">
          Or drag the lower row of the weave: to the right brings its pictures later. The upper row slips the leaving shot, the diamond on
          the ruler rolls the cut.
        </p>
      </Section>
      <AlignSection placed={placed} />
      <EyeSection placed={placed} onView={onView} onFrame={onFrame} />
      <ShotMoveSection placed={shown} onView={onView} onFrame={onFrame} />
      <MatchSection placed={placed} onFrame={onFrame} />
    </>
  );
}

/** 'Moved entering shot 3 frames later' */
export function slideName(by: number, side: ShotSide = 'entering'): string {
  return `Moved ${side} shot ${framesText(Math.abs(by))} ${by > 0 ? 'later' : 'earlier'}`;
}
