'use client';
import { createContext, useContext, useEffect, useState, useSyncExternalStore, type ReactNode } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { JobView } from '../../core/film/job';
import type { Drawing } from '../../core/plan/plan-views';
import { AskedProvider } from './asked';
import type { FilmState } from './film-state';
import { FilmStore } from './film-store';
import { CutClient } from './cut-client';
import { FramesClient } from './frames-client';
import { PeaksClient } from './peaks-client';
import { SoundClient } from './sound-client';
import { SoundPlayer } from './player';
import { Screen } from './screen';

interface FilmTools {
  readonly store: FilmStore;
  readonly frames: FramesClient;
  readonly cutter: CutClient;
  readonly sound: SoundClient;
  readonly peaks: PeaksClient;
  readonly player: SoundPlayer;
  readonly screen: Screen;
}

const Context = createContext<FilmTools | null>(null);

/** Opens a film and its frame worker for everything inside; both rooms share them. */
export function FilmProvider({ filmId, children }: { readonly filmId: string; readonly children: ReactNode }) {
  const [tools, setTools] = useState<FilmTools | null>(null);
  useEffect(() => {
    const made = {
      store: new FilmStore(filmId),
      frames: new FramesClient(filmId),
      cutter: new CutClient(),
      sound: new SoundClient(),
      peaks: new PeaksClient(),
      player: new SoundPlayer(),
      screen: new Screen(),
    };
    made.store.onMatte = (matteId, frame) => made.frames.forgetMatte(matteId, frame);
    const stop = made.store.known.subscribe((now, before) => {
      if (now.media !== before.media) made.frames.setMedia(now.media);
      if (now.film !== null && (now.film !== before.film || now.media !== before.media || now.sounds !== before.sounds))
        made.sound.setFilm(now.film, now.media, now.sounds);
    });
    void made.store.open();
    setTools(made);
    const warn = (event: BeforeUnloadEvent): void => {
      if (made.store.snapshot().uploads.some((u) => u.error === null)) event.preventDefault();
    };
    // what nobody foresaw is said, not swallowed
    const failed = (error: unknown): void => {
      if (error instanceof Error) made.store.notify(`This did not work: ${error.message}. Reload the page if it happens again.`);
    };
    const onError = (event: ErrorEvent): void => failed(event.error);
    const onRejection = (event: PromiseRejectionEvent): void => failed(event.reason);
    window.addEventListener('beforeunload', warn);
    window.addEventListener('error', onError);
    window.addEventListener('unhandledrejection', onRejection);
    return () => {
      window.removeEventListener('beforeunload', warn);
      window.removeEventListener('error', onError);
      window.removeEventListener('unhandledrejection', onRejection);
      stop();
      made.store.close();
      made.frames.close();
      made.cutter.close();
      made.player.close();
      made.sound.close();
    };
  }, [filmId]);
  return tools === null ? null : (
    <AskedProvider>
      <Context.Provider value={tools}>{children}</Context.Provider>
    </AskedProvider>
  );
}

export function useTools(): FilmTools {
  const tools = useContext(Context);
  if (tools === null) throw new Error('useTools outside FilmProvider');
  return tools;
}

/** The named parts of what is known of the film; drawn anew only when one of them changes. */
export function useFilmState<K extends keyof FilmState>(...parts: readonly K[]): Pick<FilmState, K> {
  const { store } = useTools();
  return useStore(
    store.known,
    useShallow((state) => Object.fromEntries(parts.map((part) => [part, state[part]])) as Pick<FilmState, K>),
  );
}

/** Grows whenever stored coverage that `drawing` shows has changed. */
export function useMatteChanges(drawing: Drawing | null): number {
  const { frames } = useTools();
  const changes = (): number => (drawing === null ? 0 : frames.changesOf(drawing));
  return useSyncExternalStore(frames.subscribe, changes, changes);
}

/** The same inside a room, which waits until the film is loaded. */
export function useFilm<K extends keyof FilmState>(...parts: readonly K[]): { readonly [P in K]: NonNullable<FilmState[P]> } {
  return useFilmState(...parts) as { readonly [P in K]: NonNullable<FilmState[P]> };
}

/** The newest job on a thing that `isMeant`; drawn anew only when that job has come on. */
export function useJob(subjectId: string | undefined, isMeant: (job: JobView) => boolean = () => true): JobView | undefined {
  const { store } = useTools();
  return useStore(
    store.known,
    useShallow(({ jobs }) => jobs.find((j) => j.subjectId === subjectId && isMeant(j))),
  );
}

/** The newest job of a kind, whatever it is on; drawn anew only when that job has come on. */
export function useJobOfKind(kind: JobView['kind']): JobView | undefined {
  const { store } = useTools();
  return useStore(
    store.known,
    useShallow(({ jobs }) => jobs.find((j) => j.kind === kind)),
  );
}
