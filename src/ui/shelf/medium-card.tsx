'use client';
import { Plus, Trash2, X } from 'lucide-react';
import { useState, type DragEvent, type MouseEvent } from 'react';
import { isUnderWay } from '../../core/film/job';
import { isUsable, type MediumFacts, type ShelfMedium } from '../../core/film/media-facts';
import { usesOfMedium } from '../../core/film/references';
import { ContextMenu } from '../commands/context-menu';
import { IconButton } from '../parts/button';
import { FileButton } from '../parts/file-button';
import { NameInput } from '../parts/name-input';
import { ProgressBar } from '../parts/progress-bar';
import { useFilm, useJob, useTools } from '../store/film-context';
import { lookAt } from '../store/reel-choice';
import { askForShelfName, chooseMedium, meantWith, useShelfChoice } from '../store/shelf-choice';
import { MEDIUM_DRAG_TYPE, SOUND_DRAG_TYPE } from './drag-types';
import { MediumLines } from './medium-lines';
import { mediumMenu, type ShelfActions } from './shelf-actions';
import { titleOf } from './shelf-view';
import { SoundFace } from './sound-face';
import { StripTile } from './strip-tile';

interface MediumCardProps {
  readonly medium: ShelfMedium;
  readonly look: 'pictures' | 'list';
  readonly actions: ShelfActions;
  /** The media in the order in which they are shown. */
  readonly order: () => readonly string[];
}

/** A medium on the shelf: what it is, how far preparing it has come, and what can be done with it. */
export function MediumCard({ medium, look, actions, order }: MediumCardProps) {
  const { store } = useTools();
  const { film, media, sounds } = useFilm('film', 'media', 'sounds');
  const isChosen = useShelfChoice((s) => s.chosen.has(medium.id));
  const isNaming = useShelfChoice((s) => s.named === medium.id);
  const { facts, sound } = medium;
  const title = titleOf(medium);
  const isUsed = usesOfMedium(film, medium.id).length > 0;
  const isReady = isUsable(medium);
  const isComing = medium.status === 'waiting' || medium.status === 'working';
  const hasPictures = look === 'pictures' && isReady;
  const choose = (event: MouseEvent): void => {
    if ((event.target as HTMLElement).closest('button, input, label') !== null) return;
    chooseMedium(medium.id, event.shiftKey ? 'up to' : event.ctrlKey || event.metaKey ? 'toggle' : 'alone', order());
  };
  const drag = (event: DragEvent): void => {
    const ids = meantWith(medium.id);
    const pictures = ids.filter((id) => media.has(id));
    if (pictures.length > 0) event.dataTransfer.setData(MEDIUM_DRAG_TYPE, pictures.join(' '));
    if (sounds.has(medium.id)) event.dataTransfer.setData(SOUND_DRAG_TYPE, medium.id);
    event.dataTransfer.effectAllowed = 'copy';
  };
  return (
    <ContextMenu label={`Media ${title}`} actions={() => mediumMenu(store, actions, medium, order())}>
      <div
        role="group"
        aria-label={medium.name}
        data-chosen={isChosen}
        className={`rounded-[5px] border bg-sheet ${isChosen ? 'border-ink outline-1 outline-ink outline-solid' : 'border-rule'}`}
        draggable={isReady && !isNaming}
        onClick={choose}
        onDoubleClick={() => facts !== null && isReady && !isNaming && lookAt(medium.id)}
        onDragStart={drag}
      >
        {hasPictures && facts !== null && <ScrubbingPoster facts={facts} />}
        {hasPictures && facts === null && sound !== null && <SoundFace sound={sound} />}
        <div className={`flex items-start gap-1 ${look === 'list' ? 'px-2 py-1' : 'p-2.5 pt-2'}`}>
          <div className="min-w-0 grow">
            {isNaming ? (
              <NameInput
                label={`Name of ${title}`}
                value={title}
                isAsked
                onDone={(name) => {
                  askForShelfName(null);
                  actions.rename(medium, name);
                }}
                className="h-5 w-full font-semibold"
              />
            ) : (
              <p className="truncate font-semibold" title={medium.name}>
                {title}
              </p>
            )}
            {hasPictures && <MediumLines medium={medium} used={film.shots.filter((s) => s.mediumId === medium.id).length} />}
            {isReady && medium.error !== null && <p className="text-[11px] text-heed">{medium.error}</p>}
            {medium.isLost === true && <LostFile medium={medium} />}
            {medium.status === 'failed' && <p className="text-fault">{medium.error}</p>}
            {isComing && <Preparing medium={medium} />}
          </div>
          {isReady && (
            <IconButton label={`Add ${title} to the reel`} onClick={() => actions.put([medium.id])}>
              <Plus size={15} />
            </IconButton>
          )}
          {!isUsed && (
            <IconButton
              label={isComing ? `Stop preparing ${medium.name}` : `Remove ${medium.name} from the shelf`}
              onClick={() => actions.remove([medium.id])}
            >
              {isComing ? <X size={13} /> : <Trash2 size={13} />}
            </IconButton>
          )}
        </div>
      </div>
    </ContextMenu>
  );
}

function Preparing({ medium }: { readonly medium: ShelfMedium }) {
  const job = useJob(medium.id, isUnderWay);
  return (
    <>
      <ProgressBar label={`Preparing ${medium.name}`} value={job?.progress ?? 0} />
      {medium.facts !== null && <p className="text-[11px]">The first {medium.facts.frames} frames can be used already.</p>}
      <p className="text-soft">{job?.state === 'running' ? `Preparing… ${Math.floor(100 * (job.progress ?? 0))} %` : 'Queued'}</p>
    </>
  );
}

/** What is said of a medium whose file is gone, and a way to give it back. */
function LostFile({ medium }: { readonly medium: ShelfMedium }) {
  const { store } = useTools();
  return (
    <div className="flex flex-col items-start gap-1 pt-1" data-lost>
      <p className="text-[11px] text-fault">Its file is gone from the server: it can be looked at, and not exported.</p>
      <FileButton label={`Find ${medium.name}`} accept="*" onFiles={([file]) => store.uploads.send(file!, { restores: medium.id })}>
        Find {medium.name}…
      </FileButton>
    </div>
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
          src={`/api/media/${facts.id}/${facts.stripTiles === 0 ? 'first.jpg' : 'poster.jpg'}`}
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
