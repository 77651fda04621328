'use client';
import { kindOf } from '../../core/film/film';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useMemo, useEffect, useState } from 'react';
import { moveShot, removeShot, trimEnd, trimStart } from '../../core/film/edits';
import { filmLength, placedJoins, startOfShot } from '../../core/film/timing';
import { toNumber } from '../../core/geometry/rational';
import { FULL_QUALITY, type PlanQuality } from '../../core/plan/planner';
import { planFrame } from '../../core/plan/plan-film';
import { changedFilm } from '../../core/film/history';
import type { PreviewChange } from '../store/preview';
import { FilmSection } from './film-section';
import { FramingOverlay } from './framing-overlay';
import { ShotFraming, ShotTime } from './shot-time';
import type { Drawing } from '../../core/plan/plan-views';
import { useCommands } from '../commands/use-commands';
import { setAddress } from '../parts/address';
import { IconButton } from '../parts/button';
import { useOneStop } from '../parts/one-stop';
import { Header } from '../room/header';
import { RoomLayout } from '../room/room-layout';
import { Section } from '../parts/section';
import { Shelf } from '../shelf/shelf';
import { playHandlers, usePlayback } from '../stage/playback';
import { previewSize, Stage } from '../stage/stage';
import { Transport } from '../stage/transport';
import { useFilm, useTools } from '../store/film-context';
import { Magnet } from 'lucide-react';
import { hint } from '../commands/commands';
import { Reel } from './reel';
import { chooseClip, chooseNoJoin, leaveClip, toggleJoin, toggleSnapping, useReelChoice } from './reel-choice';
import { BeatsSection } from './sound/beats-section';
import { ClipDetails } from './sound/clip-details';
import { MarkersSection } from './sound/markers-section';
import { ShotSoundSection } from './sound/shot-sound-section';
import { rowsHeight, SOUND_TOP } from './sound/sizes';
import { SpreadSection } from './sound/spread-section';
import { useSoundWork } from './sound/use-sound-work';
import { ReelFindings, useFoundFrames } from './reel-findings';
import { RecipeOnJoins } from './recipe-on-joins';
import { ShotDetails } from './shot-details';

const newId = (): string => crypto.randomUUID();

const frameFromAddress = (): number => {
  const text = new URLSearchParams(location.search).get('frame') ?? '';
  return /^\d{1,7}$/.test(text) ? Number(text) : 0;
};

