'use client';
import type { PointerEvent } from 'react';

const REACH = 2;

/** Lies over the whole stage; a click gives the mean colour of the picture around the pointer, display RGB 0..255. */
export function ColourPicker({ onPick }: { readonly onPick: (colour: readonly [number, number, number]) => void }) {
  const pick = (event: PointerEvent<HTMLDivElement>): void => {
    if (event.button !== 0) return;
    const canvas = event.currentTarget.parentElement?.querySelector<HTMLCanvasElement>('canvas[data-stage]');
    const context = canvas?.getContext('2d');
    if (canvas == null || context == null) return;
    const box = canvas.getBoundingClientRect();
    const x = Math.floor(((event.clientX - box.left) / box.width) * canvas.width);
    const y = Math.floor(((event.clientY - box.top) / box.height) * canvas.height);
    if (x < 0 || y < 0 || x >= canvas.width || y >= canvas.height) return;
    const { data } = context.getImageData(x - REACH, y - REACH, 2 * REACH + 1, 2 * REACH + 1);
    const sum = [0, 0, 0];
    let count = 0;
    for (let i = 0; i < data.length; i += 4) {
      if (data[i + 3] === 0) continue; // beyond the picture
      count++;
      for (let c = 0; c < 3; c++) sum[c]! += data[i + c]!;
    }
    if (count > 0) onPick([sum[0]! / count, sum[1]! / count, sum[2]! / count].map(Math.round) as [number, number, number]);
  };
  return <div className="absolute inset-0 cursor-crosshair" data-picks-colour onPointerDown={pick} />;
}
