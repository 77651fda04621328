'use client';
import { useRef, useState } from 'react';
import type { ShotSide } from '../../../core/film/composition';
import { setShotMove } from '../../../core/film/edits/shots';
import type { MoveChannel, ShotMove, Shot } from '../../../core/film/film';
import { handlesOf, mediumOf, startsAround, type PlacedJoin } from '../../../core/film/timing';
import { EASE_NAMES, type EaseName } from '../../../core/motion/eases';
import {
  amountsOf,
  isPlainMove,
  movedAlong,
  moveOf,
  moveSpanOf,
  pathOfSteps,
  STANDING,
  withAmount,
  type MoveSpan,
} from '../../../core/pair/borrowed-move';
import { SIGNS_WIDTH } from '../../../core/pair/frame-signs';
import type { Placement } from '../../../core/pair/placement';
import { planShot } from '../../../core/plan/plan-shot';
import { moveEnlargement } from '../../../core/plan/shot-framing';
import { Button } from '../../parts/button';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { StopWork } from '../../parts/stop-work';
import { Segmented } from '../../parts/segmented';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { drawMove, useBench } from '../../store/bench-state';

/** Frames of another shot whose camera is followed at most. */
const MOST_TAKEN = 240;
const OWNER = 'camera';

interface ShotMoveProps {
  readonly placed: PlacedJoin;
  readonly onView: (view: ShotSide) => void;
  readonly onFrame: (frame: number) => void;
}

/** When the other shot's movement is taken: while both run, or what it does next to the cut. */
type When = 'beside' | 'at the cut';

/** A camera's movement for a shot that stands still: by numbers, drawn, or taken from the shot beside it. */
export function ShotMoveSection({ placed, onView, onFrame }: ShotMoveProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const drawn = useBench((s) => s.drawsMove);
  const [side, setSide] = useState<ShotSide>('entering');
  const [when, setWhen] = useState<When>(placed.to - placed.from > 1 ? 'beside' : 'at the cut');
  /** Whether a move that is there may be replaced is asked first. */
  const [asks, setAsks] = useState(false);
  const shot = placed[side];
  const other = side === 'leaving' ? 'entering' : 'leaving';
  const medium = mediumOf(media, shot);
  const { move } = shot;
  const span = moveSpanOf(shot);
  const amounts = move === undefined ? STANDING : amountsOf(move);
  const isPlain = move === undefined || isPlainMove(move);
  const set = (name: string, next: ShotMove | null): void => store.edit(`${name} of ${shot.name}`, (d) => setShotMove(d, shot.id, next));
  const change = (channel: MoveChannel, amount: number): void =>
    set('Camera move', withAmount(move ?? moveOf(STANDING, span), channel, amount, span));
  const respan = (part: Partial<MoveSpan>): void => set('Camera move', moveOf(amounts, { ...span, ...part }));

  const { take, taking, told, stop } = useTakenMove(placed, side, when, (next) => set('Camera move', next));
  const enlarged = medium === null ? 1 : moveEnlargement(film, medium, shot);
  return (
    <Section title="A camera move of its own" name="Camera move">
      <Segmented<ShotSide>
        label="Shot that moves"
        value={side}
        onChange={setSide}
        options={[
          { value: 'leaving', text: `◣ ${short(placed.leaving.name)}` },
          { value: 'entering', text: `◢ ${short(placed.entering.name)}` },
        ]}
      />
      <NumberRow label="Pan to the right" unit="px" value={Math.round(amounts.pan)} onCommit={(v) => change('x', v)} />
      <NumberRow label="Tilt down" unit="px" value={Math.round(amounts.tilt)} onCommit={(v) => change('y', v)} />
      <NumberRow
        label="Push in to"
        unit="%"
        min={10}
        max={1000}
        value={Math.round(1000 * amounts.push) / 10}
        onCommit={(v) => change('scale', v / 100)}
      />
      <NumberRow label="Turn" unit="°" step={0.5} value={Math.round(10 * amounts.turn) / 10} onCommit={(v) => change('turn', v)} />
      {isPlain && (
        <>
          <SelectRow<EaseName>
            label="Ease"
            value={span.ease}
            options={EASE_NAMES.filter((n) => n !== 'hold').map((n) => ({ value: n, text: n }))}
            onChange={(ease) => respan({ ease })}
          />
          <NumberRow
            label="From its frame"
            unit="fr"
            value={span.first}
            onCommit={(first) => respan({ first, last: first + span.last - span.first })}
          />
          <NumberRow
            label="Over"
            unit="fr"
            min={1}
            value={span.last - span.first}
            onCommit={(over) => respan({ last: span.first + over })}
          />
        </>
      )}
      <div className="flex flex-wrap gap-1.5">
        <Button
          aria-pressed={drawn === side}
          tone={drawn === side ? 'ink' : 'plain'}
          onClick={() => {
            if (drawn !== side && hasWay(move) && !asks) {
              setAsks(true);
              return;
            }
            setAsks(false);
            drawMove(drawn === side ? null : side);
            onView(side);
            onFrame(side === 'leaving' ? placed.cut - 1 : placed.cut);
          }}
        >
          {asks ? 'Replace it by a drawn one' : 'Draw it on the picture'}
        </Button>
        {asks && <Button onClick={() => setAsks(false)}>Keep it</Button>}
        {move !== undefined && <Button onClick={() => set('No camera move', null)}>Delete it</Button>}
      </div>
      <SelectRow<When>
        label={`Camera move of ${short(placed[other].name)}`}
        value={when}
        options={[
          { value: 'beside', text: 'at the same time' },
          { value: 'at the cut', text: side === 'entering' ? 'up to the cut' : 'from the cut on' },
        ]}
        onChange={setWhen}
      />
      {taking === null ? (
        <div>
          <Button disabled={mediumOf(media, placed[other]) === null} onClick={() => void take()}>
            Copy its move
          </Button>
        </div>
      ) : (
        <StopWork label="Following the camera" share={taking} onStop={stop} />
      )}
      {told !== null && <p className="text-fault">{told}</p>}
      {move !== undefined && (
        <p className="text-soft" data-enlarged={enlarged.toFixed(3)}>
          Enlarged to {Math.round(1000 * enlarged) / 10} %, just enough that no border shows. Its curves are lanes in Move.
        </p>
      )}
    </Section>
  );
}