/** The reel: the film as a line of shots with the joins between them. */
export function ReelRoom() {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const router = useRouter();
  const length = filmLength(film);
  const [wanted, setWanted] = useState(frameFromAddress);
  const joinList = useOneStop<HTMLUListElement>();
  const [selectedId, setSelectedId] = useState<string | null>(null);
  const [zoom, setZoom] = useState<number | null>(null);
  const frame = Math.max(0, Math.min(length - 1, wanted));
  const setFrame = useCallback((next: number) => setWanted(Math.max(0, Math.min(length - 1, next))), [length]);
  useEffect(() => {
    const timer = setTimeout(() => setAddress({ frame }), 150);
    return () => clearTimeout(timer);
  }, [frame]);
  // what a drag shows before it is stored
  const [previewed, setPreviewed] = useState<PreviewChange | null>(null);
  const preview = useCallback((change: PreviewChange) => setPreviewed(() => change), []);
  useEffect(() => setPreviewed(null), [film]);
  const shown = useMemo(() => (previewed === null ? film : changedFilm(film, previewed)), [film, previewed]);
  const [isPlaying, setPlaying] = useState(false);
  const drawingAt = useCallback(
    (at: number): Drawing => ({ kind: 'picture', plan: planFrame(shown, media, at, isPlaying ? PLAYING : FULL_QUALITY) }),
    [shown, media, isPlaying],
  );
  const framesPerSecond = toNumber(film.rate);
  const playback = usePlayback({
    from: 0,
    to: Math.max(1, length),
    film,
    frame,
    setFrame,
    drawingAt: length > 0 ? drawingAt : emptyDrawing(film.width, film.height),
    ...previewSize(film.width, film.height),
  });
  useEffect(() => setPlaying(playback.playing), [playback.playing]);
  const selected = shown.shots.find((s) => s.id === selectedId) ?? null;
  const { alsoShots, clipId, snaps, joins: chosenJoins } = useReelChoice();
  const sound = useSoundWork(frame, selected, playback);
  const medium = selected === null ? undefined : media.get(selected.mediumId);
  const framing = typeof selected?.framing === 'object' ? selected.framing : null;
  const chosenShots = shown.shots.filter((s) => s.id === selectedId || alsoShots.has(s.id)).map((s) => s.id);
  const joins = useMemo(() => placedJoins(film), [film]);
  const found = useFoundFrames(joins);
  const step = (by: number): void => {
    playback.setSpeed(0);
    setFrame(frame + by);
  };
  const cuts = joins.map((j) => j.cut);
  const remove = (): void => {
    if (selected === null) return;
    store.edit(`Removed ${selected.name} from the reel`, (d) => removeShot(d, selected.id, newId));
    setSelectedId(null);
  };
  const chooseShot = (id: string): void => {
    leaveClip();
    setSelectedId(id);
  };
  /** Chooses the shot `by` places on from the chosen one, or the one under the playhead, and goes to its first frame. */
  const choose = (by: number): void => {
    const at = selected === null ? -1 : film.shots.indexOf(selected);
    const under = film.shots.findIndex((s) => frame < startOfShot(film, s.id) + s.length);
    const next = film.shots[at < 0 ? under : Math.max(0, Math.min(film.shots.length - 1, at + by))];
    if (next === undefined) return;
    chooseShot(next.id);
    setFrame(startOfShot(film, next.id));
  };
  const move = (by: number): void => {
    const index = selected === null ? -1 : film.shots.indexOf(selected) + by;
    if (selected !== null && index >= 0 && index < film.shots.length)
      store.edit(`Moved ${selected.name}`, (d) => moveShot(d, selected.id, index, newId));
  };
  /** Lets the chosen shot begin or end on the frame under the playhead. */
  const trimHere = (end: 'start' | 'end'): void => {
    const medium = selected === null ? undefined : media.get(selected.mediumId);
    if (selected === null || medium === undefined) return;
    const start = startOfShot(film, selected.id);
    const by = end === 'start' ? frame - start : frame + 1 - start - selected.length;
    store.edit(`Trimmed the ${end} of ${selected.name}`, (d) => (end === 'start' ? trimStart : trimEnd)(d, medium, selected.id, by, newId));
    if (end === 'start') setFrame(start);
  };
  const openNearest = (): void => {
    const [nearest] = [...joins].sort((a, b) => Math.abs(a.cut - frame) - Math.abs(b.cut - frame));
    if (nearest !== undefined) router.push(`/films/${store.filmId}/joins/${nearest.join.id}`);
  };
  useCommands({
    ...(length > 0 ? playHandlers(playback) : {}),
    stepBack: () => step(-1),
    stepOn: () => step(1),
    tenBack: () => step(-10),
    tenOn: () => step(10),
    previousCut: () => setFrame(cuts.findLast((c) => c < frame) ?? 0),
    nextCut: () => setFrame(cuts.find((c) => c > frame) ?? length - 1),
    first: () => setFrame(0),
    last: () => setFrame(length - 1),
    previousShot: () => choose(-1),
    nextShot: () => choose(1),
    trimStart: () => trimHere('start'),
    trimEnd: () => trimHere('end'),
    moveEarlier: () => move(-1),
    moveLater: () => move(1),
    removeShot: remove,
    previousFinding: () => setFrame(found.findLast((f) => f < frame) ?? frame),
    nextFinding: () => setFrame(found.find((f) => f > frame) ?? frame),
    openJoin: openNearest,
    chooseNoShot: () => {
      setSelectedId(null);
      chooseClip(null);
      chooseNoJoin();
    },
    ...sound.handlers,
  });
  const hasRamp = typeof selected?.time?.speed === 'object';
  const missing = length > 0 ? planFrame(film, media, frame).missing : [];
  return (
    <RoomLayout
      name="reel"
      bottomHolds={hasRamp ? 'ramp' : `lanes-${film.soundLanes?.length ?? 0}`}
      bottomHeight={hasRamp ? 300 : SOUND_TOP + rowsHeight(film.soundLanes?.length ?? 0) + 14}
      top={<Header joinId={null} place={<h1 className="truncate font-semibold">{film.name}</h1>} />}
      leftLabel="Shelf"
      left={<Shelf />}
      stage={
        <Stage
          filmWidth={film.width}
          filmHeight={film.height}
          drawing={length > 0 ? drawingAt(frame) : null}
          caption={length > 0 ? `film, frame ${frame}` : 'empty film'}
          {...(selected !== null && medium !== undefined && framing !== null
            ? {
                overlay: (toStage, size) => (
                  <FramingOverlay
                    film={shown}
                    shot={selected}
                    medium={medium}
                    own={framing}
                    toStage={toStage}
                    size={size}
                    onPreview={preview}
                  />
                ),
              }
            : {})}
          footer={
            missing.length > 0 ? (
              <span className="text-[#ffb4a8]">{missing[0]!.shotName} has no picture here</span>
            ) : (
              <span className="font-mono">
                {film.width} × {film.height}
              </span>
            )
          }
        />
      }
      rightLabel="Details"
      right={
        <>
          {alsoShots.size > 0 && <SpreadSection shotIds={chosenShots} />}
          {sound.clip !== null && <ClipDetails clipId={sound.clip.id} frame={frame} />}
          {clipId === null && selected !== null && <ShotDetails shot={selected} onRemoved={() => setSelectedId(null)} />}
          {clipId === null && selected !== null && medium !== undefined && (
            <>
              <ShotSoundSection shot={selected} frame={frame - startOfShot(shown, selected.id)} />
              <ShotTime shot={selected} medium={medium} />
              <ShotFraming shot={selected} onPreview={preview} />
            </>
          )}
          {sound.mediumId !== null && <BeatsSection mediumId={sound.mediumId} second={sound.second} taps={sound.taps} />}
          <MarkersSection frame={frame} onFrame={setFrame} mediumId={sound.mediumId} second={sound.second} />
          {chosenJoins.size > 0 && <RecipeOnJoins chosen={joins.filter((p) => chosenJoins.has(p.join.id))} />}
          <FilmSection />
          <Section title="Joins">
            {joins.length === 0 && (
              <p className="text-soft">Add two shots to the reel. The knot between them is a join: open it to work on it.</p>
            )}
            <ul {...joinList} className="flex flex-col">
              {joins.map(({ join, from, to }) => (
                <li key={join.id} className="flex items-baseline gap-1.5">
                  <input
                    type="checkbox"
                    aria-label={`Choose ${join.name}`}
                    className="accent-ink"
                    checked={chosenJoins.has(join.id)}
                    onChange={() => toggleJoin(join.id)}
                  />
                  <Link
                    href={`/films/${store.filmId}/joins/${join.id}`}
                    className="-mr-1.5 flex min-w-0 grow items-baseline justify-between rounded px-1.5 py-1 hover:bg-pressed"
                  >
                    <span className="truncate font-semibold">{join.name}</span>
                    <span className="shrink-0 pl-2 text-[11.5px] text-soft">
                      {kindOf(join) === 'cut' && to === from ? 'plain cut' : `${kindOf(join)}, ${to - from} fr`}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </Section>
          <ReelFindings
            joins={joins}
            onGoTo={(at) => {
              playback.setSpeed(0);
              setFrame(at);
            }}
          />
          {selected === null && film.shots.length > 0 && (
            <p className="px-3.5 py-3 text-soft">Click a shot to see its numbers. Drag it to another place, or drag its ends to trim it.</p>
          )}
        </>
      }
      barLeft={
        <span className="flex items-center gap-2 px-3.5">
          Reel{' '}
          <span className="font-mono">
            {film.shots.length} shots, {length} fr
          </span>
        </span>
      }
      bar={
        <Transport
          film={film}
          frame={Math.max(0, frame)}
          length={length}
          onGoTo={(next) => {
            playback.setSpeed(0);
            setFrame(next);
          }}
          playback={playback}
          framesPerSecond={framesPerSecond}
          onStep={step}
          onFirst={() => setFrame(0)}
          onLast={() => setFrame(length - 1)}
        />
      }
      barRight={
        <span className="flex items-center justify-end gap-1 px-3 text-soft">
          <button
            type="button"
            aria-pressed={snaps}
            title={hint('snapOnOff', snaps ? 'Edges snap to cuts, sounds, markers and beats' : 'Edges do not snap')}
            className={`mr-auto inline-flex items-center gap-1 rounded px-1.5 ${snaps ? 'bg-pressed text-ink' : ''}`}
            onClick={toggleSnapping}
          >
            <Magnet size={12} /> snap
          </button>
          <IconButton label="Zoom out" onClick={() => setZoom(Math.max(0.05, (zoom ?? 2.5) / 1.5))}>
            −
          </IconButton>
          <IconButton label="Zoom in" onClick={() => setZoom(Math.min(40, (zoom ?? 2.5) * 1.5))}>
            +
          </IconButton>
          <button type="button" className="rounded px-1.5 hover:bg-pressed" onClick={() => setZoom(null)}>
            fit
          </button>
        </span>
      }
      bottomLabel="Reel"
      bottom={<Reel frame={frame} onFrame={setFrame} selectedId={selectedId} onSelect={chooseShot} zoom={zoom} onPreview={preview} />}
    />
  );
}

/** While playing, a layer is blurred by so many samples at most. */
const PLAYING: PlanQuality = { samples: 5 };

const emptyDrawing = (width: number, height: number) => (): Drawing => ({
  kind: 'picture',
  plan: { width, height, layers: [], finish: [], background: null, missing: [] },
});
