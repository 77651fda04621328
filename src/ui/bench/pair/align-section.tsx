'use client';
import { useState } from 'react';
import { setFraming } from '../../../core/film/edits';
import type { OwnFraming } from '../../../core/film/film';
import { mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { lumaOf } from '../../../core/image/plane';
import type { Plane } from '../../../core/image/pixels';
import { alignPictures } from '../../../core/pair/align-pictures';
import { likenessOf } from '../../../core/pair/align';
import { framingOver } from '../../../core/pair/cut-pair';
import { SIGNS_WIDTH } from '../../../core/pair/frame-signs';
import { IN_PLACE } from '../../../core/pair/placement';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { mediumDrawing } from './medium-drawing';

const FILLING: OwnFraming = { x: 0, y: 0, scale: 1, turn: 0 };

/** How the entering shot lies over the leaving one: from the pictures at the cut, or by numbers. */
export function AlignSection({ placed }: { readonly placed: PlacedJoin }) {
  const { store, frames } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [told, setTold] = useState<{ readonly text: string; readonly isGood: boolean } | null>(null);
  const [isBusy, setBusy] = useState(false);
  const { leaving, entering } = placed;
  const [mediumA, mediumB] = [mediumOf(media, leaving), mediumOf(media, entering)];
  const framing = typeof entering.framing === 'object' ? entering.framing : FILLING;
  const isOwn = typeof entering.framing === 'object';
  const change = (title: string, part: Partial<OwnFraming>): void =>
    store.edit(`${title} of ${entering.name}`, (d) => setFraming(d, entering.id, { ...framing, ...part }));
  const luma = async (medium: NonNullable<typeof mediumA>, frame: number): Promise<Plane> => {
    const height = Math.round((SIGNS_WIDTH * medium.height) / medium.width);
    let bitmap: ImageBitmap | null = null;
    const drawing = mediumDrawing({ width: medium.width, height: medium.height }, medium, frame);
    while (bitmap === null) bitmap = await frames.draw(drawing, SIGNS_WIDTH, height, 'thumb');
    const context = new OffscreenCanvas(SIGNS_WIDTH, height).getContext('2d')!;
    context.drawImage(bitmap, 0, 0, SIGNS_WIDTH, height);
    return lumaOf(context.getImageData(0, 0, SIGNS_WIDTH, height));
  };
  const align = async (): Promise<void> => {
    if (mediumA === null || mediumB === null) return;
    setBusy(true);
    try {
      const [a, b] = await Promise.all([
        luma(mediumA, Math.round(leaving.inFrame + leaving.length - 1)),
        luma(mediumB, Math.round(entering.inFrame)),
      ]);
      const before = likenessOf(a, b, IN_PLACE);
      const { placement, likeness } = alignPictures(a, b);
      const percent = (v: number): number => Math.round(100 * Math.max(0, v));
      const text = `Alike by ${percent(before.likeness)} % as they were, ${percent(likeness)} % as they lie now.`;
      setTold({
        text: likeness < 0.35 ? `${text} That is little: mark the same two things in both instead.` : text,
        isGood: likeness >= 0.35,
      });
      const made = framingOver(film, media, placed, placement);
      if (made !== null) store.edit(`Laid ${entering.name} over ${leaving.name}`, (d) => setFraming(d, entering.id, made));
    } catch (error) {
      setTold({ text: `The pictures could not be had: ${(error as Error).message}`, isGood: false });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Section title="Lie over each other" name="Align">
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={isBusy || mediumA === null || mediumB === null} onClick={() => void align()}>
          From the pictures
        </Button>
        {isOwn && (
          <Button onClick={() => store.edit(`Let ${entering.name} fill the frame`, (d) => setFraming(d, entering.id, 'fill'))}>
            Fill the frame
          </Button>
        )}
      </div>
      {told !== null && <Note tone={told.isGood ? 'good' : 'heed'}>{told.text}</Note>}
      {isOwn && (
        <>
          <NumberRow label="x" unit="px" value={Math.round(10 * framing.x) / 10} onCommit={(x) => change('Place', { x })} />
          <NumberRow label="y" unit="px" value={Math.round(10 * framing.y) / 10} onCommit={(y) => change('Place', { y })} />
          <NumberRow
            label="Size"
            unit="%"
            min={1}
            step={0.5}
            value={Math.round(1000 * framing.scale) / 10}
            onCommit={(v) => change('Size', { scale: v / 100 })}
          />
          <NumberRow
            label="Turn"
            unit="°"
            step={0.1}
            value={Math.round(100 * framing.turn) / 100}
            onCommit={(turn) => change('Turn', { turn })}
          />
        </>
      )}
    </Section>
  );
}
