'use client';
import { Volume2, VolumeX } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { hint } from '../commands/commands';
import { useCommands } from '../commands/use-commands';
import { IconButton } from '../parts/button';
import { usePreference } from '../store/preferences';
import { useTools } from '../store/film-context';

/** dB at the meter's left end. */
const LOWEST = -48;
/** Milliseconds for which the loudest stays marked, and dB a second that the bar falls. */
const HOLD_MS = 1500;
const FALL = 26;
/** How often it moves, ms. */
const TICK_MS = 42;

const decibels = (value: number): number => Math.max(LOWEST, 20 * Math.log10(Math.max(1e-6, value)));
const share = (db: number): number => (db - LOWEST) / -LOWEST;

/** How loud it is, both channels, with the loudest held for a while; and a switch for hearing it. */
export function SoundMeter({ playing }: { readonly playing: boolean }) {
  const { player } = useTools();
  const [isOn, setOn] = usePreference('sound', true);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => player.setLoudness(isOn ? 1 : 0), [player, isOn]);
  useCommands({ soundOnOff: () => setOn(!isOn) });
  useEffect(() => {
    const element = box.current!;
    const [bars, holds] = ['bar', 'hold'].map((what) => [...element.querySelectorAll<HTMLElement>(`[data-meter=${what}]`)]);
    const state = [0, 1].map(() => ({ level: LOWEST, held: LOWEST, since: 0 }));
    let timer: ReturnType<typeof setTimeout> | undefined;
    let before = performance.now();
    const tick = (): void => {
      const now = performance.now();
      const heard = player.meter();
      [heard.left, heard.right].forEach((value, i) => {
        const channel = state[i]!;
        const level = decibels(value);
        channel.level = Math.max(level, channel.level - (FALL * (now - before)) / 1000, LOWEST);
        if (level >= channel.held || now - channel.since > HOLD_MS) Object.assign(channel, { held: channel.level, since: now });
        bars![i]!.style.width = `${100 * Math.min(1, share(channel.level))}%`;
        holds![i]!.style.left = `${100 * Math.min(0.985, share(channel.held))}%`;
        holds![i]!.dataset.full = String(channel.held >= 0);
      });
      element.dataset.loudest = String(Math.round(Math.max(state[0]!.held, state[1]!.held)));
      before = now;
      if (playing || state.some((s) => s.held > LOWEST)) timer = setTimeout(tick, TICK_MS);
    };
    tick();
    return () => clearTimeout(timer);
  }, [player, playing]);
  return (
    <div className="flex shrink-0 items-center gap-1">
      <IconButton label={hint('soundOnOff', isOn ? 'Sound off' : 'Sound on')} onClick={() => setOn(!isOn)}>
        {isOn ? <Volume2 size={14} /> : <VolumeX size={14} />}
      </IconButton>
      <div
        ref={box}
        role="img"
        aria-label="Loudness"
        title="From −48 dB to full scale"
        className="flex w-16 flex-col gap-[2px]"
        data-testid="sound-meter"
      >
        {['left', 'right'].map((channel) => (
          <div key={channel} className="relative h-[4px] bg-rule">
            <span data-meter="bar" className="absolute inset-y-0 left-0 bg-entering" style={{ width: 0 }} />
            <span
              data-meter="hold"
              className="absolute inset-y-0 w-px bg-ink data-[full=true]:w-[3px] data-[full=true]:bg-fault"
              style={{ left: 0 }}
            />
          </div>
        ))}
      </div>
    </div>
  );
}
