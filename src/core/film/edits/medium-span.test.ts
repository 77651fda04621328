import { describe, expect, it } from 'vitest';
import { planFrame } from '../../plan/plan-film';
import type { FramePlan } from '../../plan/frame-plan';
import { edgeKey, changed, countingIds, sampleMedium, sampleWipe } from '../sample-film';
import { setOverlap } from './joins';
import { addLayer } from './layers';
import { addMediumMarker, addMediumSpan, setBeats } from './marks';
import { addClip } from './sound';
import { filmLength, placedJoins } from '../timing';
import { isChangedByHand } from '../made-mark';
import { beginLater, spanInUse } from './medium-span';
import type { Film, Media } from '../film';

const [a, b] = [sampleMedium('a', 400), sampleMedium('b', 400)];
const media: Media = new Map([a, b].map((m) => [m.id, m]));
const newId = countingIds('n');
const wipe = changed(sampleWipe(a, b, [edgeKey(135, 60), edgeKey(145, -60)]), (d) => {
  d.shots[0]!.inFrame = 100;
  d.shots[1]!.inFrame = 200;
  d.shots[1]!.length = 60;
  setOverlap(d, placedJoins(d)[0]!.join.id, 4, 6);
});

/** A plan as text, with frames of 'a' counted from `first`. */
function told(plan: FramePlan, first: number): string {
  return JSON.stringify(plan, (_, value: unknown) => {
    const ref = value as { mediumId?: string; frame?: number } | null;
    return ref !== null && typeof ref === 'object' && ref.mediumId === 'a' ? { ...ref, frame: ref.frame! - first } : value;
  });
}

describe('what is shown of a medium', () => {
  it('is its shots with their overlaps and handles', () => {
    expect(spanInUse(wipe, a, 0)).toEqual({ first: 99, last: 146 });
    expect(spanInUse(wipe, a, 10)).toEqual({ first: 89, last: 156 });
    expect(spanInUse(wipe, b, 0)).toEqual({ first: 195, last: 260 });
    expect(spanInUse(wipe, a, 1000)).toEqual({ first: 0, last: 399 });
  });

  it('is all of what is heard by itself, stands still or lies in a layer', () => {
    const sound = { id: 'a', name: 'A', samples: 48_000, codec: 'flac', sourceRate: 48_000, sourceChannels: 2 };
    expect(
      spanInUse(
        changed(wipe, (d) => void addClip(d, null, sound, 0, newId)),
        a,
        0,
      ),
    ).toBeNull();
    expect(spanInUse(wipe, { ...a, kind: 'still' }, 0)).toBeNull();
    const layered = changed(wipe, (d) => addLayer(d, d.joins[0]!.id, 'More', { kind: 'medium', mediumId: 'a', frame: 30 }, newId));
    expect(spanInUse(layered, a, 0)).toBeNull();
  });
});

describe('a film for a file that begins later', () => {
  const by = 89;
  const shorter: Media = new Map([...media, ['a', sampleMedium('a', 400 - by)]]);
  const later = (film: Film): Film => changed(film, (d) => beginLater(d, a, by));

  it('shows the same, frame by frame', () => {
    const held = changed(wipe, (d) => addLayer(d, d.joins[0]!.id, 'Held', { kind: 'held', side: 'leaving', frame: 120 }, newId));
    for (const film of [wipe, held]) {
      const moved = later(film);
      for (let at = 0; at < filmLength(film); at++)
        expect(told(planFrame(moved, shorter, at), 0)).toBe(told(planFrame(film, media, at), by));
    }
  });

  it('keeps marks, beats and spans where they are in the pictures, and what a recipe made as made', () => {
    const marked = changed(wipe, (d) => {
      addMediumMarker(d, 'a', 5, newId);
      addMediumSpan(d, 'a', 6, 1, newId);
      setBeats(d, { mediumId: 'a', seconds: [1, 3, 4, 5, 6, 7], downbeat: 1, perBar: 4, beatsPerMinute: 60, confidence: 1 });
    });
    const moved = later(marked);
    expect(moved.mediumMarkers!.map((m) => m.seconds)).toEqual([5 - by / 24, 6 - by / 24]);
    expect(moved.beats![0]!.seconds).toEqual([4, 5, 6, 7].map((s) => s - by / 24));
    expect(moved.beats![0]!.downbeat).toBe(3);
    for (const join of moved.joins) expect(isChangedByHand(moved, join)).toBe(isChangedByHand(marked, marked.joins.find((j) => j.id === join.id)!)); // prettier-ignore
  });
});
