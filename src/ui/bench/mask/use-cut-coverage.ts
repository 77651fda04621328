'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Medium } from '../../../core/film/film';
import type { MatteFrame } from '../../../core/film/matte-frame';
import { toNumber } from '../../../core/geometry/rational';
import type { StoredCoverage } from '../../../core/matte/coverage/stored-coverage';
import { hasPaint, markOf, type Stroke, type Strokes } from '../../../core/matte/cut/strokes';
import { useTools } from '../../store/film-context';

/** The frame of a painted matte that is worked on. */
interface PaintedFrame {
  /** Null without a painted matte. */
  readonly matteId: string | null;
  readonly medium: Medium | null;
  readonly mediumFrame: number | null;
  /** What is stored on it; null while nothing is. */
  readonly here: MatteFrame | null;
  /** Whether it is known what is stored. */
  readonly isKnown: boolean;
  readonly strokes: Strokes;
}

/** What to show of a painted matte on a frame: as it is being cut, else as stored. Strokes that changed are cut again and stored. */
export function useCutCoverage({ matteId, medium, mediumFrame, here, isKnown, strokes }: PaintedFrame) {
  const { store, cutter } = useTools();
  const [live, setLive] = useState<{ key: string; coverage: StoredCoverage; stroke: Stroke | null } | null>(null);
  const [stored, setStored] = useState<{ key: string; coverage: StoredCoverage | null } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const newest = useRef(0);
  /** What had been carried to a frame before a hand corrected it. */
  const base = useRef<{ readonly key: string; readonly coverage: Promise<StoredCoverage | null> } | null>(null);
  const key = `${matteId}:${mediumFrame}`;
  useEffect(() => {
    if (matteId !== null) void store.wantMatteFrames(matteId);
  }, [store, matteId]);

  // what the server has here
  const version = here?.version ?? 0;
  const carriedVersion = here?.origin === 'hand' ? 'by hand' : version;
  useEffect(() => {
    if (carriedVersion !== 'by hand') base.current = null;
  }, [carriedVersion]);
  useEffect(() => {
    if (matteId === null || mediumFrame === null) return;
    let wanted = true;
    const load = version === 0 ? Promise.resolve(null) : store.coverage(matteId, mediumFrame, 'coverage');
    load.then(
      (coverage) => {
        if (!wanted) return;
        setStored({ key, coverage });
        setLive((l) => (l?.key === key && l.stroke === null ? null : l));
      },
      (error: Error) => wanted && setProblem(error.message),
    );
    return () => {
      wanted = false;
    };
  }, [store, matteId, mediumFrame, version, key]);

  const cut = useCallback(
    async (what: Strokes, quick: boolean): Promise<StoredCoverage | null> => {
      if (matteId === null || mediumFrame === null || medium === null) return null;
      // asked once a frame, not with every move of the pointer
      if (base.current?.key !== key) base.current = { key, coverage: store.coverage(matteId, mediumFrame, 'base') };
      const asked = base.current;
      const prior = await asked.coverage.catch((error: unknown) => {
        if (base.current === asked) base.current = null; // asked again with the next stroke
        throw error;
      });
      const facts = store.snapshot().media.get(medium.id);
      if (facts === undefined) return null;
      return cutter.cut({
        source: {
          mediumId: medium.id,
          url: new URL(`/api/media/${medium.id}/${facts.proxy}`, location.href).href,
          framesPerSecond: toNumber(facts.rate),
          frames: facts.frames,
        },
        mediumWidth: medium.width,
        mediumHeight: medium.height,
        frame: mediumFrame,
        strokes: what,
        prior,
        quick,
      });
    },
    [store, cutter, matteId, mediumFrame, medium, key],
  );

  // strokes that changed, by painting or by undo, are cut again and stored
  const mark = markOf(strokes);
  const hasStrokes = hasPaint(strokes);
  useEffect(() => {
    if (matteId === null || mediumFrame === null || !isKnown || here?.settled === true) return;
    if (!hasStrokes) {
      if (here?.origin === 'hand') void store.ask(`mattes/${matteId}`, { do: 'restore', frame: mediumFrame });
      return;
    }
    if (here?.origin === 'hand' && here.madeFrom === mark) return;
    let wanted = true;
    const run = async (): Promise<void> => {
      const coverage = await cut(strokes, false);
      if (coverage === null || !wanted) return;
      setLive({ key, coverage, stroke: null });
      await store.storeMatteFrame(matteId, mediumFrame, coverage, mark);
    };
    run().catch((error: Error) => setProblem(`The matte could not be cut: ${error.message}`));
    return () => {
      wanted = false;
    };
    // `here` changes when the frame is stored; only what it was made from matters
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [matteId, mediumFrame, mark, hasStrokes, isKnown, here?.madeFrom, here?.origin, here?.settled, cut]);
  return {
    coverage: live?.key === key ? live.coverage : stored?.key === key ? stored.coverage : null,
    problem,
    /** Cuts with a stroke that is being painted; nothing is stored, and only the newest is shown. */
    cutLive(what: Strokes, stroke: Stroke): void {
      const ticket = ++newest.current;
      void cut(what, true).then(
        (coverage) => {
          if (coverage !== null && ticket === newest.current) setLive({ key, coverage, stroke });
        },
        (error: Error) => setProblem(`The matte could not be cut: ${error.message}`),
      );
    },
  };
}
