'use client';
import { useRouter } from 'next/navigation';
import { useCommands } from '../commands/use-commands';
import { playHandlers } from '../stage/playback';
import { useTools } from '../store/film-context';
import { chooseClip, chooseNoJoin } from './reel-choice';
import { useFoundFrames } from './reel-findings';
import type { ReelWork } from './use-reel-work';

/** What keys do on the reel. */
export function useReelCommands(work: ReelWork): void {
  const { store } = useTools();
  const router = useRouter();
  const { joins, frame, setFrame, length, playback } = work;
  const found = useFoundFrames(joins);
  const cuts = joins.map((j) => j.cut);
  const openNearest = (): void => {
    const [nearest] = [...joins].sort((a, b) => Math.abs(a.cut - frame) - Math.abs(b.cut - frame));
    if (nearest !== undefined) router.push(`/films/${store.filmId}/joins/${nearest.join.id}`);
  };
  useCommands({
    ...(length > 0 ? playHandlers(playback) : {}),
    stepBack: () => work.step(-1),
    stepOn: () => work.step(1),
    tenBack: () => work.step(-10),
    tenOn: () => work.step(10),
    previousCut: () => setFrame(cuts.findLast((c) => c < frame) ?? 0),
    nextCut: () => setFrame(cuts.find((c) => c > frame) ?? length - 1),
    first: () => setFrame(0),
    last: () => setFrame(length - 1),
    previousShot: () => work.choose(-1),
    nextShot: () => work.choose(1),
    trimStart: () => work.trimHere('start'),
    trimEnd: () => work.trimHere('end'),
    moveEarlier: () => work.move(-1),
    moveLater: () => work.move(1),
    removeShot: work.remove,
    previousFinding: () => setFrame(found.findLast((f) => f < frame) ?? frame),
    nextFinding: () => setFrame(found.find((f) => f > frame) ?? frame),
    openJoin: openNearest,
    chooseNoShot: () => {
      work.chooseNoShot();
      chooseClip(null);
      chooseNoJoin();
    },
    ...work.sound.handlers,
  });
}