/** Follows the camera of the other shot, and gives what this one would do with it. `taking` is the share done; null while nothing is. */
function useTakenMove(placed: PlacedJoin, side: ShotSide, when: When, onTaken: (move: ShotMove) => void) {
  const { frames } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [taking, setTaking] = useState<number | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const stopped = useRef(false);
  const other = side === 'leaving' ? 'entering' : 'leaving';
  const take = async (): Promise<void> => {
    const source = mediumOf(media, placed[other]);
    const frameSpan = source === null ? null : takenFrames(placed, side, when, handlesOf(film, placed[other], source));
    if (frameSpan === null) return setTold(`${placed[other].name} has no pictures there.`);
    stopped.current = false;
    setTold(null);
    setTaking(0);
    try {
      const planAt = (at: number) => planShot(film, media, placed, other, at);
      const steps: Placement[] = [];
      for (let at = frameSpan.from; at + 1 < frameSpan.to; at++) {
        const step = stopped.current ? null : await frames.step(planAt(at), planAt(at + 1), OWNER);
        if (step === null) return;
        steps.push(step);
        setTaking(steps.length / (frameSpan.to - frameSpan.from - 1));
      }
      // a shot that comes in stands as it is framed on its first frame, one that goes on its last
      const standsAt = side === 'entering' ? 0 : steps.length;
      onTaken(movedAlong(pathOfSteps(steps), SIGNS_WIDTH, film.width, frameSpan.lands, standsAt));
    } catch (error) {
      setTold(`The pictures could not be loaded: ${(error as Error).message}`);
    } finally {
      setTaking(null);
    }
  };
  const stop = (): void => {
    stopped.current = true;
    frames.dropMeasures(OWNER);
  };
  return { take, taking, told, stop };
}

const short = (name: string): string => (name.length > 14 ? `${name.slice(0, 13)}…` : name);

/**
 * The film frames of the other shot whose movement is taken, and the frame of the moved shot that the first of them falls on; null where
 * it has no two pictures.
 */
function takenFrames(
  placed: PlacedJoin,
  side: ShotSide,
  when: When,
  handles: { readonly before: number; readonly after: number },
): { readonly from: number; readonly to: number; readonly lands: number } | null {
  const { cut, leaving, entering } = placed;
  const start = startsAround(placed)[side];
  const most = Math.min(MOST_TAKEN, placed[side].length);
  if (when === 'at the cut') {
    const count = Math.min(most, leaving.length, entering.length);
    if (count < 2) return null;
    return side === 'entering' ? { from: cut - count, to: cut, lands: 0 } : { from: cut, to: cut + count, lands: leaving.length - count };
  }
  // from its own first frame of the overlap on, as far as the other one has pictures
  const [from, to] =
    side === 'entering'
      ? [placed.from, Math.min(cut + entering.length, cut + handles.after, placed.from + most)]
      : [Math.max(cut - leaving.length, cut - handles.before, placed.to - most), placed.to];
  return to - from < 2 ? null : { from, to, lands: from - start };
}

/** Whether a move goes across the picture already. */
const hasWay = (move: Shot['move']): boolean => move !== undefined && (typeof move.x !== 'number' || typeof move.y !== 'number');
