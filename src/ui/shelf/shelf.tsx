'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { FolderPlus, Image, List, Upload as UploadIcon, X } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { Rational } from '../../core/geometry/rational';
import { Button, IconButton } from '../parts/button';
import { useOneStop } from '../parts/one-stop';
import { ProgressBar } from '../parts/progress-bar';
import { useFilm, useTools } from '../store/film-context';
import { usePreference } from '../store/preferences';
import { chooseMedia, useShelfChoice } from '../store/shelf-choice';
import type { Upload } from '../store/uploads';
import { BinHead } from './bin-head';
import { FILE_TYPES } from './file-types';
import { MediumCard } from './medium-card';
import { ReplaceDialog } from './replace-dialog';
import { SequenceDialog, type AskedSequence } from './sequence-dialog';
import { partSequences, zipOf } from './sequences';
import { shelfActions } from './shelf-actions';
import { ShelfSearch } from './shelf-search';
import { PLAIN_VIEW, shelfRows, shownOnShelf, type ShelfView } from './shelf-view';
import { useDroppedFiles } from './use-dropped-files';

/** Heights of a card at first, CSS pixels; each is measured once it is drawn. */
const HEIGHTS = { pictures: 186, list: 34 } as const;
const BIN_HEIGHT = 28;
/** From so many on it is worth searching. */
const MANY = 5;

/** The media of the film: drop files anywhere, see what each holds, find them, keep them in bins, put them on the reel. */
export function Shelf() {
  const { store } = useTools();
  const { film, shelf, uploads } = useFilm('film', 'shelf', 'uploads');
  const replaced = useShelfChoice((s) => s.replaced);
  const [look, setLook] = usePreference<ShelfView['look']>('shelf-look', 'pictures');
  const [narrowed, setNarrowed] = useState(PLAIN_VIEW);
  const [shut, setShut] = useState<ReadonlySet<string>>(new Set());
  const [asked, setAsked] = useState<readonly AskedSequence[]>([]);
  const view = { ...narrowed, look };
  const rows = shelfRows(film, shownOnShelf(film, shelf, view), view, shut);
  const all = shownOnShelf(film, shelf, PLAIN_VIEW).length;
  const actions = useMemo(() => shelfActions(store), [store]);
  const scrolled = useRef<HTMLDivElement>(null);
  const stop = useOneStop<HTMLUListElement>();
  const lines = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scrolled.current,
    estimateSize: (i) => (rows[i]!.kind === 'bin' ? BIN_HEIGHT : HEIGHTS[look]),
    getItemKey: (i) => rows[i]!.key,
    overscan: 6,
    gap: look === 'list' ? 2 : 10,
  });
  const order = (): readonly string[] => rows.flatMap((r) => (r.kind === 'medium' ? [r.medium.id] : []));
  const bring = (files: readonly File[]): void => {
    const { sequences, rest } = partSequences(files);
    const zips = rest.filter((f) => /\.zip$/i.test(f.name));
    setAsked((before) => [
      ...before,
      ...sequences.map((s) => ({ name: s.name, pictures: s.files.length, file: () => zipOf(s) })),
      ...zips.map((zip) => ({ name: zip.name, pictures: null, file: () => Promise.resolve(zip) })),
    ]);
    for (const file of rest) if (!zips.includes(file)) store.uploads.send(file);
  };
  const bringSequences = (rate: Rational): void => {
    setAsked([]);
    for (const { name, file } of asked)
      file().then(
        (packed) => store.uploads.send(packed, { rate }),
        (error: Error) => store.notify(`The pictures of ${name} could not be read: ${error.message}`),
      );
  };
  const over = useDroppedFiles(bring);
  return (
    <div
      className={`flex h-full flex-col overflow-hidden ${over ? 'bg-sheet outline-2 -outline-offset-4 outline-entering outline-dashed' : ''}`}
    >
      <ShelfHead all={all} look={look} onLook={setLook} onNewBin={() => actions.putInNew([])} onFiles={bring} />
      {all >= MANY && <ShelfSearch view={view} onView={(part) => setNarrowed({ ...narrowed, ...part })} />}
      <div
        ref={scrolled}
        className="min-h-0 grow overflow-y-auto px-3.5 pb-3"
        onClick={(event) => event.target === event.currentTarget && chooseMedia([])}
      >
        {uploads.length > 0 && (
          <ul aria-label="On their way" className="mb-2.5 flex flex-col gap-2.5">
            {uploads.map((upload) => (
              <UploadCard key={upload.id} upload={upload} />
            ))}
          </ul>
        )}
        <ul {...stop} aria-label="Media" className="relative" style={{ height: lines.getTotalSize() }}>
          {lines.getVirtualItems().map(({ key, index, start }) => {
            const row = rows[index]!;
            const inset = row.kind === 'medium' && row.isInBin;
            return (
              <li
                key={key}
                ref={lines.measureElement}
                data-index={index}
                className={`absolute right-0 ${inset ? 'left-2.5' : 'left-0'}`}
                style={{ transform: `translateY(${start}px)` }}
              >
                {row.kind === 'bin' ? (
                  <BinHead
                    bin={row.bin}
                    count={row.count}
                    isOpen={row.isOpen}
                    onOpen={(open) => setShut((before) => new Set(open ? [...before].filter((b) => b !== key) : [...before, row.key]))}
                    actions={actions}
                  />
                ) : (
                  <MediumCard medium={row.medium} look={look} actions={actions} order={order} />
                )}
              </li>
            );
          })}
        </ul>
        <p className="mt-2.5 rounded-[5px] border border-dashed border-rule p-3 text-soft">
          {all + uploads.length === 0
            ? 'Drop video, sound and still files here, or choose them with “Import”. Each becomes a card you can add to the reel.'
            : rows.length === 0
              ? 'Nothing on the shelf is like that.'
              : 'Drop more files or folders here.'}
        </p>
      </div>
      {asked.length > 0 && <SequenceDialog sequences={asked} onTake={bringSequences} onClose={() => setAsked([])} />}
      {replaced !== null && <ReplaceDialog mediumId={replaced} />}
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

interface ShelfHeadProps {
  /** Media on the shelf. */
  readonly all: number;
  readonly look: ShelfView['look'];
  readonly onLook: (look: ShelfView['look']) => void;
  readonly onNewBin: () => void;
  readonly onFiles: (files: readonly File[]) => void;
}

function ShelfHead({ all, look, onLook, onNewBin, onFiles }: ShelfHeadProps) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <div className="flex items-center justify-between px-3.5 pt-2.5 pb-2">
      <h2 className="font-semibold text-soft">Shelf</h2>
      <span className="flex items-center gap-1">
        {all > 0 && (
          <IconButton label="New bin" onClick={onNewBin}>
            <FolderPlus size={14} />
          </IconButton>
        )}
        {all >= MANY && (
          <IconButton
            label={look === 'list' ? 'Show pictures' : 'Show a list'}
            onClick={() => onLook(look === 'list' ? 'pictures' : 'list')}
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
          onFiles([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
    </div>
  );
}
