import { describe, expect, it } from 'vitest';
import { addClip, setClipSound, setShotSound, setSoundChange, addHit, setSoundLane } from '../film/edits/sound';
import { setOverlap } from '../film/edits/joins';
import { stretchShot } from '../film/edits/shots';
import type { Film, Media } from '../film/film';
import type { SoundFacts } from '../film/media-facts';
import { changed, countingIds, sampleFilm, sampleMedium } from '../film/sample-film';
import { rational } from '../geometry/rational';
import { Mixer } from './mixer';
import { changeOf, planSound } from './plan-sound';
import { placedJoins } from '../film/timing';
import { sampleOfFrame, silence, type Stereo } from './samples';

const SAMPLES = 96_000;
const [a, b] = [sampleMedium('a', 48), sampleMedium('b', 48)];
const media: Media = new Map([a, b].map((m) => [m.id, m]));
const facts = (id: string, samples = SAMPLES): SoundFacts => ({
  id,
  name: id,
  samples,
  codec: 'made',
  sourceRate: 48_000,
  sourceChannels: 2,
});
const sounds = new Map(['a', 'b', 'music', 'hit'].map((id) => [id, facts(id, id === 'hit' ? 1000 : id === 'music' ? 480_000 : SAMPLES)]));

/** Each medium is a ramp of its own that tells medium and place: left the place, right the medium. */
const level = { a: 0.1, b: 0.2, music: 0.3, hit: 0.4 } as Record<string, number>;
function read(mediumId: string, from: number, count: number): Promise<Stereo> {
  const out = silence(count);
  for (let i = 0; i < count; i++) {
    if (from + i < 0 || from + i >= sounds.get(mediumId)!.samples) continue;
    out.left[i] = Math.fround((from + i) / 1e6);
    out.right[i] = level[mediumId]!;
  }
  return Promise.resolve(out);
}

const film = (change: Parameters<typeof changed>[1] = () => undefined, rate = rational(24, 1)): Film =>
  changed(sampleFilm([a, b], rate), change);
const mixerOf = (of: Film): Mixer => new Mixer(planSound(of, media, sounds), read);
const heard = async (of: Film, from: number, count = 1): Promise<Stereo> => mixerOf(of).block(from, count);

