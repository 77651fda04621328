'use client';
import { useEffect, useRef, useSyncExternalStore } from 'react';
import type { SoundFacts } from '../../core/film/media-facts';
import { PEAK_SCALES } from '../../core/sound/peaks';
import { useTools } from '../store/film-context';

interface WaveProps {
  readonly sound: SoundFacts;
  /** CSS pixels. */
  readonly left: number;
  readonly width: number;
  readonly height: number;
  /** Medium sample at `x` CSS pixels from the wave's own left; may run either way. */
  readonly sampleAt: (x: number) => number;
  /** Changes whenever `sampleAt` gives something else. */
  readonly version: string;
  /** 0..1 at `x`, by which the wave is drawn smaller. */
  readonly gainAt?: (x: number) => number;
  readonly colour: string;
  /** Drawn as high as there is room, however quiet the sound is. */
  readonly fills?: boolean;
}

/** Samples a pair of the coarsest peaks stands for, by which a whole sound is measured; and how much a quiet one is drawn larger. */
const COARSEST = PEAK_SCALES.at(-1)!;
const MOST_ZOOM = 12;

/** The wave of a part of a sound, drawn by the peaks that suit its zoom. */
export function Wave({ sound, left, width, height, sampleAt, version, gainAt, colour, fills = false }: WaveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { peaks } = useTools();
  const arrived = useSyncExternalStore(peaks.subscribe, peaks.version, peaks.version);
  const latest = useRef({ sampleAt, gainAt });
  latest.current = { sampleAt, gainAt };
  const columns = Math.max(1, Math.min(4096, Math.round(width)));
  useEffect(() => {
    const element = canvas.current!;
    const { sampleAt, gainAt } = latest.current;
    element.width = columns;
    element.height = Math.round(height);
    const context = element.getContext('2d')!;
    context.fillStyle = getComputedStyle(element).color;
    const middle = element.height / 2;
    let isWhole = true;
    const whole = fills ? peaks.between(sound, 0, sound.samples, COARSEST) : null;
    const zoom = whole === null ? 1 : Math.min(MOST_ZOOM, 120 / Math.max(1, whole[1], -whole[0]));
    for (let x = 0; x < columns; x++) {
      const [a, b] = [sampleAt(x), sampleAt(x + 1)];
      const [from, to] = [Math.min(a, b), Math.max(a, b)];
      if (to <= 0 || from >= sound.samples) continue;
      const found = peaks.between(sound, from, Math.max(from + 1, to), Math.max(1, to - from));
      if (found === null) {
        isWhole = false;
        continue;
      }
      const gain = zoom * (gainAt?.(x) ?? 1);
      const top = middle - (found[1] / 128) * gain * middle;
      const bottom = middle - (found[0] / 128) * gain * middle;
      context.fillRect(x, top, 1, Math.max(1, bottom - top));
    }
    element.dataset.drawn = String(isWhole);
  }, [sound, columns, height, version, fills, peaks, arrived]);
  return (
    <canvas
      ref={canvas}
      data-wave
      data-chart
      aria-hidden
      className={`pointer-events-none absolute top-0 ${colour}`}
      style={{ left, width, height }}
    />
  );
}
