'use client';
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';

Chart.register(LinearScale, LineController, LineElement, PointElement);

interface LineChartProps {
  readonly label: string;
  /** Rising x; y in 0..1. */
  readonly points: readonly { readonly x: number; readonly y: number }[];
  /** Under this line a point is marked. */
  readonly floor: number;
  /** A vertical line, such as the playhead. */
  readonly at: number | null;
  readonly onPick: (x: number) => void;
}

const cssColour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** A small curve over frames; clicking it picks the nearest point. */
export function LineChart({ label, points, floor, at, onPick }: LineChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pick = useRef(onPick);
  pick.current = onPick;
  const text = JSON.stringify(points);
  useEffect(() => {
    const [ink, soft, heed] = ['--ink', '--soft', '--heed'].map(cssColour) as [string, string, string];
    const list = JSON.parse(text) as { x: number; y: number }[];
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
            pointRadius: list.map((p) => (p.y < floor ? 3.5 : 0)),
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
