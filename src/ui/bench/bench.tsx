'use client';
import { bringBack, joinsAside } from '../../core/film/edits/aside';
import { useEffect, useMemo } from 'react';
import { kindOf } from '../../core/film/film';
import { framesText, placeJoin, type PlacedJoin } from '../../core/film/timing';
import { Button } from '../parts/button';
import { Header } from '../room/header';
import { RoomLayout } from '../room/room-layout';
import { RoomLink } from '../room/room-link';
import { Transport } from '../stage/transport';
import { LiveFrameContext } from '../store/live-frame';
import { useFilm, useTools } from '../store/film-context';
import { benchActions } from './work/bench-actions';
import { select, useBench } from '../store/bench-state';
import { BenchPanel } from './bench-panel';
import { BenchStage } from './stage/bench-stage';
import { STEP_TEXT, StepTabs } from './common/bench-tabs';
import { BenchWeave } from './stage/bench-weave';
import { LayersPanel } from './layers/layers-panel';
import { stepStates } from './work/step-states';
import { useBenchCommands } from './work/use-bench-commands';
import { useBenchWork, type BenchWork } from './work/use-bench-work';
import { useKinds } from './work/use-kinds';
import { newId } from '../store/new-id';

/** The bench: one join, opened. */
export function Bench({ joinId }: { readonly joinId: string }) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const placed = useMemo(() => placeJoin(film, joinId), [film, joinId]);
  if (placed !== null) return <OpenBench placed={placed} />;
  return (
    <>
      <Header place={<RoomLink filmId={store.filmId} name={film.name} />} joinId={null} />
      <MissingJoin joinId={joinId} />
    </>
  );
}

/** What is said of a join that is on no cut; one that was put aside can be brought back. */
function MissingJoin({ joinId }: { readonly joinId: string }) {
  const { store } = useTools();
  const { film } = useFilm('film');
  if (!joinsAside(film).some((a) => a.join.id === joinId))
    return <p className="p-8">This join is not on the reel: it is no longer in this film, or never was.</p>;
  return (
    <div className="flex flex-col items-start gap-3 p-8">
      <p>This join is not on the reel: its shots are no longer side by side, so it was put aside.</p>
      <Button tone="ink" onClick={() => store.edit('Brought a join back', (d) => bringBack(d, joinId, newId))}>
        Bring it back
      </Button>
    </div>
  );
}

/** Places panel, stage, weave and transport of one join. */
function OpenBench({ placed }: { readonly placed: PlacedJoin }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const work = useBenchWork(placed);
  const actions = benchActions(store, media, work);
  const { join, place, frame, setFrame, playback, shownPlaced } = work;
  const kinds = useKinds(placed, work.report);
  useBenchCommands(work, actions);
  // in Move what carries the join is selected at first, so that its curves are there
  const first = work.hasLanes ? join.carriers[0]?.id : undefined;
  useEffect(() => {
    if (first !== undefined && useBench.getState().selected === null) select({ kind: 'carrier', id: first });
  }, [first]);
  return (
    <LiveFrameContext value={playback.live}>
      <RoomLayout
        name="bench"
        bottomHolds={`${place.step}-${work.weaveForm}-${work.soundRows}`}
        bottomHeight={bottomHeight(work)}
        top={
          <>
            <Header
              joinId={join.id}
              place={
                <>
                  <RoomLink filmId={store.filmId} name={film.name} />
                  <span className="text-soft">▸</span>
                  <h1 className="truncate font-semibold">{join.name}</h1>
                </>
              }
            />
            <StepTabs step={place.step} done={stepStates(work)} kind={kindOf(join)} onStep={actions.openStep} />
          </>
        }
        leftLabel="Layers"
        left={
          <LayersPanel
            placed={placed}
            frame={frame}
            matteId={work.matte?.id ?? null}
            onSelectMatte={actions.selectMatte}
            onAddMatte={actions.addMatteOf}
          />
        }
        stage={<BenchStage work={work} actions={actions} />}
        rightLabel={`${STEP_TEXT[place.step]} controls`}
        right={<BenchPanel work={work} actions={actions} kinds={kinds} />}
        barLeft={
          <span className="flex items-center gap-2 px-3.5">
            Overlap <span className="font-mono">{framesText(shownPlaced.to - shownPlaced.from)}</span>
          </span>
        }
        bar={
          <Transport
            film={film}
            frame={frame}
            length={work.length}
            onGoTo={(next) => {
              playback.setSpeed(0);
              setFrame(next);
            }}
            playback={playback}
            framesPerSecond={work.framesPerSecond}
            onStep={actions.step}
            onFirst={() => setFrame(placed.from)}
            onLast={() => setFrame(Math.max(placed.from, placed.to - 1))}
          />
        }
        barRight={<FoundText work={work} />}
        bottomLabel="Weave"
        bottom={<BenchWeave work={work} actions={actions} />}
      />
    </LiveFrameContext>
  );
}

/** Heights of the weave's forms at first, in CSS pixels: their rows, and what a row of sound adds. */
const WEAVE_HEIGHT = { low: { rows: 108, sound: 10 }, tall: { rows: 166, sound: 16 } } as const;
const LANES_HEIGHT = 100;

/** The height of the weave at first: the picture on the stage keeps its room in every step. */
function bottomHeight({ hasLanes, weaveForm, soundRows }: BenchWork): number {
  const { rows, sound } = WEAVE_HEIGHT[weaveForm];
  return rows + (hasLanes ? LANES_HEIGHT : 0) + sound * soundRows;
}

/** How many issues Check has found. */
function FoundText({ work: { findings, checked } }: { readonly work: BenchWork }) {
  const some = `${findings.length} ${findings.length === 1 ? 'issue' : 'issues'}`;
  return (
    <span className={`flex items-center px-3.5 ${findings.length > 0 ? 'text-fault' : 'text-soft'}`}>
      {findings.length > 0 ? some : checked.isComplete ? 'No issues' : 'Checking…'}
    </span>
  );
}
