'use client';
import { useRef, useState } from 'react';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../../../core/film/timing';
import type { CarriedShape } from '../../../core/matte/outline/carry-outline';
import { Button } from '../../parts/button';
import { Section } from '../../parts/section';
import { StopWork } from '../../parts/stop-work';
import { useFilm, useTools } from '../../store/film-context';
import type { OutlineTools } from './outline-tools';
import { mediumPlan } from '../common/medium-plan';

const OWNER = 'carry outline';

/** Takes an outline along by what the picture does, from the frame one stands on to either end of the overlap. */
export function CarryOutline({ placed, tools }: { readonly placed: PlacedJoin; readonly tools: OutlineTools }) {
  const { store, frames } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [share, setShare] = useState<number | null>(null);
  const stopped = useRef(false);
  const side = tools.matte.mediumId === placed.leaving.mediumId ? 'leaving' : 'entering';
  const medium = mediumOf(media, placed[side]);
  const { mediumFrame, points } = tools;
  const frameOn = (filmFrame: number): number | null => shotFrameAt(film, media, placed[side], startsAround(placed)[side], filmFrame);
  const [first, last] = [frameOn(placed.from), frameOn(Math.max(placed.from, placed.to - 1))];
  const carry = async (goal: number): Promise<void> => {
    if (medium === null || mediumFrame === null) return;
    stopped.current = false;
    setShare(0);
    const shapes: CarriedShape[] = [{ frame: mediumFrame, points }];
    const step = Math.sign(goal - mediumFrame);
    try {
      for (let at = mediumFrame; at !== goal; at += step) {
        const [from, to] = [mediumPlan(medium, medium, at), mediumPlan(medium, medium, at + step)];
        const carried = stopped.current ? null : await frames.carryPoints(from, to, shapes.at(-1)!.points, OWNER);
        if (carried === null) break;
        shapes.push({ frame: at + step, points: carried });
        setShare((shapes.length - 1) / Math.abs(goal - mediumFrame));
      }
      // what it came to before it was stopped is kept
      if (shapes.length > 1) tools.takeCarried(shapes);
    } catch (error) {
      store.notify(`The outline could not be carried: ${(error as Error).message}`);
    } finally {
      setShare(null);
    }
  };
  const isOff = mediumFrame === null || points.length === 0;
  return (
    <Section title="Carried by motion" name="Carry outline">
      <p className="text-soft">From this frame its points go along with what they lie on.</p>
      {share === null ? (
        <div className="flex flex-wrap gap-1.5">
          <Button disabled={isOff || first === null || first >= mediumFrame} onClick={() => void carry(first!)}>
            Back to the overlap’s start
          </Button>
          <Button disabled={isOff || last === null || last <= mediumFrame} onClick={() => void carry(last!)}>
            On to its end
          </Button>
        </div>
      ) : (
        <StopWork
          label="Carrying the outline"
          share={share}
          onStop={() => {
            stopped.current = true;
            frames.dropMeasures(OWNER);
          }}
        />
      )}
    </Section>
  );
}
