'use client';
import { useState, type ReactNode } from 'react';
import type { ShotSide } from '../../../core/film/composition';
import { setFraming } from '../../../core/film/edits/shots';
import type { OwnFraming } from '../../../core/film/film';
import type { Pin } from '../../../core/film/recipe-settings';
import { mediumOf, placeJoin, type PlacedJoin } from '../../../core/film/timing';
import { laidByMattes } from '../../../core/pair/align-mattes';
import { framingOver } from '../../../core/pair/cut-pair';
import { planMatteAlone } from '../../../core/plan/stage-plans';
import { isMade, isOfRecipe } from '../../../core/film/mattes';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { mediumPlan } from '../common/medium-plan';

/** Likeness under which how two pictures lie over each other is doubtful. */
const DOUBTFUL = 0.35;
/** The same for edges of a part, seen from another place. */
const DOUBTFUL_EDGES = 0.18;
const FILLING: OwnFraming = { x: 0, y: 0, scale: 1, turn: 0 };

interface AlignProps {
  readonly placed: PlacedJoin;
  /** The framing of the entering shot that lays it over the leaving one. */
  readonly onFound: (framing: OwnFraming) => void;
  /** One shot shows a part of the other, much larger. */
  readonly within?: boolean;
  readonly children?: ReactNode;
}

