'use client';
import { SOUND_RATE } from '../../core/film/sound';
import { Pause, Play } from 'lucide-react';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import type { SoundFacts } from '../../core/film/media-facts';
import { Wave } from '../sound/wave';
import { useTools } from '../store/film-context';

const HEIGHT = 54;
/** Width of a card that has yet to be measured, CSS pixels. */
const USUAL_WIDTH = 172;

/** The wave of a sound on its card; it plays there, from where it is clicked. */
export function SoundFace({ sound }: { readonly sound: SoundFacts }) {
  const { player, sound: client } = useTools();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(USUAL_WIDTH);
  const [from, setFrom] = useState<number | null>(null);
  const [at, setAt] = useState(0);
  useEffect(() => {
    const element = box.current!;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  useEffect(() => {
    if (from === null) return;
    const clock = player.play((first, count) => client.medium(sound.id, first, count), from, 1, { from: 0, to: sound.samples });
    let handle = 0;
    const tick = (): void => {
      const place = from + clock.seconds() * SOUND_RATE;
      setAt(place);
      if (place >= sound.samples) setFrom(null);
      else handle = requestAnimationFrame(tick);
    };
    tick();
    return () => {
      cancelAnimationFrame(handle);
      player.stop();
    };
  }, [from, player, client, sound]);
  const placeOf = (event: PointerEvent): number => {
    const { left, width: wide } = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(sound.samples - 1, ((event.clientX - left) / wide) * sound.samples));
  };
  return (
    <div
      ref={box}
      className="relative overflow-hidden rounded-t-[4px] bg-paper"
      style={{ height: HEIGHT }}
      data-testid="sound-face"
      onPointerUp={(event) => event.button === 0 && setFrom(placeOf(event))}
    >
      <Wave
        sound={sound}
        left={0}
        width={width}
        height={HEIGHT}
        sampleAt={(x) => (x / width) * sound.samples}
        version={`${width}`}
        colour="text-entering"
      />
      {from !== null && (
        <span className="pointer-events-none absolute inset-y-0 w-px bg-ink" style={{ left: `${(100 * at) / sound.samples}%` }} />
      )}
      <button
        type="button"
        aria-label={from === null ? `Play ${sound.name}` : `Stop ${sound.name}`}
        className="absolute bottom-1 left-1 rounded-[4px] bg-ink/85 p-1 text-sheet"
        onPointerUp={(event) => event.stopPropagation()}
        onClick={() => setFrom(from === null ? 0 : null)}
      >
        {from === null ? <Play size={11} /> : <Pause size={11} />}
      </button>
    </div>
  );
}
