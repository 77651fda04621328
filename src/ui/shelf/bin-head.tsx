'use client';
import { ChevronRight, Folder } from 'lucide-react';
import { useState } from 'react';
import { removeBin, renameBin } from '../../core/film/edits/shelf';
import type { Bin } from '../../core/film/film';
import { ContextMenu } from '../commands/context-menu';
import { NameInput } from '../parts/name-input';
import { useTools } from '../store/film-context';
import { askForShelfName, useShelfChoice } from '../store/shelf-choice';
import { MEDIUM_DRAG_TYPE, SOUND_DRAG_TYPE, draggedIds } from './drag-types';
import type { ShelfActions } from './shelf-actions';

interface BinHeadProps {
  readonly bin: Bin;
  /** Media in it that are shown. */
  readonly count: number;
  readonly isOpen: boolean;
  readonly onOpen: (open: boolean) => void;
  readonly actions: ShelfActions;
}

/** The head of a bin: it opens and shuts what lies in it, and takes what is dropped on it. */
export function BinHead({ bin, count, isOpen, onOpen, actions }: BinHeadProps) {
  const { store } = useTools();
  const isNaming = useShelfChoice((s) => s.named === bin.id);
  const [over, setOver] = useState(false);
  return (
    <ContextMenu
      label={`Bin ${bin.name}`}
      actions={() => [
        [
          { label: 'Rename…', onSelect: () => askForShelfName(bin.id) },
          {
            label: 'Remove the bin, keep its media',
            onSelect: () => store.edit(`Removed bin ${bin.name}`, (d) => removeBin(d, bin.id)),
          },
        ],
      ]}
    >
      <div
        className={`flex h-7 items-center gap-1.5 rounded-[5px] px-1.5 ${over ? 'bg-entering/25' : 'hover:bg-pressed'}`}
        onDragOver={(e) => {
          if (!e.dataTransfer.types.some((t) => t === MEDIUM_DRAG_TYPE || t === SOUND_DRAG_TYPE)) return;
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          e.stopPropagation();
          setOver(false);
          actions.putIn(draggedIds(e.dataTransfer), bin);
        }}
      >
        <button
          type="button"
          aria-expanded={isOpen}
          aria-label={`Bin ${bin.name}, ${count} inside`}
          className="flex min-w-0 grow items-center gap-1.5 text-left"
          onClick={() => onOpen(!isOpen)}
          onDoubleClick={() => askForShelfName(bin.id)}
        >
          <ChevronRight size={12} className={`shrink-0 ${isOpen ? 'rotate-90' : ''}`} />
          <Folder size={13} className="shrink-0 text-soft" />
          {!isNaming && <span className="truncate font-semibold">{bin.name}</span>}
        </button>
        {isNaming && (
          <NameInput
            label={`Name of bin ${bin.name}`}
            value={bin.name}
            isAsked
            className="h-5 min-w-0 grow font-semibold"
            onDone={(name) => {
              askForShelfName(null);
              if (name !== bin.name) store.edit(`Renamed bin ${bin.name} to ${name}`, (d) => renameBin(d, bin.id, name));
            }}
          />
        )}
        <span className="font-mono text-[10.5px] text-soft">{count}</span>
      </div>
    </ContextMenu>
  );
}
