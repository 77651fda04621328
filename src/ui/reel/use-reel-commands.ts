'use client';
import { useRouter } from 'next/navigation';
import { useCommands, type Handlers } from '../commands/use-commands';
import { playHandlers } from '../stage/playback';
import { useTools } from '../store/film-context';
import { keepPicture, savePicture } from '../store/frame-picture';
import { copyJoin, pasteJoin } from './join-copies';
import { askForName } from './name-field';
import { chooseClip, chooseNoJoin, chooseNoShots, useReelChoice } from '../store/reel-choice';
import { REEL_ZOOM_STEP, showWholeReel, zoomReel } from '../store/reel-view';
import { heldJoin } from './shot-clipboard';
import { useFoundFrames } from './reel-findings';
import type { ReelWork } from './use-reel-work';

/** What keys do on the reel. While a medium is looked at they are the stage's, but for what changes the reel. */
export function useReelCommands(work: ReelWork, isLooking: boolean): void {
  const { store } = useTools();
  const router = useRouter();
  const { joins, frame, setFrame, length, playback } = work;
  const found = useFoundFrames(joins);
  const { shotActions: shots } = work;
  const chosenJoins = useReelChoice((s) => s.joins);
  const [chosenJoin] = chosenJoins;
  const cuts = joins.map((j) => j.cut);
  const openNearest = (): void => {
    const [nearest] = [...joins].sort((a, b) => Math.abs(a.cut - frame) - Math.abs(b.cut - frame));
    if (nearest !== undefined) router.push(`/films/${store.filmId}/joins/${nearest.join.id}`);
  };
  const goToMarker = (find: (marks: readonly number[]) => number | undefined): void => {
    const to = find((work.film.markers ?? []).map((m) => Math.floor(m.frame)));
    if (to !== undefined) setFrame(to);
  };
  const ofPlayhead: Handlers = {
    ...(length > 0 ? playHandlers(playback) : {}),
    stepBack: () => work.step(-1),
    stepOn: () => work.step(1),
    tenBack: () => work.step(-10),
    tenOn: () => work.step(10),
    previousCut: () => setFrame(cuts.findLast((c) => c < frame) ?? 0),
    nextCut: () => setFrame(cuts.find((c) => c > frame) ?? length - 1),
    first: () => setFrame(0),
    last: () => setFrame(length - 1),
    savePicture: () => void savePicture(store, frame),
    keepPicture: () => void keepPicture(store, frame),
    previousShot: () => work.choose(-1),
    nextShot: () => work.choose(1),
    chooseNoShot: () => {
      chooseNoShots();
      chooseClip(null);
      chooseNoJoin();
    },
  };
  useCommands({
    ...(isLooking ? {} : ofPlayhead),
    trimStart: () => work.trimHere('start'),
    trimEnd: () => work.trimHere('end'),
    slipEarlier: () => shots.nudge('slip', -1),
    slipLater: () => shots.nudge('slip', 1),
    slideEarlier: () => shots.nudge('slide', -1),
    slideLater: () => shots.nudge('slide', 1),
    rollEarlier: () => shots.nudge('roll', -1),
    rollLater: () => shots.nudge('roll', 1),
    reelIn: () => zoomReel(REEL_ZOOM_STEP),
    reelOut: () => zoomReel(1 / REEL_ZOOM_STEP),
    reelWhole: showWholeReel,
    previousMarker: () => goToMarker((marks) => marks.findLast((m) => m < frame)),
    nextMarker: () => goToMarker((marks) => marks.find((m) => m > frame)),
    moveEarlier: () => shots.move(-1),
    moveLater: () => shots.move(1),
    removeShot: shots.remove,
    split: shots.split,
    duplicate: shots.duplicate,
    cutShots: shots.cut,
    copyShots: () => (chosenJoin === undefined ? shots.copy() : copyJoin(store, chosenJoin)),
    pasteShots: () => (chosenJoins.size > 0 && heldJoin() !== null ? pasteJoin(store, [...chosenJoins]) : shots.paste()),
    chooseAll: shots.chooseAll,
    chooseToEnd: shots.chooseToEnd,
    swapWithNext: shots.swap,
    turnOff: shots.turnOff,
    rename: askForName,
    previousFinding: () => setFrame(found.findLast((f) => f < frame) ?? frame),
    nextFinding: () => setFrame(found.find((f) => f > frame) ?? frame),
    openJoin: openNearest,
    ...work.sound.handlers,
  });
}
