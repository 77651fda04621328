'use client';
import { useMemo, useState } from 'react';
import type { ShotSide } from '../../../core/film/composition';
import { interestAt } from '../../../core/film/edits/interest';
import type { Film, Media } from '../../../core/film/film';
import type { PairOrder, PairSpan } from '../../../core/film/job';
import { SIGNS_WIDTH } from '../../../core/pair/frame-signs';
import { mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { cutAtPair, frameOfRow, layOver } from '../../../core/pair/cut-pair';
import type { FoundPairs } from '../../../core/pair/find-pairs';
import {
  MATCH_PARTS,
  PLAIN_WEIGHTS,
  placementAt,
  scoresOf,
  withInterest,
  type ExactPair,
  type Interest,
  type MatchMap,
  type MatchPart,
  type MatchWeights,
} from '../../../core/pair/match-map';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { StopJob } from '../../parts/stop-job';
import { useFilm, useTools } from '../../store/film-context';
import { Thumb } from '../../weave/thumb';
import { MapCanvas } from './map-canvas';
import { MotionSection } from './motion-section';
import { mediumPlan } from '../common/medium-plan';
import { usePairs } from './use-pairs';
import { newId } from '../../store/new-id';

/** Frames about the cut that are compared; the last one means all that there are. */
const WINDOWS = [48, 120, 100_000] as const;
const SHOWN_BEST = 6;

const PART_TEXT: Record<MatchPart, string> = {
  look: 'Look',
  shape: 'Shape',
  motion: 'Motion',
  direction: 'Direction',
  interest: 'Point of interest',
};

/** All frames of one shot against all of the other: where they meet best, and what it takes to lay them over each other there. */
export function MatchSection({ placed, onFrame }: { readonly placed: PlacedJoin; readonly onFrame: (frame: number) => void }) {
  const [window, setWindow] = useState<number>(WINDOWS[2]);
  const [weights, setWeights] = useState<MatchWeights>(PLAIN_WEIGHTS);
  const pairs = usePairs(placed, window);
  const { job, order, problem } = pairs;
  const { film, media } = useFilm('film', 'media');
  const { interest } = placed.join;
  const found = useMemo(
    () =>
      pairs.found === null || order === null ? null : { ...pairs.found, map: mapWithEye(film, media, placed, order, pairs.found.map) },
    // only where the eye is changes the map
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [pairs.found, order, interest],
  );
  return (
    <>
      <Section title="Best cuts" name="Match map">
        <SelectRow
          label="Frames around the cut"
          value={String(window)}
          options={WINDOWS.map((w) => ({ value: String(w), text: w === WINDOWS[2] ? 'all' : String(w) }))}
          onChange={(v) => setWindow(Number(v))}
        />
        {job !== null ? (
          <div className="flex items-center gap-2">
            <p className="min-w-0 grow truncate text-soft">{job.label}</p>
            <StopJob job={job} />
          </div>
        ) : (
          found === null && (
            <>
              <p className="text-soft">Every frame of both shots is compared: look, shape and motion. It takes some seconds.</p>
              <Button disabled={order === null} onClick={pairs.look}>
                Look for the best cuts
              </Button>
            </>
          )
        )}
        {problem !== null && job === null && found === null && <Note tone="heed">{problem}</Note>}
        {found !== null && order !== null && (
          <>
            <FoundView placed={placed} found={found} order={order} weights={weights} onFrame={onFrame} />
            {MATCH_PARTS.filter((p) => p !== 'interest' || found.map.parts.interest.some((v) => v > 0)).map((part) => (
              <NumberRow
                key={part}
                label={PART_TEXT[part]}
                min={0}
                max={3}
                step={0.1}
                value={weights[part]}
                onCommit={(v) => setWeights({ ...weights, [part]: v })}
              />
            ))}
          </>
        )}
      </Section>
      {found !== null && order !== null && <MotionSection placed={placed} found={found} order={order} onFrame={onFrame} />}
    </>
  );
}

type ShownPair = Pick<ExactPair, 'row' | 'column' | 'placement'>;

interface FoundProps {
  readonly placed: PlacedJoin;
  readonly found: FoundPairs;
  readonly order: NonNullable<ReturnType<typeof usePairs>['order']>;
  readonly weights: MatchWeights;
  readonly onFrame: (frame: number) => void;
}

function FoundView({ placed, found, order, weights, onFrame }: FoundProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { map } = found;
  const scores = useMemo(() => scoresOf(map, weights), [map, weights]);
  const best = useMemo(() => bestOf(found, scores, weights), [found, scores, weights]);
  const { join, leaving, entering } = placed;
  const [mediumA, mediumB] = [mediumOf(media, leaving), mediumOf(media, entering)];
  if (mediumA === null || mediumB === null) return null;
  /** The row and column of the cut as it is now. */
  const rowNow = (leaving.inFrame + leaving.length - 1 - order.a.first) / order.a.step;
  const columnNow = (entering.inFrame - order.b.first) / order.b.step;
  const cutAt = (pair: ShownPair, lays: boolean): void => {
    const [a, b] = [frameOfRow(order.a, pair.row), frameOfRow(order.b, pair.column)];
    store.edit(`Cut from frame ${a} to frame ${b}${lays ? ', laid over each other' : ''}`, (d) => {
      cutAtPair(d, media, join.id, a, b, newId);
      if (lays) layOver(d, media, join.id, pair.placement);
    });
    // on the last frame of the leaving shot, wherever that lies now
    const now = store.snapshot().film?.shots.find((s) => s.id === leaving.id);
    if (now !== undefined) onFrame(placed.cut - leaving.length + now.length - 1);
  };
  return (
    <>
      <MapCanvas
        map={map}
        scores={scores}
        marks={best.slice(0, SHOWN_BEST)}
        now={{ row: rowNow, column: columnNow }}
        rowText={(row) => `${leaving.name} ${frameOfRow(order.a, row)}`}
        columnText={(column) => `${entering.name} ${frameOfRow(order.b, column)}`}
        onChoose={(row, column) => cutAt({ row, column, placement: placementAt(map, row, column)! }, false)}
      />
      {best.length === 0 && (
        <Note tone="heed">No two pictures of these shots are alike enough. The map shows where they come nearest; click to cut there.</Note>
      )}
      <ol className="flex flex-col gap-2.5" aria-label="Best cuts">
        {best.slice(0, SHOWN_BEST).map((pair) => {
          const [a, b] = [frameOfRow(order.a, pair.row), frameOfRow(order.b, pair.column)];
          return (
            <li key={`${pair.row} ${pair.column}`} className="flex flex-col gap-1" data-pair={`${a} ${b}`}>
              <div className="flex items-center gap-1">
                <Thumb
                  drawing={{ kind: 'picture', plan: mediumPlan(film, mediumA, a) }}
                  width={92}
                  height={Math.round((92 * film.height) / film.width)}
                />
                <Thumb
                  drawing={{ kind: 'picture', plan: mediumPlan(film, mediumB, b) }}
                  width={92}
                  height={Math.round((92 * film.height) / film.width)}
                />
                <span className="grow text-right font-mono text-[11px] text-soft">
                  {a}
                  <br />
                  {b}
                </span>
              </div>
              <p className="text-[12px] text-soft">{reasonOf(found, pair)}</p>
              <div className="flex gap-1.5">
                <Button onClick={() => cutAt(pair, false)}>Cut here</Button>
                <Button onClick={() => cutAt(pair, true)}>Cut and lay over</Button>
              </div>
            </li>
          );
        })}
      </ol>
      {entering.framing !== undefined && entering.framing !== 'fill' && (
        <Button onClick={() => store.edit(`Let ${entering.name} fill the frame`, (d) => layOver(d, media, join.id, null))}>
          Let the entering shot fill the frame again
        </Button>
      )}
    </>
  );
}

/** The map with where the eye is, once that is marked in both shots. */
function mapWithEye(film: Film, media: Media, placed: PlacedJoin, order: PairOrder, map: MatchMap): MatchMap {
  const of = (side: ShotSide, span: PairSpan): Interest | null => {
    const point = (placed.join.interest ?? []).find((p) => p.side === side);
    const medium = mediumOf(media, placed[side]);
    if (point === undefined || medium === null) return null;
    const shrink = SIGNS_WIDTH / medium.width;
    return (index) => {
      const { x, y } = interestAt(film, point, frameOfRow(span, index));
      return { x: x * shrink, y: y * shrink };
    };
  };
  const [a, b] = [of('leaving', order.a), of('entering', order.b)];
  return a === null || b === null ? map : withInterest(map, a, b);
}

/** The pairs that were made exact, in the order these weights give them: by how well they lie over each other, or by their scores. */
function bestOf({ map, best }: FoundPairs, scores: Float32Array, weights: MatchWeights): readonly ShownPair[] {
  if (MATCH_PARTS.every((p) => weights[p] === PLAIN_WEIGHTS[p])) return best;
  const scoreOf = ({ row, column }: ShownPair): number => scores[row * map.columns + column]!;
  return [...best].sort((p, q) => scoreOf(q) - scoreOf(p));
}

/** Why a pair is good, in words and figures. */
function reasonOf({ map }: FoundPairs, { row, column, placement }: ShownPair): string {
  const percent = (part: MatchPart): number => Math.round((100 * map.parts[part][row * map.columns + column]!) / 255);
  const { scale, turn, flip } = placement;
  const turned = Math.round((turn * 1800) / Math.PI) / 10;
  const laid = [
    ...(flip ? ['mirrored'] : []),
    ...(Math.abs(scale - 1) > 0.01 ? [`${scale > 1 ? 'enlarged' : 'reduced'} to ${Math.round(100 * scale)} %`] : []),
    ...(Math.abs(turned) > 0.2 ? [`turned ${turned}°`] : []),
  ];
  const alike = `Look ${percent('look')} %, shape ${percent('shape')} %, motion ${percent('motion')} %`;
  return laid.length === 0 ? `${alike}.` : `${alike}; lies over it ${laid.join(', ')}.`;
}