/** Buttons that find how the entering shot lies over the leaving one at the cut: from the pictures, or from a matte of each. */
export function AlignControls({ placed, onFound, within = false, children }: AlignProps) {
  const { frames } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [told, setTold] = useState<{ readonly text: string; readonly isGood: boolean } | null>(null);
  const [isBusy, setBusy] = useState(false);
  const [chosen, setChosen] = useState<Partial<Readonly<Record<ShotSide, string>>>>({});
  const { leaving, entering } = placed;
  const [mediumA, mediumB] = [mediumOf(media, leaving), mediumOf(media, entering)];
  const align = async (): Promise<void> => {
    if (mediumA === null || mediumB === null) return;
    setBusy(true);
    try {
      const [leaves, enters] = [Math.round(leaving.inFrame + leaving.length - 1), Math.round(entering.inFrame)];
      const found = await frames.align(mediumPlan(mediumB, mediumB, enters), mediumPlan(mediumA, mediumA, leaves), 'align', within);
      const made = found === null ? null : framingOver(film, media, placed, found.aligned.placement);
      if (found === null || made === null) return;
      const { before, aligned } = found;
      const percent = (v: number): number => Math.round(100 * Math.max(0, v));
      const text = within
        ? `Found at ${Math.round(100 * made.scale)} %; edges agree by ${percent(aligned.likeness)} %.`
        : `Alike by ${percent(before)} % as they were, ${percent(aligned.likeness)} % as they lie now.`;
      const isGood = aligned.likeness >= (within ? DOUBTFUL_EDGES : DOUBTFUL);
      setTold({ text: isGood ? text : `${text} That is little: mark the same two things in both instead.`, isGood });
      onFound(made);
    } catch (error) {
      setTold({ text: `The pictures could not be loaded: ${(error as Error).message}`, isGood: false });
    } finally {
      setBusy(false);
    }
  };
  const mattesOf = (side: ShotSide): { readonly value: string; readonly text: string }[] =>
    film.mattes
      .filter((m) => m.mediumId === placed[side].mediumId && isMade(m) && !isOfRecipe(m))
      .map((m) => ({ value: m.id, text: m.name }));
  const idOf = (side: ShotSide): string | undefined => {
    const list = mattesOf(side);
    return (list.find((m) => m.value === chosen[side]) ?? list[0])?.value;
  };
  const [idA, idB] = [idOf('leaving'), idOf('entering')];
  const matteIds = idA === undefined || idB === undefined ? null : { leaving: idA, entering: idB };
  const alignMattes = async (ids: Readonly<Record<ShotSide, string>>): Promise<void> => {
    setBusy(true);
    try {
      const { framing: _, move: __, ...plain } = entering;
      const unframed = { ...film, shots: film.shots.map((s) => (s.id === entering.id ? plain : s)) };
      const at = placeJoin(unframed, placed.join.id)!;
      const [a, b] = await Promise.all([
        frames.measureHole(planMatteAlone(film, media, placed, 'leaving', ids.leaving, placed.cut - 1), 'align'),
        frames.measureHole(planMatteAlone(unframed, media, at, 'entering', ids.entering, placed.cut), 'align'),
      ]);
      if (a === undefined || b === undefined) return;
      if (a === null || b === null) {
        const empty = a === null ? leaving : entering;
        setTold({ text: `The matte in ${empty.name} covers nothing on the frame at the cut: carry it there, or paint it.`, isGood: false });
        return;
      }
      const made = laidByMattes(a, b);
      setTold({
        text: `Middle over middle; enlarged to ${Math.round(100 * made.scale)} %, turned by ${made.turn.toFixed(1)}°.`,
        isGood: true,
      });
      onFound(made);
    } catch (error) {
      setTold({ text: `The mattes could not be loaded: ${(error as Error).message}`, isGood: false });
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={isBusy || mediumA === null || mediumB === null} onClick={() => void align()}>
          From the pictures
        </Button>
        {children}
      </div>
      {matteIds !== null && (
        <>
          <SelectRow
            label={`Matte in ${placed.leaving.name}`}
            value={matteIds.leaving}
            options={mattesOf('leaving')}
            onChange={(id) => setChosen({ ...chosen, leaving: id })}
          />
          <SelectRow
            label={`Matte in ${placed.entering.name}`}
            value={matteIds.entering}
            options={mattesOf('entering')}
            onChange={(id) => setChosen({ ...chosen, entering: id })}
          />
          <div>
            <Button disabled={isBusy} onClick={() => void alignMattes(matteIds)}>
              From both mattes
            </Button>
          </div>
        </>
      )}
      {told !== null && <Note tone={told.isGood ? 'good' : 'heed'}>{told.text}</Note>}
    </>
  );
}

/** How the entering shot lies over the leaving one: from the pictures at the cut, or by numbers. */
export function AlignSection({ placed }: { readonly placed: PlacedJoin }) {
  const { store } = useTools();
  const { leaving, entering } = placed;
  const framing = typeof entering.framing === 'object' ? entering.framing : FILLING;
  const isOwn = typeof entering.framing === 'object';
  const change = (title: string, part: Partial<OwnFraming>): void =>
    store.edit(`${title} of ${entering.name}`, (d) => setFraming(d, entering.id, { ...framing, ...part }));
  return (
    <Section title="Lie over each other" name="Align">
      <AlignControls
        placed={placed}
        onFound={(found) => store.edit(`Laid ${entering.name} over ${leaving.name}`, (d) => setFraming(d, entering.id, found))}
      >
        {isOwn && (
          <Button onClick={() => store.edit(`Let ${entering.name} fill the frame`, (d) => setFraming(d, entering.id, 'fill'))}>
            Fill the frame
          </Button>
        )}
      </AlignControls>
      {isOwn && <PlaceRows value={framing} onChange={change} />}
    </Section>
  );
}

/** A place, a size and a turn as numbers. */
export function PlaceRows({
  value: { x, y, scale, turn },
  onChange,
}: {
  readonly value: Pin;
  readonly onChange: (title: string, part: Partial<Pin>) => void;
}) {
  return (
    <>
      <NumberRow label="x" unit="px" value={Math.round(10 * x) / 10} onCommit={(v) => onChange('Place', { x: v })} />
      <NumberRow label="y" unit="px" value={Math.round(10 * y) / 10} onCommit={(v) => onChange('Place', { y: v })} />
      <NumberRow
        label="Size"
        unit="%"
        min={1}
        step={0.5}
        value={Math.round(1000 * scale) / 10}
        onCommit={(v) => onChange('Size', { scale: v / 100 })}
      />
      <NumberRow label="Turn" unit="°" step={0.1} value={Math.round(100 * turn) / 100} onCommit={(v) => onChange('Turn', { turn: v })} />
    </>
  );
}
