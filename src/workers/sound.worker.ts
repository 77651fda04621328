// Browser worker: mixes what is heard from parts of the media's sounds, and listens to speech.
import { LRUCache } from 'lru-cache';
import { SOUND_RATE } from '../core/film/sound';
import { Mixer } from '../core/sound/mixer';
import { planSound } from '../core/sound/plan-sound';
import { monoOf, silence, unpackPairs, type Stereo } from '../core/sound/samples';
import { findSilences, findWord, type SecondsSpan } from '../core/sound/words';
import type { SoundReply, SoundRequest } from './sound-protocol';

/** Samples of a part that is fetched at one time, and parts that are kept: the memory this takes does not grow with the sounds. */
const PART = 65_536;
const MOST_PARTS = 96;
const PAIR_BYTES = 4;

let url = '';
let mixer: Mixer | null = null;
const parts = new LRUCache<string, Promise<Int16Array>>({ max: MOST_PARTS });

const reply = (message: SoundReply, transfer: Transferable[] = []): void => self.postMessage(message, { transfer });

async function fetchPart(mediumId: string, index: number): Promise<Int16Array> {
  const first = index * PART * PAIR_BYTES;
  const answer = await fetch(`${url}${mediumId}/sound.s16`, { headers: { range: `bytes=${first}-${first + PART * PAIR_BYTES - 1}` } });
  if (answer.status === 416) return new Int16Array(0); // past the end
  if (!answer.ok) throw new Error('The sound could not be fetched from the server.');
  const bytes = await answer.arrayBuffer();
  return new Int16Array(bytes, 0, Math.floor(bytes.byteLength / 2));
}

function part(mediumId: string, index: number): Promise<Int16Array> {
  const key = `${mediumId}:${index}`;
  const known = parts.get(key);
  if (known !== undefined) return known;
  const asked = fetchPart(mediumId, index);
  parts.set(key, asked);
  // one that failed is asked for again the next time
  asked.catch(() => parts.delete(key));
  return asked;
}

async function read(mediumId: string, from: number, count: number): Promise<Stereo> {
  const out = silence(count);
  const end = from + count;
  for (let index = Math.max(0, Math.floor(from / PART)); index * PART < end; index++) {
    const pairs = await part(mediumId, index);
    const first = Math.max(from, index * PART);
    const last = Math.min(end, index * PART + (pairs.length >> 1));
    if (last <= first) break;
    unpackPairs(pairs.subarray(2 * (first - index * PART), 2 * (last - index * PART)), out, first - from);
  }
  return out;
}

const speech = async (mediumId: string, { start, end }: SecondsSpan): Promise<Float32Array> =>
  monoOf(await read(mediumId, Math.round(start * SOUND_RATE), Math.round((end - start) * SOUND_RATE)));

const later = ({ start, end }: SecondsSpan, by: number): SecondsSpan => ({ start: start + by, end: end + by });

async function answer(request: Exclude<SoundRequest, { kind: 'film' }>): Promise<void> {
  const { job } = request;
  if (request.kind === 'mix' || request.kind === 'medium') {
    const { from, count } = request;
    const { left, right } =
      request.kind === 'medium' ? await read(request.mediumId, from, count) : ((await mixer?.block(from, count)) ?? silence(count));
    reply({ kind: 'sound', job, left, right }, [left.buffer, right.buffer]);
  } else if (request.kind === 'word') {
    const { a, aWithin, span, b, bWithin } = request;
    const found = findWord(await speech(a, aWithin), later(span, -aWithin.start), await speech(b, bWithin));
    const word =
      found === null
        ? null
        : {
            ...found,
            a: later(found.a, aWithin.start),
            b: later(found.b, bWithin.start),
            cutA: found.cutA + aWithin.start,
            cutB: found.cutB + bWithin.start,
          };
    reply({ kind: 'word', job, word });
  } else {
    const spans = findSilences(await speech(request.mediumId, request.within));
    reply({ kind: 'silences', job, spans: spans.map((s) => later(s, request.within.start)) });
  }
}

self.onmessage = ({ data }: MessageEvent<SoundRequest>) => {
  if (data.kind === 'film') {
    url = data.url;
    const byId = <T extends { readonly id: string }>(list: readonly T[]): Map<string, T> => new Map(list.map((item) => [item.id, item]));
    mixer = new Mixer(planSound(data.film, byId(data.media), byId(data.sounds)), read);
    return;
  }
  answer(data).catch((error: Error) => reply({ kind: 'failed', job: data.job, reason: error.message }));
};
