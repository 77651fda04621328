'use client';
import { useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { setAddress } from '../../parts/address';
import { STAGE_VIEWS, type StageView } from '../../../core/plan/plan-views';

export const STEPS = ['pair', 'mask', 'track', 'move', 'blend', 'check'] as const;
export type Step = (typeof STEPS)[number];

/** Where one is on the bench; the address holds it, so that a reload lands on the same spot. */
export interface BenchPlace {
  readonly step: Step;
  readonly view: StageView;
  /** Film frame; null before the first look. */
  readonly frame: number | null;
  /** The matte chosen by hand, if one was; it need not be there any more. */
  readonly matteId: string | null;
}

function readAddress(query: URLSearchParams): BenchPlace {
  const step = STEPS.find((s) => s === query.get('step')) ?? 'pair';
  const view = STAGE_VIEWS.find((v) => v === query.get('view')) ?? 'result';
  const frame = query.get('frame');
  return { step, view, frame: frame === null || !/^\d{1,7}$/.test(frame) ? null : Number(frame), matteId: query.get('matte') };
}

const ADDRESS_DELAY_MS = 150;

export function useBenchPlace(): readonly [BenchPlace, (change: Partial<BenchPlace>) => void] {
  // the address of this page, which the browser may not show yet on the way here
  const address = useSearchParams();
  const [place, setPlace] = useState<BenchPlace>(() => readAddress(new URLSearchParams(address.toString())));
  useEffect(() => {
    // browsers refuse hundreds of address changes a second while playing
    const timer = setTimeout(() => {
      const { step, view, frame, matteId } = place;
      setAddress({ step, view, ...(frame === null ? {} : { frame }), ...(matteId === null ? {} : { matte: matteId }) });
    }, ADDRESS_DELAY_MS);
    return () => clearTimeout(timer);
  }, [place]);
  const change = useCallback((part: Partial<BenchPlace>) => setPlace((p) => ({ ...p, ...part })), []);
  return [place, change];
}
