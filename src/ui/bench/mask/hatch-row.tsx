'use client';
import { SliderRow } from '../../parts/number-field';
import { useHatch } from '../../store/mask-view';

/** How strongly what is taken out is hatched on the stage. */
export function HatchRow() {
  const [hatch, setHatch] = useHatch();
  const set = (percent: number): void => setHatch(percent / 100);
  return <SliderRow label="Removed area" unit="%" min={0} max={100} value={Math.round(100 * hatch)} onPreview={set} onCommit={set} />;
}
