'use client';
import { SOUND_RATE } from '../../core/film/sound';
import { Plus, Trash2, Upload as UploadIcon, X } from 'lucide-react';
import { useRef, useState, type DragEvent } from 'react';
import { addShot } from '../../core/film/edits/reel';
import { takeOffShelf } from '../../core/film/edits/shelf';
import { usesOfMedium } from '../../core/film/references';
import { isMixedDown, type MediumFacts, type ShelfMedium, type SoundFacts } from '../../core/film/media-facts';
import { addClip } from '../../core/film/edits/sound';
import { SoundFace } from './sound-face';
import { toNumber } from '../../core/geometry/rational';
import { Button, IconButton } from '../parts/button';
import { useOneStop } from '../parts/one-stop';
import { ProgressBar } from '../parts/progress-bar';
import { call } from '../store/api';
import { isUnderWay } from '../../core/film/job';
import { useFilm, useJob, useTools } from '../store/film-context';
import { StripTile } from './strip-tile';

/** What a card dragged to the reel carries. */
export const MEDIUM_DRAG_TYPE = 'application/x-irimi-medium';

/** What a card whose sound may be laid in a lane carries. */
export const SOUND_DRAG_TYPE = 'application/x-irimi-sound';

const FILE_TYPES = 'video/*,audio/*,.mkv,.mxf,.mov,.avi,.ts,.y4m,.wav,.flac,.mp3,.aac,.m4a,.opus,.ogg,.aif,.aiff';

/** The media of the film: drop files, see what each holds, put them on the reel. */
export function Shelf() {
  const { store } = useTools();
  const { film, shelf: all, uploads } = useFilm('film', 'shelf', 'uploads');
  const shelf = all.filter((m) => !(film.offShelf ?? []).includes(m.id));
  const chooser = useRef<HTMLInputElement>(null);
  const stop = useOneStop<HTMLUListElement>();
  const [over, setOver] = useState(false);
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    for (const file of event.dataTransfer.files) store.uploads.send(file);
  };
  const bringsFiles = (event: DragEvent): boolean => event.dataTransfer.types.includes('Files');
  return (
    <div
      className={`flex h-full flex-col overflow-hidden ${over ? 'bg-sheet outline-2 -outline-offset-4 outline-entering outline-dashed' : ''}`}
      onDragOver={(e) => {
        if (!bringsFiles(e)) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      <div className="flex items-center justify-between px-3.5 pt-2.5 pb-2">
        <h2 className="font-semibold text-soft">Shelf</h2>
        <Button onClick={() => chooser.current!.click()}>
          <UploadIcon size={13} />
          Import
        </Button>
        <input
          ref={chooser}
          type="file"
          multiple
          accept={FILE_TYPES}
          className="hidden"
          aria-label="Video and sound files"
          data-testid="file-chooser"
          onChange={(e) => {
            for (const file of e.target.files ?? []) store.uploads.send(file);
            e.target.value = '';
          }}
        />
      </div>
      <ul {...stop} className="flex min-h-0 grow flex-col gap-2.5 overflow-y-auto px-3.5 pb-3">
        {shelf.map((medium) => (
          <MediumCard key={medium.id} medium={medium} />
        ))}
        {uploads.map((upload) => (
          <li key={upload.id} className="rounded-[5px] border border-rule bg-sheet p-2.5">
            <div className="flex items-start justify-between gap-2">
              <p className="font-semibold break-words">{upload.name}</p>
              <IconButton
                label={upload.error === null ? `Stop the import of ${upload.name}` : `Dismiss ${upload.name}`}
                onClick={() => store.uploads.forget(upload.id)}
              >
                <X size={13} />
              </IconButton>
            </div>
            {upload.error === null ? (
              <ProgressBar label={`Importing ${upload.name}`} value={upload.fraction} />
            ) : (
              <p className="text-fault">{upload.error}</p>
            )}
          </li>
        ))}
        <li className="rounded-[5px] border border-dashed border-rule p-3 text-soft">
          {shelf.length + uploads.length === 0
            ? 'Drop video and sound files here, or choose them with “Import”. Each becomes a card you can add to the reel.'
            : 'Drop more files here.'}
        </li>
      </ul>
    </div>
  );
}

const newId = (): string => crypto.randomUUID();

const endOfLane = (lane: { readonly clips: readonly { readonly start: number; readonly length: number }[] } | undefined): number =>
  Math.max(0, ...(lane?.clips ?? []).map((c) => c.start + c.length));

function durationText({ samples }: SoundFacts): string {
  const seconds = samples / SOUND_RATE;
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
}

const soundText = (sound: SoundFacts): string =>
  `${sound.codec} · ${sound.sourceRate / 1000} kHz · ${['', 'mono', 'stereo'][sound.sourceChannels] ?? `${sound.sourceChannels} channels, mixed down to stereo`}`;

function MediumCard({ medium }: { readonly medium: ShelfMedium }) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const { facts, sound } = medium;
  const title = facts?.name ?? sound?.name ?? medium.name;
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
  return (
    <li
      className="rounded-[5px] border border-rule bg-sheet"
      aria-label={medium.name}
      draggable={ready}
      onDragStart={(e) => {
        if (facts !== null) e.dataTransfer.setData(MEDIUM_DRAG_TYPE, medium.id);
        if (sound !== null) e.dataTransfer.setData(SOUND_DRAG_TYPE, medium.id);
        e.dataTransfer.effectAllowed = 'copy';
      }}
    >
      {ready && facts !== null && <ScrubbingPoster facts={facts} />}
      {ready && facts === null && sound !== null && <SoundFace sound={sound} />}
      <div className="flex items-start gap-1 p-2.5 pt-2">
        <div className="min-w-0 grow">
          <p className="truncate font-semibold" title={medium.name}>
            {title}
          </p>
          {ready && facts === null && sound !== null && (
            <>
              <p className="font-mono text-[10.5px] text-soft">{durationText(sound)} · sound</p>
              <p className="text-[11px] text-soft">{soundText(sound)}</p>
            </>
          )}
          {ready && medium.error !== null && <p className="text-[11px] text-heed">{medium.error}</p>}
          {ready && facts !== null && (
            <p className="font-mono text-[10.5px] text-soft">
              {facts.width}×{facts.height} · {Number(toNumber(facts.rate).toFixed(3))} fps · {facts.frames} fr
            </p>
          )}
          {ready && facts !== null && (
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
