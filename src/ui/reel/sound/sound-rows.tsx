'use client';
import { Volume2, VolumeX, X } from 'lucide-react';
import { useState, type DragEvent } from 'react';
import { addClip, removeSoundLane, setShotSound, setSoundLane } from '../../../core/film/edits/sound';
import { changeOf } from '../../../core/sound/plan-sound';
import { frameOfSample } from '../../../core/sound/samples';
import { SOUND_RATE, PLAIN_SOUND } from '../../../core/film/sound';
import { nearestTarget, snapTargets } from '../../../core/film/snap';
import type { Film, Shot } from '../../../core/film/film';
import { mediumPlaceAt, placedJoins, startOfShot } from '../../../core/film/timing';
import { toNumber } from '../../../core/geometry/rational';
import { SOUND_DRAG_TYPE } from '../../shelf/drag-types';
import { useFilm, useTools } from '../../store/film-context';
import { Wave } from '../../sound/wave';
import { chooseClip, useReelChoice } from '../../store/reel-choice';
import { ClipBlock } from './clip-block';
import type { NamedChange } from './clip-drag';
import { DROP_ROW, GAP, LANE_ROW, SHOTS_ROW, SNAP_PX } from './sizes';
import { newId } from '../../store/new-id';

interface SoundRowsProps {
  /** The film as it is shown, with what is being dragged. */
  readonly film: Film;
  readonly perFrame: number;
  readonly pad: number;
  readonly top: number;
  /** CSS pixels of the reel that are seen. */
  readonly view: { readonly from: number; readonly to: number };
  readonly onPreview: (change: NamedChange | null) => void;
  readonly onFrame: (frame: number) => void;
}

