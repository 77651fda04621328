'use client';
import Link from 'next/link';
import { useCallback, useEffect, useState } from 'react';
import { removeShot } from '../../core/film/edits';
import { filmLength, formatTimecode, placedJoins } from '../../core/film/timing';
import { toNumber } from '../../core/geometry/rational';
import { planFrame } from '../../core/render/plan';
import type { Drawing } from '../../core/render/views';
import { setAddress } from '../parts/address';
import { IconButton } from '../parts/button';
import { Header } from '../parts/header';
import { RoomLayout } from '../parts/room-layout';
import { Section } from '../parts/section';
import { historyKeys, useKeys } from '../parts/use-keys';
import { Shelf } from '../shelf/shelf';
import { playKeys, usePlayback } from '../stage/playback';
import { previewSize, Stage } from '../stage/stage';
import { Transport } from '../stage/transport';
import { useFilm, useTools } from '../store/film-context';
import { Reel } from './reel';
import { ShotDetails } from './shot-details';

const frameFromAddress = (): number => {
  const text = new URLSearchParams(location.search).get('frame') ?? '';
  return /^\d{1,7}$/.test(text) ? Number(text) : 0;
};

/** The reel: the film as a line of shots with the joins between them. */
export function ReelRoom() {
  const { store } = useTools();
  const { film, media } = useFilm();
  const length = filmLength(film);
  const [wanted, setWanted] = useState(frameFromAddress);
  const [selectedId, setSelectedId] = useState<string | null>(null);
  const [zoom, setZoom] = useState<number | null>(null);
  const frame = Math.max(0, Math.min(length - 1, wanted));
  const setFrame = useCallback((next: number) => setWanted(Math.max(0, Math.min(length - 1, next))), [length]);
  useEffect(() => {
    const timer = setTimeout(() => setAddress({ frame }), 150);
    return () => clearTimeout(timer);
  }, [frame]);
  const drawingAt = useCallback((at: number): Drawing => ({ kind: 'picture', plan: planFrame(film, media, at) }), [film, media]);
  const framesPerSecond = toNumber(film.rate);
  const playback = usePlayback({
    from: 0,
    to: Math.max(1, length),
    framesPerSecond,
    frame,
    setFrame,
    drawingAt: length > 0 ? drawingAt : emptyDrawing(film.width, film.height),
    ...previewSize(film.width, film.height),
  });
  const selected = film.shots.find((s) => s.id === selectedId) ?? null;
  const joins = placedJoins(film);
  const step = (by: number): void => {
    playback.setSpeed(0);
    setFrame(frame + by);
  };
  const cuts = joins.map((j) => j.cut);
  const remove = (): void => {
    if (selected === null) return;
    store.edit(`Took ${selected.name} off the reel`, (d) => removeShot(d, selected.id, () => crypto.randomUUID()));
    setSelectedId(null);
  };
  useKeys({
    ...(length > 0 ? playKeys(playback) : {}),
    ...historyKeys(store),
    ArrowLeft: () => step(-1),
    ArrowRight: () => step(1),
    'Shift+ArrowLeft': () => setFrame(cuts.findLast((c) => c < frame) ?? 0),
    'Shift+ArrowRight': () => setFrame(cuts.find((c) => c > frame) ?? length - 1),
    Home: () => setFrame(0),
    End: () => setFrame(length - 1),
    Delete: remove,
    Backspace: remove,
    Escape: () => setSelectedId(null),
  });
  const missing = length > 0 ? planFrame(film, media, frame).missing : [];
  return (
    <RoomLayout
      name="reel"
      bottomHeight={132}
      top={<Header joinId={null} place={<h1 className="truncate font-semibold">{film.name}</h1>} />}
      left={<Shelf />}
      stage={
        <Stage
          filmWidth={film.width}
          filmHeight={film.height}
          drawing={length > 0 ? drawingAt(frame) : null}
          caption={length > 0 ? `film, frame ${frame}` : 'empty film'}
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
      right={
        <aside aria-label="Details" className="h-full overflow-y-auto border-l border-rule bg-sheet/60">
          {selected !== null && <ShotDetails shot={selected} onRemoved={() => setSelectedId(null)} />}
          <Section title="Joins">
            {joins.length === 0 && (
              <p className="text-soft">Put two shots on the reel: the knot between them is a join. Open it to make it.</p>
            )}
            <ul className="flex flex-col">
              {joins.map(({ join, from, to }) => (
                <li key={join.id}>
                  <Link
                    href={`/films/${store.filmId}/joins/${join.id}`}
                    className="-mx-1.5 flex items-baseline justify-between rounded px-1.5 py-1 hover:bg-pressed"
                  >
                    <span className="truncate font-semibold">{join.name}</span>
                    <span className="shrink-0 pl-2 text-[11.5px] text-soft">
                      {join.kind === 'cut' && to === from ? 'plain cut' : `${join.kind}, ${to - from} fr`}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </Section>
          {selected === null && film.shots.length > 0 && (
            <p className="px-3.5 py-3 text-soft">Click a shot to see its numbers. Drag it to another place, or drag its ends to trim it.</p>
          )}
        </aside>
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
          timecode={formatTimecode(film, frame)}
          note={`frame ${frame} of ${length}`}
          playback={playback}
          framesPerSecond={framesPerSecond}
          onStep={step}
          onFirst={() => setFrame(0)}
          onLast={() => setFrame(length - 1)}
        />
      }
      barRight={
        <span className="flex items-center justify-end gap-1 px-3 text-soft">
          <IconButton label="Show more of the reel" onClick={() => setZoom(Math.max(0.05, (zoom ?? 2.5) / 1.5))}>
            −
          </IconButton>
          <IconButton label="Show less of the reel, larger" onClick={() => setZoom(Math.min(40, (zoom ?? 2.5) * 1.5))}>
            +
          </IconButton>
          <button type="button" className="rounded px-1.5 hover:bg-pressed" onClick={() => setZoom(null)}>
            fit
          </button>
        </span>
      }
      bottom={<Reel frame={frame} onFrame={setFrame} selectedId={selectedId} onSelect={setSelectedId} zoom={zoom} />}
    />
  );
}

const emptyDrawing = (width: number, height: number) => (): Drawing => ({
  kind: 'picture',
  plan: { width, height, layers: [], missing: [] },
});
