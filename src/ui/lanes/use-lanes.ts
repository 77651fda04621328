'use client';
import { useMemo } from 'react';
import { keyedLanes, keyOfLane, laneChannel, laneFacts, shotLanes, type LaneFacts, type LaneTarget } from '../../core/lanes/lanes';
import type { Film } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import type { Channel } from '../../core/motion/curve';
import { useBench } from '../store/bench-state';
import { CLOSED, OPEN } from './lane-geometry';

/** A lane as it is shown: what it changes, what that is now, and where it lies. */
export interface Lane {
  readonly key: string;
  readonly target: LaneTarget;
  readonly channel: Channel;
  readonly facts: LaneFacts;
  readonly isOpen: boolean;
  readonly isPinned: boolean;
  readonly top: number;
  readonly height: number;
}

/** The lanes under the weave: those of what is selected, and those pinned. */
export function useLanes(film: Film, { join, leaving, entering }: PlacedJoin): readonly Lane[] {
  const selected = useBench((s) => s.selected);
  const pinned = useBench((s) => s.pinned);
  const open = useBench((s) => s.open);
  return useMemo(() => {
    const own = selected === null ? [] : keyedLanes(join, selected);
    const ofShots = selected === null ? [leaving, entering].flatMap(shotLanes) : [];
    const targets = new Map([...own, ...ofShots, ...pinned].map((t) => [keyOfLane(t), t]));
    const pins = new Set(pinned.map(keyOfLane));
    const lanes: Lane[] = [];
    let top = 0;
    for (const [key, target] of targets) {
      const channel = laneChannel(film, join.id, target);
      const facts = laneFacts(film, join.id, target);
      if (channel === null || facts === null) continue;
      const isOpen = open.has(key);
      const height = isOpen ? OPEN : CLOSED;
      lanes.push({ key, target, channel, facts, isOpen, isPinned: pins.has(key), top, height });
      top += height;
    }
    return lanes;
  }, [film, join, leaving, entering, selected, pinned, open]);
}

export const heightOf = (lanes: readonly Lane[]): number => lanes.reduce((sum, l) => sum + l.height, 0);
