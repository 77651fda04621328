'use client';
import { useEffect, useRef, useState } from 'react';
import { useGuides } from '../store/guide-choice';
import { Guides } from './guides';
import { useFullScreen } from './use-full-screen';

/** The stage's canvas in the window that opened this one, as long as that shows a film. */
function canvasOfOpener(): HTMLCanvasElement | null {
  const opener = window.opener as Window | null;
  try {
    return opener === null || opener.closed ? null : opener.document.querySelector<HTMLCanvasElement>('canvas[data-stage]');
  } catch {
    // the opener has gone to a page of someone else's
    return null;
  }
}

/** The stage alone, as it is in the window that opened this one: for a second screen. */
export function SecondWindow() {
  const room = useRef<HTMLElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState<{ readonly width: number; readonly height: number } | null>(null);
  const [guides] = useGuides();
  const { toggleFull } = useFullScreen(room);
  useEffect(() => {
    let handle = 0;
    const tick = (): void => {
      handle = requestAnimationFrame(tick);
      const from = canvasOfOpener();
      const to = canvas.current;
      if (from === null || to === null) return setSize(null);
      const { width, height } = from;
      setSize((before) => (before?.width === width && before.height === height ? before : { width, height }));
      if (to.width !== width || to.height !== height) Object.assign(to, { width, height });
      const context = to.getContext('2d')!;
      context.clearRect(0, 0, width, height);
      context.drawImage(from, 0, 0);
      to.dataset.drawn = from.dataset.drawn ?? '';
      document.title = from.dataset.drawn || 'Stage';
    };
    tick();
    return () => cancelAnimationFrame(handle);
  }, []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() === 'f') toggleFull();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [toggleFull]);
  return (
    <main
      ref={room}
      className="flex h-screen items-center justify-center overflow-hidden bg-black text-well-ink"
      onDoubleClick={toggleFull}
    >
      {size === null && <p>This window shows the stage of a film: open it with the button under a stage.</p>}
      <div
        className={size === null ? 'hidden' : 'relative max-h-screen max-w-full'}
        style={
          size === null
            ? {}
            : { aspectRatio: `${size.width} / ${size.height}`, width: `min(100vw, calc(100vh * ${size.width / size.height}))` }
        }
      >
        <canvas ref={canvas} role="img" aria-label="The stage of the other window" className="size-full" />
        {size !== null && <Guides choice={guides} width={size.width} height={size.height} />}
      </div>
    </main>
  );
}
