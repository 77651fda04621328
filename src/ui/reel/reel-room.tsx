'use client';
import { useState } from 'react';
import { Header } from '../room/header';
import { RoomLayout } from '../room/room-layout';
import { Shelf } from '../shelf/shelf';
import { Transport } from '../stage/transport';
import { Reel } from './reel';
import { ReelDetails } from './reel-details';
import { ReelStage } from './reel-stage';
import type { Drag } from './shot-drag';
import { SourceBar, SourceStage } from './source-view';
import { TrimPictures } from './trim-pictures';
import { cutOfDrag } from './use-shot-drag';
import { ReelZoom } from './reel-zoom';
import { rowsHeight, SOUND_TOP } from './sound/sizes';
import { useReelCommands } from './use-reel-commands';
import { LiveFrameContext } from '../store/live-frame';
import { useReelChoice } from '../store/reel-choice';
import { useSource } from './use-source';
import { useReelWork } from './use-reel-work';

/** The reel: the film as a line of shots with the joins between them. */
export function ReelRoom() {
  const work = useReelWork();
  const [trim, setTrim] = useState<Drag | null>(null);
  const { film, frame, setFrame, length, playback, selected } = work;
  const lookedAtId = useReelChoice((s) => s.lookedAtId);
  const source = useSource(lookedAtId === null ? null : (work.media.get(lookedAtId) ?? null), frame);
  useReelCommands(work, source !== null);
  const lanes = film.soundLanes?.length ?? 0;
  const hasRamp = typeof selected?.time?.speed === 'object';
  return (
    <LiveFrameContext value={playback.live}>
      <RoomLayout
        name="reel"
        bottomHolds={hasRamp ? 'ramp' : `lanes-${lanes}`}
        bottomHeight={hasRamp ? 300 : SOUND_TOP + rowsHeight(lanes) + 26}
        top={<Header joinId={null} place={<h1 className="truncate font-semibold">{film.name}</h1>} />}
        leftLabel="Shelf"
        left={<Shelf />}
        stage={
          trim !== null && cutOfDrag(film, trim) !== null ? (
            <TrimPictures drag={trim} />
          ) : source !== null ? (
            <SourceStage source={source} />
          ) : (
            <ReelStage work={work} />
          )
        }
        rightLabel="Details"
        right={<ReelDetails work={work} />}
        barLeft={
          <span className="flex items-center gap-2 px-3.5">
            Reel{' '}
            <span className="font-mono">
              {film.shots.length} shots, {length} fr
            </span>
          </span>
        }
        bar={
          source !== null ? (
            <SourceBar source={source} />
          ) : (
            <Transport
              film={film}
              frame={frame}
              length={length}
              onGoTo={(next) => {
                playback.setSpeed(0);
                setFrame(next);
              }}
              playback={playback}
              framesPerSecond={work.framesPerSecond}
              onStep={work.step}
              onFirst={() => setFrame(0)}
              onLast={() => setFrame(length - 1)}
            />
          )
        }
        barRight={<ReelZoom />}
        bottomLabel="Reel"
        bottom={<Reel frame={frame} onFrame={setFrame} onPreview={work.preview} onTrim={setTrim} shotActions={work.shotActions} />}
      />
    </LiveFrameContext>
  );
}
