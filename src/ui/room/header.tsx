'use client';
import { isFollowing, type StoredEdit } from '../../core/film/history';
import { CircleHelp, Moon, Redo2, Search, Send, Settings2, Sun, Undo2 } from 'lucide-react';
import Link from 'next/link';
import { useState, type ReactNode } from 'react';
import { hint } from '../commands/commands';
import { ContextMenu } from '../commands/context-menu';
import { KeySheet } from '../commands/key-sheet';
import { useCommands } from '../commands/use-commands';
import { SendDialog } from '../send/send-dialog';
import { useFilmState, useTools } from '../store/film-context';
import type { SaveState } from '../store/film-state';
import { Button, IconButton } from '../parts/button';
import { JobsInBrief } from '../parts/jobs-in-brief';
import { Logo } from '../parts/logo';
import { CommandSearch } from './command-search';
import { Notices } from './notices';
import { SettingsSheet } from './settings-sheet';
import { useTheme } from './use-theme';

function saveText(save: SaveState, isConnected: boolean): string {
  if (save.kind === 'saving') return 'saving…';
  if (save.kind === 'offline') return `${save.waiting} not saved: no connection, trying again`;
  if (!isConnected) return 'no connection to the server, trying again';
  return save.at === null
    ? 'saved'
    : `saved ${new Date(save.at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false })}`;
}

/** Steps that are listed on the button that undoes. */
const MOST_STEPS = 20;

/** The line along the top of both rooms: where you are, whether all is saved, undo, work under way, sending out. */
export function Header({ place, joinId }: { readonly place: ReactNode; readonly joinId: string | null }) {
  const { store } = useTools();
  const { film, save, isConnected } = useFilmState('film', 'history', 'save', 'isConnected');
  const { theme, setTheme } = useTheme();
  const [isSetting, setSetting] = useState(false);
  const [sending, setSending] = useState(false);
  const [keys, setKeys] = useState(false);
  const [isSearching, setSearching] = useState(false);
  const stacks = store.stacks();
  // what followed of an edit goes with it, under its name
  const [undo, redo] = [stacks.undo, stacks.redo].map((list) => list.filter((e) => !isFollowing(e))) as [StoredEdit[], StoredEdit[]];
  useCommands({
    undo: () => store.undo(),
    redo: () => store.redo(),
    keySheet: () => setKeys(true),
    findCommand: () => setSearching(true),
    export: () => setSending(true),
    settings: () => setSetting(true),
  });
  // the newest first; choosing one takes back all that was done since, and it
  const steps = undo
    .slice(-MOST_STEPS)
    .reverse()
    .map(({ name }, i) => ({
      label: `${i + 1}. ${name}`,
      onSelect: () => {
        for (let n = 0; n <= i; n++) store.undo();
      },
    }));
  return (
    <>
      <header className="flex h-10 shrink-0 items-center gap-3 border-b border-rule px-3.5">
        <Link href="/" className="flex items-center gap-2 text-[15px] font-bold" title="All films">
          <Logo />
          irimi
        </Link>
        <nav aria-label="Place" className="flex min-w-0 grow items-center gap-2 truncate pl-2">
          {place}
        </nav>
        <span role="status" data-testid="save-state" className={save.kind === 'offline' || !isConnected ? 'text-fault' : 'text-soft'}>
          {saveText(save, isConnected)}
        </span>
        <div className="flex">
          <ContextMenu label="What was done" actions={() => [steps]}>
            <IconButton
              label={
                undo.length > 0
                  ? hint('undo', `Undo: ${undo.at(-1)!.name}`)
                  : store.isCutOff()
                    ? 'Nothing to undo: what was done before this version of the program stays'
                    : 'Nothing to undo'
              }
              disabled={undo.length === 0}
              onClick={() => store.undo()}
            >
              <Undo2 size={15} />
            </IconButton>
          </ContextMenu>
          <IconButton
            label={redo.length > 0 ? hint('redo', `Redo: ${redo.at(-1)!.name}`) : 'Nothing to redo'}
            disabled={redo.length === 0}
            onClick={() => store.redo()}
          >
            <Redo2 size={15} />
          </IconButton>
        </div>
        <JobsInBrief />
        <IconButton label={theme === 'dim' ? 'Light theme' : 'Dark theme'} onClick={() => setTheme(theme === 'dim' ? 'light' : 'dim')}>
          {theme === 'dim' ? <Sun size={15} /> : <Moon size={15} />}
        </IconButton>
        <IconButton label={hint('findCommand', 'Search')} onClick={() => setSearching(true)}>
          <Search size={15} />
        </IconButton>
        <IconButton label={hint('settings')} onClick={() => setSetting(true)}>
          <Settings2 size={15} />
        </IconButton>
        <IconButton label={hint('keySheet', 'Keyboard shortcuts')} onClick={() => setKeys(true)}>
          <CircleHelp size={15} />
        </IconButton>
        <Button tone="ink" onClick={() => setSending(true)} disabled={film === null || film.shots.length === 0}>
          <Send size={13} />
          Export
        </Button>
      </header>
      <Notices />
      {sending && film !== null && <SendDialog joinId={joinId} onClose={() => setSending(false)} />}
      {isSetting && film !== null && <SettingsSheet onClose={() => setSetting(false)} />}
      {isSearching && film !== null && <CommandSearch onClose={() => setSearching(false)} />}
      <KeySheet room={joinId === null ? 'reel' : 'bench'} open={keys} onOpenChange={setKeys} />
    </>
  );
}
