'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Image, List, Upload as UploadIcon, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Button, IconButton } from '../parts/button';
import { useOneStop } from '../parts/one-stop';
import { ProgressBar } from '../parts/progress-bar';
import { useFilm, useTools } from '../store/film-context';
import { usePreference } from '../store/preferences';
import type { Upload } from '../store/uploads';
import { droppedFiles } from './dropped-files';
import { MediumCard } from './medium-card';
import { partSequences, zipOf } from './sequences';
import { FILTERS, PLAIN_VIEW, shownOnShelf, SORTS, type ShelfView } from './shelf-view';

const FILE_TYPES =
  'video/*,audio/*,image/png,image/jpeg,image/webp,image/tiff,image/gif,image/avif,.mkv,.mxf,.mov,.avi,.ts,.y4m,.wav,.flac,.mp3,.aac,.m4a,.opus,.ogg,.aif,.aiff,.tif,.tiff,.zip';
/** Heights of a card at first, CSS pixels; each is measured once it is drawn. */
const HEIGHTS = { pictures: 186, list: 34 } as const;
/** From so many on it is worth searching. */
const MANY = 5;

/** Takes files that are dropped anywhere on the page. @returns whether some are held over it */
function useDroppedFiles(take: (files: readonly File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(take);
  latest.current = take;
  useEffect(() => {
    const bringsFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;
    const onOver = (event: DragEvent): void => {
      if (!bringsFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const onLeave = (event: DragEvent): void => {
      if (event.relatedTarget === null) setOver(false);
    };
    const onDrop = (event: DragEvent): void => {
      if (event.dataTransfer === null || !bringsFiles(event)) return;
      event.preventDefault();
      setOver(false);
      void droppedFiles(event.dataTransfer).then((files) => latest.current(files));
    };
    window.addEventListener('dragover', onOver);
    window.addEventListener('dragleave', onLeave);
    window.addEventListener('drop', onDrop);
    return () => {
      window.removeEventListener('dragover', onOver);
      window.removeEventListener('dragleave', onLeave);
      window.removeEventListener('drop', onDrop);
    };
  }, []);
  return over;
}

/** The media of the film: drop files anywhere, see what each holds, find them, put them on the reel. */
export function Shelf() {
  const { store } = useTools();
  const { film, shelf, uploads } = useFilm('film', 'shelf', 'uploads');
  const [look, setLook] = usePreference<ShelfView['look']>('shelf-look', 'pictures');
  const [narrowed, setNarrowed] = useState(PLAIN_VIEW);
  const view = { ...narrowed, look };
  const shown = shownOnShelf(film, shelf, view);
  const all = shownOnShelf(film, shelf, PLAIN_VIEW).length;
  const chooser = useRef<HTMLInputElement>(null);
  const scrolled = useRef<HTMLDivElement>(null);
  const stop = useOneStop<HTMLUListElement>();
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scrolled.current,
    estimateSize: () => HEIGHTS[look],
    getItemKey: (i) => shown[i]!.id,
    overscan: 6,
    gap: look === 'list' ? 2 : 10,
  });
  const bring = (all: readonly File[]): void => {
    const { sequences, rest } = partSequences(all);
    for (const sequence of sequences)
      zipOf(sequence).then(
        (file) => store.uploads.send(file),
        (error: Error) => store.notify(`The pictures of ${sequence.name} could not be read: ${error.message}`),
      );
    for (const file of rest) {
      const known = shelf.find((m) => m.name === file.name && m.bytes === file.size && !(film.offShelf ?? []).includes(m.id));
      if (known === undefined) store.uploads.send(file);
      else store.notify(`${file.name} is on the shelf already.`, { label: 'Import it again', take: () => store.uploads.send(file) });
    }
  };
  const over = useDroppedFiles(bring);
  return (
    <div
      className={`flex h-full flex-col overflow-hidden ${over ? 'bg-sheet outline-2 -outline-offset-4 outline-entering outline-dashed' : ''}`}
    >
      <div className="flex items-center justify-between px-3.5 pt-2.5 pb-2">
        <h2 className="font-semibold text-soft">Shelf</h2>
        <span className="flex items-center gap-1">
          {all >= MANY && (
            <IconButton
              label={look === 'list' ? 'Show pictures' : 'Show a list'}
              onClick={() => setLook(look === 'list' ? 'pictures' : 'list')}
            >
              {look === 'list' ? <Image size={14} /> : <List size={14} />}
            </IconButton>
          )}
          <Button onClick={() => chooser.current!.click()}>
            <UploadIcon size={13} />
            Import
          </Button>
        </span>
        <input
          ref={chooser}
          type="file"
          multiple
          accept={FILE_TYPES}
          className="hidden"
          aria-label="Video, sound and still files"
          data-testid="file-chooser"
          onChange={(e) => {
            bring([...(e.target.files ?? [])]);
            e.target.value = '';
          }}
        />
      </div>
      {all >= MANY && <ShelfSearch view={view} onView={(part) => setNarrowed({ ...narrowed, ...part })} />}
      <div ref={scrolled} className="min-h-0 grow overflow-y-auto px-3.5 pb-3">
        {uploads.length > 0 && (
          <ul aria-label="On their way" className="mb-2.5 flex flex-col gap-2.5">
            {uploads.map((upload) => (
              <UploadCard key={upload.id} upload={upload} />
            ))}
          </ul>
        )}
        <ul {...stop} aria-label="Media" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ key, index, start }) => (
            <MediumCard key={key} ref={rows.measureElement} index={index} top={start} medium={shown[index]!} look={look} />
          ))}
        </ul>
        <p className="mt-2.5 rounded-[5px] border border-dashed border-rule p-3 text-soft">
          {all + uploads.length === 0
            ? 'Drop video, sound and still files here, or choose them with “Import”. Each becomes a card you can add to the reel.'
            : shown.length === 0
              ? 'Nothing on the shelf is like that.'
              : 'Drop more files or folders here.'}
        </p>
      </div>
    </div>
  );
}