describe('Mixer', () => {
  it('plays the shots as they are, exact to the sample at the cut', async () => {
    const cut = 96_000;
    const { left, right } = await heard(film(), cut - 2, 4);
    expect([...right]).toEqual([0.1, 0.1, 0.2, 0.2].map(Math.fround));
    expect([...left]).toEqual([(cut - 2) / 1e6, (cut - 1) / 1e6, 0, 1 / 1e6].map(Math.fround));
  });

  it('puts cuts of fractional rates on the nearest sample', async () => {
    const rate = rational(24_000, 1001);
    const of = film(() => undefined, rate);
    const cut = sampleOfFrame(rate, 48);
    expect(cut).toBe(96_096);
    const { right } = await heard(of, cut - 1, 2);
    expect([...right]).toEqual([0, 0.2].map(Math.fround)); // the first medium has run out by then
  });

  it('gives the same whatever blocks it is asked for', async () => {
    const of = film((d) => {
      setSoundChange(d, d.joins[0]!.id, { kind: 'cross fade', milliseconds: 40 });
      setShotSound(d, d.shots[0]!.id, { level: [keyAt(0, -20), keyAt(40, 0)], fadeIn: 3 });
      stretchShot(d, b, d.shots[1]!.id, 36, countingIds());
    });
    const whole = await heard(of, 90_000, 30_000);
    const mixer = mixerOf(of);
    const parts: number[] = [];
    for (let at = 90_000, step = 1; at < 120_000; at += step, step = 1 + ((step * 37) % 5000))
      parts.push(...(await mixer.block(at, Math.min(step, 120_000 - at))).left);
    expect(parts).toEqual([...whole.left]);
  });

  it('keeps the power of a cross-fade, and takes as long for it as was said', async () => {
    const of = film((d) => setSoundChange(d, d.joins[0]!.id, { kind: 'cross fade', milliseconds: 100 }));
    const cut = 96_000;
    const { enters, leaves } = changeOf(of, placedJoins(of)[0]!);
    expect([enters, leaves]).toEqual([cut - 2400, cut + 2400]);
    const plan = planSound(of, media, sounds);
    const gains = plan.voices.map((v) => {
      const ramp = v.ramps[0]!;
      return (n: number) => Math.sin((Math.PI / 2) * (ramp.rises ? (n + 0.5 - ramp.from) / 4800 : 1 - (n + 0.5 - ramp.from) / 4800));
    });
    for (let n = enters; n < leaves; n += 100) expect(gains[0]!(n) ** 2 + gains[1]!(n) ** 2).toBeCloseTo(1, 9);
    // before the cut both are heard, the entering one from before its first frame as far as its medium goes
    const { right } = await heard(of, enters, 4800);
    expect(right[0]).toBeCloseTo(0.1, 2);
    expect(right[4799]).toBeCloseTo(0.2, 2);
  });

  it('lets sound go over before or after the picture, or leaves one side out of the overlap', async () => {
    const before = film((d) => setSoundChange(d, d.joins[0]!.id, { at: -12 }));
    expect((await heard(before, 96_000 - 24_000 - 1, 2)).right[0]).toBeCloseTo(0.1);
    expect((await heard(before, 96_000 - 24_000, 1)).right[0]).toBe(0); // its medium begins at the cut
    const inside = film((d) => {
      d.shots[1]!.inFrame = 24;
      d.shots[1]!.length = 24;
      setSoundChange(d, d.joins[0]!.id, { at: -12 });
    });
    expect((await heard(inside, 96_000 - 24_000, 1)).right[0]).toBeCloseTo(0.2);
    const only = film((d) => {
      d.shots[0]!.length = 24;
      setOverlap(d, d.joins[0]!.id, 4, 6);
      setSoundChange(d, d.joins[0]!.id, { kind: 'leaving only' });
    });
    const end = sampleOfFrame(only.rate, 30);
    expect([...(await heard(only, end - 1, 2)).right]).toEqual([0.1, 0.2].map(Math.fround));
  });

  it('adds lanes and what joins bring along, and leaves out what is muted', async () => {
    const of = film((d) => {
      addClip(d, null, sounds.get('music')!, 6, countingIds('c'));
      addHit(d, d.joins[0]!.id, sounds.get('hit')!, -24, countingIds('h'));
    });
    expect((await heard(of, 12_000 - 1)).right[0]).toBeCloseTo(0.1);
    const first = await heard(of, 12_000);
    expect(first.right[0]).toBeCloseTo(0.4);
    expect(first.left[0]).toBeCloseTo(0.012);
    expect((await heard(of, 48_000)).right[0]).toBeCloseTo(0.8);
    expect((await heard(of, 49_000)).right[0]).toBeCloseTo(0.4);
    const muted = changed(of, (d) => {
      setSoundLane(d, d.soundLanes![0]!.id, { muted: true });
      setShotSound(d, d.shots[0]!.id, { muted: true });
    });
    expect((await heard(muted, 20_000)).right[0]).toBe(0);
  });

  it('takes levels in dB, keyed ones too, and nothing at their least', async () => {
    const of = film((d) => {
      const id = addClip(d, null, sounds.get('music')!, 0, countingIds('c'));
      setShotSound(d, d.shots[0]!.id, { level: -60 });
      setClipSound(d, id, { level: [keyAt(0, -20), keyAt(20, 0)] });
    });
    expect((await heard(of, 0)).right[0]).toBeCloseTo(0.03, 4);
    expect((await heard(of, sampleOfFrame(of.rate, 10))).right[0]).toBeCloseTo(0.3 * 10 ** (-10 / 20), 3);
    expect((await heard(of, sampleOfFrame(of.rate, 30))).right[0]).toBeCloseTo(0.3, 4);
  });

  it('is silent outside the film', async () => {
    expect([...(await heard(film(), -2, 2)).right, ...(await heard(film(), 192_000, 2)).right]).toEqual([0, 0, 0, 0]);
  });
});

const keyAt = (frame: number, value: number) => ({ frame, value, into: 'straight' as const, out: 'straight' as const });
