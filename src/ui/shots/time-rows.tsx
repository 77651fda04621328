'use client';
import { channelAt } from '../../core/motion/curve';
import type { Timing } from '../../core/motion/motion';
import { RAMPS, rampTiming, type Ramp } from '../../core/motion/ramps';
import { NumberRow } from '../parts/number-field';
import { SelectRow } from '../parts/select-row';

interface TimeRowsProps {
  readonly time: Timing | undefined;
  /** The frames, on the clock of the curve, that a ready shape goes over. */
  readonly first: number;
  readonly last: number;
  readonly onChange: (title: string, time: Timing | undefined) => void;
}

/** How fast a shot or a layer runs: a ready shape, a number, and what shows between two pictures. The curve itself is a lane. */
export function TimeRows({ time, first, last, onChange }: TimeRowsProps) {
  const constant = time === undefined ? 1 : typeof time.speed === 'number' ? time.speed : null;
  const isCurve = constant === null;
  const now: Ramp | 'curve' = time === undefined ? 'as filmed' : isCurve ? 'curve' : 'constant';
  const anchor = time?.anchor ?? (first < 0 ? 0 : first);
  return (
    <>
      <SelectRow
        label="Speed"
        value={now}
        options={[...(isCurve ? [{ value: 'curve' as const, text: 'a curve' }] : []), ...RAMPS.map((r) => ({ value: r, text: r }))]}
        onChange={(ramp) => {
          if (ramp !== 'curve')
            onChange(
              `Speed: ${ramp}`,
              rampTiming(ramp, first, last, ramp === 'constant' || ramp === 'backwards' ? 1 : 3, anchor, time?.between),
            );
        }}
      />
      <NumberRow
        label={isCurve ? 'Speed at its start' : 'Speed in numbers'}
        unit="×"
        min={-100}
        max={100}
        step={0.05}
        disabled={isCurve}
        value={time === undefined ? 1 : channelAt(time.speed, first)}
        onCommit={(v) => onChange(`Speed ${v} ×`, v === 1 ? undefined : { speed: v, anchor, between: time?.between ?? 'nearest' })}
      />
      {time !== undefined && (
        <SelectRow
          label="Between pictures"
          value={time.between}
          options={[
            { value: 'nearest', text: 'the nearer' },
            { value: 'blended', text: 'blended' },
            { value: 'flow', text: 'made by their motion' },
          ]}
          onChange={(between) => onChange(`Between pictures: ${between}`, { ...time, between })}
        />
      )}
    </>
  );
}