const SELECT = 'h-6 min-w-0 grow rounded border border-rule bg-sheet px-1 text-[11.5px]';

/** What is looked for on the shelf, and in which order it stands. */
function ShelfSearch({ view, onView }: { readonly view: ShelfView; readonly onView: (part: Partial<ShelfView>) => void }) {
  return (
    <div className="flex flex-col gap-1 px-3.5 pb-2">
      <input
        type="search"
        aria-label="Search the shelf"
        placeholder="Search the shelf"
        value={view.sought}
        onChange={(e) => onView({ sought: e.target.value })}
        className="h-6 rounded border border-rule bg-sheet px-2"
      />
      <span className="flex gap-1">
        <select
          aria-label="Show on the shelf"
          value={view.filter}
          onChange={(e) => onView({ filter: e.target.value as ShelfView['filter'] })}
          className={SELECT}
        >
          {FILTERS.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
        <select
          aria-label="Order of the shelf"
          value={view.sort}
          onChange={(e) => onView({ sort: e.target.value as ShelfView['sort'] })}
          className={SELECT}
        >
          {SORTS.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
      </span>
    </div>
  );
}

/** A file on its way to the shelf. */
function UploadCard({ upload }: { readonly upload: Upload }) {
  const { store } = useTools();
  const isFailed = upload.error !== null;
  return (
    <li className="rounded-[5px] border border-rule bg-sheet p-2.5">
      <div className="flex items-start justify-between gap-2">
        <p className="font-semibold break-words">{upload.name}</p>
        <IconButton
          label={isFailed ? `Dismiss ${upload.name}` : `Stop the import of ${upload.name}`}
          onClick={() => store.uploads.forget(upload.id)}
        >
          <X size={13} />
        </IconButton>
      </div>
      {isFailed ? <p className="text-fault">{upload.error}</p> : <ProgressBar label={`Importing ${upload.name}`} value={upload.fraction} />}
    </li>
  );
}
