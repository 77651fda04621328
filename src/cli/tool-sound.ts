import { SOUND_RATE } from '../core/film/sound';
import { parseArgs } from 'node:util';
import { findWord, type SecondsSpan } from '../core/sound/words';
import { look, startSoundDecoder, type SoundProbe } from '../server/video/ffmpeg';
import { beatsOf } from '../server/work/find-beats';
import { pairsOf } from '../server/media/sound-files';
import { workerPool } from '../server/base/worker-pool';
import { takes } from './help';
import { fromCaller, outputFile, writeText } from './output';
import { UsageError } from './usage';

const milli = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/** Longest speech that a word is looked for in, seconds. */
const LONGEST_SPEECH = 600;

interface OpenedSound {
  readonly probed: SoundProbe;
  readonly pairs: AsyncGenerator<Int16Array<ArrayBuffer>>;
}

/** The sound of a file as it is decoded. @throws UsageError when it has none; Error when it cannot be decoded */
async function openSound(given: string): Promise<OpenedSound> {
  const path = fromCaller(given);
  const { sound } = await look(path);
  if (sound === null) throw new UsageError(`${given} holds no sound`);
  const child = startSoundDecoder(path, null, sound.duration + 10);
  const decoded = async function* (): AsyncGenerator<Int16Array<ArrayBuffer>> {
    yield* pairsOf(child.stdout as AsyncIterable<Buffer>);
    if ((await child.ended) !== 0) throw new Error(`${given} could not be decoded to its end: ${child.complaint()}`);
  };
  return { probed: sound, pairs: decoded() };
}

/** `tool beats`: the beats of a piece of music, seconds from the sound's first sample. */
export async function beatsCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({ args: [...args], options: { audio: { type: 'string' }, out: { type: 'string' } } });
  if (values.audio === undefined || values.out === undefined) throw new UsageError(takes('beats'));
  const out = outputFile(values.out, values.audio);
  const { probed, pairs } = await openSound(values.audio);
  try {
    const found = await beatsOf(pairs, probed.duration * SOUND_RATE, new AbortController().signal, () => undefined);
    const { beatsPerMinute, confidence, downbeat, perBar, seconds } = found;
    const told = { bpm: Math.round(beatsPerMinute * 100) / 100, confidence: Math.round(confidence * 100) / 100, downbeat, perBar };
    await writeText(out, `${JSON.stringify({ ...told, beats: seconds.map(milli) })}\n`);
  } finally {
    await workerPool().destroy();
  }
}

/**
 * `tool word`: where a word said in one take is said in another. `offset` is what a time in A becomes later by in B, at the place inside the
 * word where both agree best (`cut`, seconds of each).
 */
export async function wordCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: { a: { type: 'string' }, 'a-span': { type: 'string' }, b: { type: 'string' }, out: { type: 'string' } },
  });
  if (values.a === undefined || values.b === undefined || values['a-span'] === undefined || values.out === undefined)
    throw new UsageError(takes('word'));
  const out = outputFile(values.out, values.a, values.b);
  const a = await speechOf(values.a);
  const span = spanOf(values['a-span'], a.length / SOUND_RATE);
  const found = findWord(a, span, await speechOf(values.b));
  if (found === null) throw new UsageError(`${values.b} is too short to hold the word`);
  const rounded = ({ start, end }: SecondsSpan): SecondsSpan => ({ start: milli(start), end: milli(end) });
  const result = {
    a: rounded(found.a),
    b: rounded(found.b),
    offset: milli(found.cutB - found.cutA),
    cut: { a: milli(found.cutA), b: milli(found.cutB) },
    likeness: Math.round(found.likeness * 100) / 100,
  };
  await writeText(out, `${JSON.stringify(result)}\n`);
}

function spanOf(text: string, length: number): SecondsSpan {
  const [start, end, ...others] = text.split(',').map(Number);
  const isGood = others.length === 0 && start !== undefined && end !== undefined && start >= 0 && end > start + 0.02 && start < length;
  if (!isGood) throw new UsageError(`--a-span takes where the word starts and ends in seconds, such as 1.20,1.65, not "${text}"`);
  return { start, end: Math.min(end, length) };
}

async function speechOf(given: string): Promise<Float32Array> {
  const { probed, pairs } = await openSound(given);
  if (probed.duration > LONGEST_SPEECH)
    throw new UsageError(`${given} lasts ${Math.round(probed.duration)} s; words are looked for in up to ${LONGEST_SPEECH} s`);
  const parts: Int16Array[] = [];
  for await (const chunk of pairs) parts.push(chunk);
  const out = new Float32Array(parts.reduce((sum, p) => sum + (p.length >> 1), 0));
  let at = 0;
  for (const part of parts) for (let i = 0; i + 1 < part.length; i += 2) out[at++] = (part[i]! + part[i + 1]!) / 65_536;
  return out;
}
