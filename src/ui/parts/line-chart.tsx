'use client';
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';

Chart.register(LinearScale, LineController, LineElement, PointElement);

interface LineChartProps {
  readonly label: string;
  /** Rising x; y in 0..1. */
  readonly points: readonly { readonly x: number; readonly y: number }[];
  /** Under this line points are marked. */
  readonly floor: number;
  /** A vertical line, such as the playhead. */
  readonly at: number | null;
  readonly onPick: (x: number) => void;
}

const cssColour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** More marks than this would run into one another. */
const MOST_MARKS = 32;

/** Which points under the floor get a mark: all of them, or where they are many the lowest of each stretch. */
export function markedPoints(ys: readonly number[], floor: number): Set<number> {
  const lowest = new Map<number, number>();
  const stretch = Math.max(1, ys.length / MOST_MARKS);
  ys.forEach((y, i) => {
    const key = Math.floor(i / stretch);
    const best = lowest.get(key);
    if (y < floor && (best === undefined || y < ys[best]!)) lowest.set(key, i);
  });
  return new Set(lowest.values());
}

/** A small curve over frames; clicking it picks the nearest point. */
export function LineChart({ label, points, floor, at, onPick }: LineChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pick = useRef(onPick);
  pick.current = onPick;
  const text = JSON.stringify(points);
  useEffect(() => {
    const [ink, soft, heed] = ['--ink', '--soft', '--heed'].map(cssColour) as [string, string, string];
    const list = JSON.parse(text) as { x: number; y: number }[];
    const marked = markedPoints(
      list.map((p) => p.y),
      floor,
    );
    const first = list[0]?.x ?? 0;
    const last = list.at(-1)?.x ?? 1;
    const flat = (y: number): { x: number; y: number }[] => [
      { x: first, y },
      { x: last, y },
    ];
    const chart = new Chart(canvas.current!, {
      type: 'line',
      data: {
        datasets: [
          {
            data: list,
            borderColor: ink,
            borderWidth: 1.5,
            segment: { borderColor: ({ p1 }) => (p1.parsed.y! < floor ? heed : ink) },
            pointRadius: list.map((_, i) => (marked.has(i) ? 3.5 : 0)),
            pointBackgroundColor: heed,
            pointBorderColor: heed,
            pointStyle: 'rectRot',
          },
          { data: flat(floor), borderColor: soft, borderWidth: 1, borderDash: [1, 3], pointRadius: 0 },
          ...(at === null
            ? []
            : [
                {
                  data: [
                    { x: at, y: 0 },
                    { x: at, y: 1 },
                  ],
                  borderColor: soft,
                  borderWidth: 1,
                  pointRadius: 0,
                },
              ]),
        ],
      },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        events: ['click'],
        onClick: (event, _, on) => {
          const x = on.scales.x?.getValueForPixel(event.x ?? 0);
          if (x !== undefined && list.length > 0)
            pick.current(list.reduce((best, p) => (Math.abs(p.x - x) < Math.abs(best.x - x) ? p : best)).x);
        },
        scales: {
          x: { type: 'linear', min: first, max: Math.max(first + 1, last), display: false },
          y: { min: 0, max: 1.02, display: false },
        },
      },
    });
    return () => chart.destroy();
  }, [text, floor, at]);
  return (
    <div className="h-14 w-full">
      <canvas ref={canvas} role="img" aria-label={label} data-chart />
    </div>
  );
}
