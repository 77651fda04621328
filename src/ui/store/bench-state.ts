'use client';
import { create } from 'zustand';
import type { Effect, Layer, ShotSide } from '../../core/film/composition';
import type { MoverRef } from '../../core/film/edits/layers';
import type { LaneTarget } from '../../core/lanes/lanes';
import type { ValueKey } from '../../core/motion/curve';

/** Keys that are chosen: the lane they are in and the frames of its own clock. */
export type KeyChoice = ReadonlyMap<string, ReadonlySet<number>>;

interface BenchState {
  /** The join this is about; another one starts anew. */
  readonly joinId: string | null;
  /** What is selected of the join; null: nothing. */
  readonly selected: MoverRef | null;
  /** The layer that is shown alone; not stored. */
  readonly onlyId: string | null;
  /** Lanes that stay, whatever is selected. */
  readonly pinned: readonly LaneTarget[];
  /** Lanes that show value and speed, by key. */
  readonly open: ReadonlySet<string>;
  readonly keys: KeyChoice;
  /** The shot in which a click marks where the eye is; null: none. */
  readonly marksEye: ShotSide | null;
  /** The shot whose camera's way is drawn by a drag; null: none. */
  readonly drawsMove: ShotSide | null;
  /** Lines that go over into each other lie over the picture. */
  readonly showsLines: boolean;
}

const FRESH = {
  selected: null,
  onlyId: null,
  pinned: [],
  open: new Set<string>(),
  keys: new Map(),
  marksEye: null,
  drawsMove: null,
  showsLines: true,
} as const;

/** What is chosen on the bench. Parts of it are read by selectors, so that only what shows them is drawn anew. */
export const useBench = create<BenchState>(() => ({ joinId: null, ...FRESH }));

/** Begins with a join, unless it is the one already open. */
export function openBench(joinId: string): void {
  if (useBench.getState().joinId !== joinId) useBench.setState({ joinId, ...FRESH });
}

export const select = (selected: MoverRef | null): void => useBench.setState({ selected, keys: new Map() });

export const markEye = (marksEye: ShotSide | null): void => useBench.setState({ marksEye });

export const showLines = (showsLines: boolean): void => useBench.setState({ showsLines });

export const drawMove = (drawsMove: ShotSide | null): void => useBench.setState({ drawsMove });

export const showOnly = (onlyId: string | null): void => useBench.setState({ onlyId });

export const chooseKeys = (keys: KeyChoice): void => useBench.setState({ keys });

export const toggleOpen = (key: string): void =>
  useBench.setState(({ open }) => {
    const next = new Set(open);
    if (!next.delete(key)) next.add(key);
    return { open: next };
  });

export const togglePin = (target: LaneTarget): void =>
  useBench.setState(({ pinned }) => {
    const key = JSON.stringify(target);
    const others = pinned.filter((t) => JSON.stringify(t) !== key);
    return { pinned: others.length < pinned.length ? others : [...pinned, target] };
  });

/** The layer that was copied, for this join and others. */
export const useCopiedLayer = create<{ readonly layer: Layer | null }>(() => ({ layer: null }));

/** Effects that were copied, for other layers, joins and the film. */
export const useCopiedEffects = create<{ readonly effects: readonly Effect[] }>(() => ({ effects: [] }));

/** Keys that were copied, for other lanes and other joins. */
export const useClipboard = create<{ readonly keys: readonly ValueKey[] }>(() => ({ keys: [] }));

export const isSame = (a: MoverRef | null, b: MoverRef | null): boolean =>
  a === b || (a !== null && b !== null && a.kind === b.kind && (a.kind === 'camera' || a.id === (b as { id?: string }).id));