/** What is heard, under the shots: their own sound, and lanes of music and effects. */
export function SoundRows({ film, perFrame, pad, top, view, onPreview, onFrame }: SoundRowsProps) {
  const { store } = useTools();
  const { film: stored, media, sounds } = useFilm('film', 'media', 'sounds');
  const { clipId, snaps } = useReelChoice();
  const [over, setOver] = useState<string | null>(null);
  const lanes = film.soundLanes ?? [];
  const laneTop = (i: number): number => top + SHOTS_ROW + GAP + i * (LANE_ROW + GAP);
  const targets = (without: readonly string[] = []): number[] => (snaps ? snapTargets(stored, media, without) : []);
  const dropped = (event: DragEvent, laneId: string | null): void => {
    setOver(null);
    const sound = sounds.get(event.dataTransfer.getData(SOUND_DRAG_TYPE));
    if (sound === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const row = event.currentTarget.getBoundingClientRect();
    const at = Math.max(0, (event.clientX - row.left - pad) / perFrame);
    const start = nearestTarget(at, targets(), SNAP_PX / perFrame) ?? at;
    store.edit(`Added ${sound.name} to the sound lanes`, (d) => void addClip(d, laneId, sound, start, newId));
  };
  const drop = (laneId: string | null) => ({
    onDragOver: (event: DragEvent) => {
      if (!event.dataTransfer.types.includes(SOUND_DRAG_TYPE)) return;
      event.preventDefault();
      event.stopPropagation();
      setOver(laneId ?? 'new');
    },
    onDragLeave: () => setOver(null),
    onDrop: (event: DragEvent) => dropped(event, laneId),
  });
  return (
    <div role="group" aria-label="Sound">
      {film.shots.map((shot) => (
        <ShotWave key={shot.id} film={film} shot={shot} perFrame={perFrame} pad={pad} top={top} view={view} />
      ))}
      {lanes.map((lane, i) => (
        <div key={lane.id} role="group" aria-label={`Lane ${lane.name}`} data-lane={lane.id}>
          <div
            data-empty
            className={`absolute inset-x-0 border-b border-rule ${over === lane.id ? 'bg-entering/20' : 'bg-paper/50'}`}
            style={{ top: laneTop(i), height: LANE_ROW }}
            {...drop(lane.id)}
          >
            <div className="sticky left-0 z-20 flex w-fit items-center">
              <button
                type="button"
                aria-pressed={lane.muted}
                aria-label={lane.muted ? `Hear lane ${lane.name}` : `Mute lane ${lane.name}`}
                title={lane.muted ? `Hear ${lane.name}` : `Mute ${lane.name}`}
                className="p-0.5 hover:bg-pressed"
                onClick={() =>
                  store.edit(`${lane.muted ? 'Heard' : 'Muted'} ${lane.name}`, (d) => setSoundLane(d, lane.id, { muted: !lane.muted }))
                }
              >
                {lane.muted ? <VolumeX size={11} /> : <Volume2 size={11} />}
              </button>
              {lane.clips.length === 0 && (
                <button
                  type="button"
                  aria-label={`Delete lane ${lane.name}`}
                  className="p-0.5 hover:bg-pressed"
                  onClick={() => store.edit(`Deleted lane ${lane.name}`, (d) => removeSoundLane(d, lane.id))}
                >
                  <X size={11} />
                </button>
              )}
            </div>
          </div>
          {lane.clips.map((clip) => (
            <ClipBlock
              key={clip.id}
              film={stored}
              clip={clip}
              sound={sounds.get(clip.mediumId)}
              isMuted={lane.muted}
              selected={clip.id === clipId}
              perFrame={perFrame}
              left={pad + clip.start * perFrame}
              top={laneTop(i)}
              view={view}
              targets={() => targets([clip.id])}
              onSelect={() => chooseClip(clip.id)}
              onPreview={onPreview}
              onCommit={({ name, change }) => store.edit(name, change)}
              onClick={(frame) => onFrame(Math.floor(frame))}
            />
          ))}
        </div>
      ))}
      <div
        data-empty
        className={`absolute inset-x-0 text-[11px] text-soft ${over === 'new' ? 'bg-entering/20' : ''}`}
        style={{ top: laneTop(lanes.length), height: DROP_ROW }}
        data-testid="new-lane"
        {...drop(null)}
      >
        {sounds.size > 0 && (
          <span className="sticky left-0 inline-block px-4 leading-[22px]">
            {lanes.length === 0
              ? 'Drag a sound from the shelf here: music and effects lie in lanes of their own.'
              : 'Drag a sound here for another lane.'}
          </span>
        )}
      </div>
    </div>
  );
}

interface ShotWaveProps {
  readonly film: Film;
  readonly shot: Shot;
  readonly perFrame: number;
  readonly pad: number;
  readonly top: number;
  readonly view: { readonly from: number; readonly to: number };
}

/** The sound of a shot, from where it comes in to where it goes over to the next. */
function ShotWave({ film, shot, perFrame, pad, top, view }: ShotWaveProps) {
  const { store } = useTools();
  const { media, sounds } = useFilm('media', 'sounds');
  const sound = sounds.get(shot.mediumId);
  const medium = media.get(shot.mediumId);
  if (sound === undefined || medium === undefined) return null;
  const start = startOfShot(film, shot.id);
  const joins = placedJoins(film);
  const before = joins.find((p) => p.entering.id === shot.id);
  const after = joins.find((p) => p.leaving.id === shot.id);
  const from = before === undefined ? start : frameOfSample(film.rate, changeOf(film, before).enters);
  const to = after === undefined ? start + shot.length : frameOfSample(film.rate, changeOf(film, after).leaves);
  const left = pad + from * perFrame;
  const width = Math.max(2, (to - from) * perFrame);
  const shownFrom = Math.max(0, view.from - left);
  const shownTo = Math.min(width, view.to - left);
  const { muted } = shot.sound ?? PLAIN_SOUND;
  const perMediumFrame = SOUND_RATE / toNumber(medium.rate);
  return (
    <div
      className={`absolute overflow-hidden rounded-[3px] border border-rule bg-leaving/8 ${muted ? 'opacity-40' : ''}`}
      style={{ left, top, width, height: SHOTS_ROW }}
      title={`Sound of ${shot.name}${muted ? ', muted' : ''}`}
      data-shot-sound={shot.id}
      onDoubleClick={() => store.edit(`${muted ? 'Heard' : 'Muted'} ${shot.name}`, (d) => setShotSound(d, shot.id, { muted: !muted }))}
    >
      {shownTo > shownFrom && (
        <Wave
          sound={sound}
          left={shownFrom}
          width={shownTo - shownFrom}
          height={SHOTS_ROW - 2}
          sampleAt={(x) => mediumPlaceAt(film, shot, medium, from - start + (x + shownFrom) / perFrame) * perMediumFrame}
          fills
          version={`${shot.inFrame} ${from} ${shownFrom} ${perFrame} ${JSON.stringify(shot.time ?? null)}`}
          colour="text-leaving"
        />
      )}
    </div>
  );
}
