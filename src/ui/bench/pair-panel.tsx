'use client';
import { framesText, type Finding } from '../../core/check/finding';
import { makePlainCut, setOverlap, slideEntering } from '../../core/film/edits';
import { kindOf } from '../../core/film/film';
import { followsHole, makeWipePast, setFollowsHole } from '../../core/recipes/wipe-past';
import { mediumOf, overlapLimits, type PlacedJoin } from '../../core/film/timing';
import { Button } from '../parts/button';
import { FindingNote } from '../parts/finding-note';
import { NumberRow } from '../parts/number-field';
import { Section } from '../parts/section';
import { useFilm, useTools } from '../store/film-context';

/** The controls of Pair: where the shots meet and for how long, and what kind of join this is. */
export function PairPanel({ placed, findings }: { readonly placed: PlacedJoin; readonly findings: readonly Finding[] }) {
  const { store } = useTools();
  const { film, media } = useFilm();
  const { join, entering } = placed;
  const limits = overlapLimits(film, join.id);
  const enteringMedium = mediumOf(media, entering);
  const setEnds = (before: number, after: number): void =>
    store.edit('Changed the overlap', (draft) => setOverlap(draft, join.id, before, after));
  return (
    <>
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
        <p className="text-soft">Or drag the lower row of the weave: to the right brings its pictures later.</p>
      </Section>
      <Section title="Kind of join">
        {kindOf(join) === 'cut' ? (
          <>
            <p>A plain cut. The layers are ordinary: build your own, or start from a recipe.</p>
            <div>
              <Button onClick={() => store.edit('Made it a wipe past', (draft) => makeWipePast(draft, join.id, () => crypto.randomUUID()))}>
                Make it a wipe past
              </Button>
            </div>
            <p className="text-soft">Something crosses the whole frame; behind its trailing edge is the next shot.</p>
          </>
        ) : (
          <>
            <p>
              <b>Wipe past.</b> The leaving shot lies above; the area behind the trailing edge is taken out by an outline.
            </p>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-ink"
                checked={followsHole(join)}
                onChange={(e) =>
                  store.edit(e.target.checked ? 'Fitted the overlap to the hole' : 'Freed the overlap from the hole', (draft) =>
                    setFollowsHole(draft, media, join.id, e.target.checked),
                  )
                }
              />
              Overlap follows the hole
            </label>
            <div>
              <Button onClick={() => store.edit('Made it a plain cut', (draft) => makePlainCut(draft, join.id, () => crypto.randomUUID()))}>
                Back to a plain cut
              </Button>
            </div>
          </>
        )}
      </Section>
    </>
  );
}

/** 'Moved entering shot 3 frames later' */
export function slideName(by: number): string {
  return `Moved entering shot ${framesText(Math.abs(by))} ${by > 0 ? 'later' : 'earlier'}`;
}
