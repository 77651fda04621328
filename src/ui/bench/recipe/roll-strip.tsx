'use client';
import { useEffect, useState } from 'react';
import { rollCutAndRefit } from '../../../core/recipes/refit';
import { framesText, shotFrameAt, startsAround, type PlacedJoin } from '../../../core/film/timing';
import { planShot } from '../../../core/plan/plan-shot';
import { useFilm, useTools } from '../../store/film-context';

/** Frames either way that the cut may be rolled by, as the strip shows them. */
const REACH = 12;
/** Size at which both pictures are compared. */
const [WIDTH, HEIGHT] = [64, 36];

/** How far both shots differ on the frames around the cut: a cell a frame, the best one marked; a click rolls the cut there. */
export function RollStrip({ placed }: { readonly placed: PlacedJoin }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { join, cut } = placed;
  const scores = useDifferences(placed);
  const known = [...scores.values()];
  if (known.length < 2) return null;
  /** Whether both shots have a picture where the cut would be then, and frames are left of both. */
  const canRoll = (by: number): boolean =>
    by > -placed.leaving.length &&
    by < placed.entering.length &&
    (['leaving', 'entering'] as const).every((s) => shotFrameAt(film, media, placed[s], startsAround(placed)[s], cut + by) !== null);
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const best = [...scores].find(([, v]) => v === least)![0];
  const roll = (by: number): void =>
    store.edit(`Rolled the cut ${framesText(Math.abs(by))} ${by < 0 ? 'earlier' : 'later'}`, (d) => rollCutAndRefit(d, media, join.id, by));
  return (
    <div className="flex flex-col gap-1">
      <div className="flex h-8 items-end gap-px" role="group" aria-label="Where both shots are most alike">
        {Array.from({ length: 2 * REACH + 1 }, (_, i) => i - REACH).map((by) => {
          const score = scores.get(by);
          const likeness = score === undefined || most === least ? 0 : (most - score) / (most - least);
          return (
            <button
              key={by}
              type="button"
              disabled={score === undefined || by === 0}
              data-roll={by}
              data-best={by === best || undefined}
              title={
                score === undefined
                  ? canRoll(by)
                    ? 'not looked at yet'
                    : 'one of the shots has no picture there'
                  : `Roll the cut to ${cut + by}: they differ by ${score.toFixed(1)}`
              }
              className={`relative h-full min-w-0 grow ${score === undefined && !canRoll(by) ? 'hatched' : 'bg-rule hover:bg-pressed'} ${by === 0 ? 'outline-1 outline-ink outline-solid' : ''}`}
              onClick={() => roll(by)}
            >
              <span className="absolute inset-x-0 bottom-0 bg-seam" style={{ height: `${Math.round(100 * likeness)}%` }} />
              {by === best && <span className="absolute -top-1.5 left-1/2 size-1.5 -translate-x-1/2 rounded-full bg-ink" />}
            </button>
          );
        })}
      </div>
      <p className="text-soft">
        {best === 0
          ? 'The cut lies where both are most alike.'
          : `They are most alike ${framesText(Math.abs(best))} ${best < 0 ? 'earlier' : 'later'}.`}
        {best !== 0 && (
          <button type="button" className="pl-2 underline" onClick={() => roll(best)}>
            roll it there
          </button>
        )}
      </p>
    </div>
  );
}

/** Mean difference of both shots' pictures, 8-bit steps, by frames from the cut. */
function useDifferences(placed: PlacedJoin): ReadonlyMap<number, number> {
  const { frames } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [found, setFound] = useState<ReadonlyMap<number, number>>(new Map());
  const { cut, leaving, entering } = placed;
  const key = JSON.stringify([cut, leaving, entering, [...media.keys()]]);
  useEffect(() => {
    let isGone = false;
    setFound(new Map());
    const starts = startsAround(placed);
    const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    const pixels = async (side: 'leaving' | 'entering', at: number): Promise<Uint8ClampedArray | null> => {
      const drawing = { kind: 'picture', plan: planShot(film, media, placed, side, at) } as const;
      let bitmap: ImageBitmap | null = null;
      while (bitmap === null && !isGone) bitmap = await frames.draw(drawing, WIDTH, HEIGHT, 'thumb');
      if (bitmap === null) return null;
      context.drawImage(bitmap, 0, 0, WIDTH, HEIGHT);
      return context.getImageData(0, 0, WIDTH, HEIGHT).data;
    };
    const look = async (): Promise<void> => {
      const near = Array.from({ length: 2 * REACH + 1 }, (_, i) => i - REACH).sort((a, b) => Math.abs(a) - Math.abs(b));
      for (const by of near) {
        const at = cut + by;
        if (by <= -leaving.length || by >= entering.length) continue;
        if ((['leaving', 'entering'] as const).some((s) => shotFrameAt(film, media, placed[s], starts[s], at) === null)) continue;
        const a = await pixels('leaving', at);
        const b = await pixels('entering', at);
        if (isGone || a === null || b === null) return;
        let sum = 0;
        for (let i = 0; i < a.length; i++) if (i % 4 !== 3) sum += Math.abs(a[i]! - b[i]!);
        setFound((now) => new Map(now).set(by, sum / (3 * WIDTH * HEIGHT)));
      }
    };
    look().catch(() => undefined); // a picture that cannot be drawn is told by the stage; its cell stays hatched
    return () => void (isGone = true);
    // the key stands for the shots and where they meet
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, key]);
  return found;
}
