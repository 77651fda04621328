'use client';
import { Plus, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { addShot } from '../../core/film/edits/reel';
import { takeOffShelf } from '../../core/film/edits/shelf';
import { addClip } from '../../core/film/edits/sound';
import { isUnderWay } from '../../core/film/job';
import { isMixedDown, type MediumFacts, type ShelfMedium, type SoundFacts } from '../../core/film/media-facts';
import { usesOfMedium } from '../../core/film/references';
import { SOUND_RATE } from '../../core/film/sound';
import { toNumber } from '../../core/geometry/rational';
import { ContextMenu, type MenuActions } from '../commands/context-menu';
import { IconButton } from '../parts/button';
import { ProgressBar } from '../parts/progress-bar';
import { NameInput } from '../parts/name-input';
import { call } from '../store/api';
import { useFilm, useJob, useTools } from '../store/film-context';
import { lookAt } from '../store/reel-choice';
import { MEDIUM_DRAG_TYPE, SOUND_DRAG_TYPE } from './drag-types';
import { SoundFace } from './sound-face';
import { titleOf } from './shelf-view';
import { StripTile } from './strip-tile';

const newId = (): string => crypto.randomUUID();

const endOfLane = (lane: { readonly clips: readonly { readonly start: number; readonly length: number }[] } | undefined): number =>
  Math.max(0, ...(lane?.clips ?? []).map((c) => c.start + c.length));

function durationText({ samples }: SoundFacts): string {
  const seconds = samples / SOUND_RATE;
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
}

const soundText = (sound: SoundFacts): string =>
  `${sound.codec} · ${sound.sourceRate / 1000} kHz · ${['', 'mono', 'stereo'][sound.sourceChannels] ?? `${sound.sourceChannels} channels, mixed down to stereo`}`;

interface MediumCardProps {
  readonly medium: ShelfMedium;
  readonly look: 'pictures' | 'list';
  /** Where it lies in the list, CSS pixels, and at which place. */
  readonly top: number;
  readonly index: number;
  readonly ref: (card: HTMLLIElement | null) => void;
}

/** A medium on the shelf: what it is, how far preparing it has come, and what can be done with it. */
export function MediumCard({ medium, look, top, index, ref }: MediumCardProps) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const { facts, sound } = medium;
  const title = titleOf(medium);
  const [isNaming, setNaming] = useState(false);
  const used = film.shots.filter((s) => s.mediumId === medium.id).length;
  const isUsed = usesOfMedium(film, medium.id).length > 0;
  const job = useJob(medium.id, isUnderWay);
  const ready = medium.status === 'ready';
  const remove = (): void => {
    if (ready) {
      store.edit(`Removed ${title} from the shelf`, (d) => takeOffShelf(d, medium.id));
      return;
    }
    call('DELETE', `/api/media/${medium.id}`).then(
      () => store.refreshMedia(),
      (error: Error) => store.notify(error.message),
    );
  };
  const put = (): void => {
    if (facts !== null) store.edit(`Add ${title} to the reel`, (d) => addShot(d, facts, d.shots.length, newId));
    else if (sound !== null)
      store.edit(
        `Added ${title} to the sound lanes`,
        (d) => void addClip(d, d.soundLanes?.[0]?.id ?? null, sound, endOfLane(d.soundLanes?.[0]), newId),
      );
  };
  const rename = (name: string): void => {
    setNaming(false);
    if (name === title) return;
    call('POST', `/api/media/${medium.id}`, { name }).then(
      () => store.refreshMedia(),
      (error: Error) => store.notify(error.message),
    );
  };
  const uses = [...new Set(usesOfMedium(film, medium.id))];
  const actions = (): MenuActions => [
    [
      { label: 'Add to the reel', isDisabled: !ready, onSelect: put },
      { label: 'Look at it', isDisabled: facts === null || !ready, onSelect: () => lookAt(medium.id) },
      { label: 'Rename…', isDisabled: !ready, onSelect: () => setNaming(true) },
      {
        label: 'What uses it',
        onSelect: () => store.notify(uses.length === 0 ? `Nothing uses ${title}.` : `${title} is used by ${uses.join(', ')}.`),
      },
    ],
    [{ label: 'Remove from the shelf', isDisabled: isUsed, onSelect: remove }],
  ];
  return (
    <ContextMenu label={`Media ${title}`} actions={actions}>
      <li
        ref={ref}
        data-index={index}
        className="absolute inset-x-0 rounded-[5px] border border-rule bg-sheet"
        style={{ transform: `translateY(${top}px)` }}
        aria-label={medium.name}
        draggable={ready && !isNaming}
        onDoubleClick={() => facts !== null && ready && !isNaming && lookAt(medium.id)}
        onDragStart={(e) => {
          if (facts !== null) e.dataTransfer.setData(MEDIUM_DRAG_TYPE, medium.id);
          if (sound !== null) e.dataTransfer.setData(SOUND_DRAG_TYPE, medium.id);
          e.dataTransfer.effectAllowed = 'copy';
        }}
      >
        {look === 'pictures' && ready && facts !== null && <ScrubbingPoster facts={facts} />}
        {look === 'pictures' && ready && facts === null && sound !== null && <SoundFace sound={sound} />}
        <div className={`flex items-start gap-1 ${look === 'list' ? 'px-2 py-1' : 'p-2.5 pt-2'}`}>
          <div className="min-w-0 grow">
            {isNaming ? (
              <NameInput label={`Name of ${title}`} value={title} isAsked onDone={rename} className="h-5 w-full font-semibold" />
            ) : (
              <p className="truncate font-semibold" title={medium.name}>
                {title}
              </p>
            )}
            {look === 'pictures' && ready && facts === null && sound !== null && (
              <>
                <p className="font-mono text-[10.5px] text-soft">{durationText(sound)} · sound</p>
                <p className="text-[11px] text-soft">{soundText(sound)}</p>
              </>
            )}
            {ready && medium.error !== null && <p className="text-[11px] text-heed">{medium.error}</p>}
            {look === 'pictures' && ready && facts !== null && (
              <p className="font-mono text-[10.5px] text-soft">
                {facts.width}×{facts.height} ·{' '}
                {facts.kind === 'still' ? 'still' : `${Number(toNumber(facts.rate).toFixed(3))} fps · ${facts.frames} fr`}
                {facts.timecode != null && ` · ${facts.timecode}`}
              </p>
            )}
            {look === 'pictures' && ready && facts !== null && (
              <p className="text-[11px] text-soft">
                {facts.codec}
                {facts.wasVariable ? ' · rate evened out' : ''}
                {sound !== null ? ` · sound${isMixedDown(sound) ? `, ${sound.sourceChannels} channels mixed down` : ''}` : ''}
                {used > 0 ? ` · ${used} on the reel` : ''}
              </p>
            )}
            {medium.status === 'failed' && <p className="text-fault">{medium.error}</p>}
            {(medium.status === 'waiting' || medium.status === 'working') && (
              <>
                <ProgressBar label={`Preparing ${medium.name}`} value={job?.progress ?? 0} />
                <p className="text-soft">{job?.state === 'running' ? `Preparing… ${Math.floor(100 * (job.progress ?? 0))} %` : 'Queued'}</p>
              </>
            )}
          </div>
          {ready && (
            <IconButton label={`Add ${title} to the reel`} onClick={put}>
              <Plus size={15} />
            </IconButton>
          )}
          {!isUsed && (
            <IconButton
              label={
                medium.status === 'waiting' || medium.status === 'working'
                  ? `Stop preparing ${medium.name}`
                  : `Remove ${medium.name} from the shelf`
              }
              onClick={remove}
            >
              {medium.status === 'waiting' || medium.status === 'working' ? <X size={13} /> : <Trash2 size={13} />}
            </IconButton>
          )}
        </div>
      </li>
    </ContextMenu>
  );
}

/** Shows the part of the medium under the pointer, from the strip picture. */
function ScrubbingPoster({ facts }: { readonly facts: MediumFacts }) {
  const [at, setAt] = useState<number | null>(null);
  return (
    <div
      className="relative aspect-video overflow-hidden rounded-t-[4px] bg-well"
      onPointerMove={(e) => setAt((e.clientX - e.currentTarget.getBoundingClientRect().left) / e.currentTarget.clientWidth)}
      onPointerLeave={() => setAt(null)}
      data-testid="poster"
    >
      {at === null ? (
        <img
          src={`/api/media/${facts.id}/poster.jpg`}
          alt={`A frame of ${facts.name}`}
          className="size-full object-cover"
          draggable={false}
        />
      ) : (
        <>
          <StripTile medium={facts} frame={at * facts.frames} boxAspect={16 / 9} />
          <span className="absolute inset-y-0 w-px bg-white/80" style={{ left: `${100 * at}%` }} />
          <span className="absolute right-1 bottom-1 rounded-sm bg-black/60 px-1 font-mono text-[10px] text-white">
            {Math.floor(at * facts.frames)}
          </span>
        </>
      )}
    </div>
  );
}
