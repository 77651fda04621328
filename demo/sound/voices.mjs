// The mender's two takes: speech from espeak-ng over room tone, with the place of every word and the movement of the mouth.
import { mkdirSync, writeFileSync } from 'node:fs';
import { addNote, RATE, run, softNoise, writeSound } from './synth.mjs';

const SECONDS = 6;
const STARTS_AT = 0.35;
const MOUTH_RATE = 96;

/** In take 1 the tongue slips: the words marked with a star are what an editor wants to lose. */
const TAKES = {
  'mender-take-1': { text: 'Every clock here stops at midnight, and *I, *uh, *and I wake them.', pitch: 31, seed: 11 },
  'mender-take-2': { text: 'The tram comes home at midnight, and the whole hill goes quiet.', pitch: 33, seed: 12 },
};
const SHARED_WORD = 'midnight';

/** Speaks `words`, one of them, or none, louder than the rest. Samples at espeak's own rate. */
function speak(words, pitch, louder) {
  const marked = words.map((word, i) => {
    const bare = word.replace(/[,.]$/, '');
    return `<prosody volume="${i === louder ? 'loud' : 'soft'}">${bare}</prosody>${word.slice(bare.length)}`;
  });
  const wav = run('espeak-ng', ['-m', '-v', 'en-gb', '-s', '150', '-p', String(pitch), '--stdout', marked.join(' ')]);
  const rate = wav.readUInt32LE(24);
  const data = wav.subarray(wav.indexOf('data') + 8);
  return { rate, samples: new Int16Array(data.buffer.slice(data.byteOffset, data.byteOffset + (data.length & ~1))) };
}

/** Where each word lies, exactly: louder speech keeps its timing, so only the louder word's samples differ. */
function wordSpans(words, pitch) {
  const plain = speak(words, pitch, -1);
  return words.map((word, k) => {
    const { samples } = speak(words, pitch, k);
    if (samples.length !== plain.samples.length) throw new Error(`"${word}" changed the timing of its sentence`);
    let first = 0;
    let last = samples.length - 1;
    while (samples[first] === plain.samples[first]) first++;
    while (samples[last] === plain.samples[last]) last--;
    return { word: word.toLowerCase().replace(/[,.]/g, ''), start: first / plain.rate, end: (last + 1) / plain.rate };
  });
}

/** Room tone: a hush, and the clocks on the shelves. */
function roomTone(seed) {
  const length = SECONDS * RATE;
  const hush = softNoise(length, 420, seed);
  const out = Float32Array.from(hush, (v) => 0.0035 * v);
  const click = softNoise(RATE, 9000, seed + 1);
  for (const [every, first, level, hertz] of [
    [0.5, 0.11, 0.012, 2900],
    [0.62, 0.3, 0.007, 2100],
    [0.41, 0.22, 0.005, 3700],
  ])
    for (let at = first; at < SECONDS; at += every)
      addNote(out, at, 0.03, (t) => level * Math.exp(-t * 260) * (0.6 * Math.sin(2 * Math.PI * hertz * t) + click[Math.floor(t * RATE)]));
  return out;
}

/** How far the mouth stands open, 0..1, MOUTH_RATE values a second: loudness, quick to open, slower to close. */
function mouthCurve(samples) {
  const step = RATE / MOUTH_RATE;
  const loudness = Array.from({ length: SECONDS * MOUTH_RATE }, (_, i) => {
    let sum = 0;
    for (let j = i * step - step; j < (i + 2) * step; j++) sum += (samples[j] ?? 0) ** 2;
    return Math.sqrt(sum / (3 * step));
  });
  const top = Math.max(...loudness);
  let open = 0;
  return loudness.map((v) => {
    const wanted = Math.min(1, (v / top) * 1.25);
    open += (wanted - open) * (wanted > open ? 0.62 : 0.3);
    return Math.round(open * 1000) / 1000;
  });
}

export function makeVoices(soundFolder, truthFolder) {
  mkdirSync(soundFolder, { recursive: true });
  for (const [name, { text, pitch, seed }] of Object.entries(TAKES)) {
    const words = text.replaceAll('*', '').split(' ');
    const { rate, samples } = speak(words, pitch, -1);
    // a small wooden head: no deep chest, little air, a short room
    const colour = `aresample=${RATE},highpass=f=150,equalizer=f=1400:t=q:w=1:g=4,lowpass=f=5200,aecho=0.9:0.5:17|29:0.16|0.1`;
    const bytes = run(
      'ffmpeg',
      ['-v', 'error', '-f', 's16le', '-ar', String(rate), '-ac', '1', '-i', 'pipe:0', '-af', colour, '-f', 'f32le', 'pipe:1'],
      Buffer.from(samples.buffer),
    );
    const voice = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)));
    const peak = voice.reduce((top, v) => Math.max(top, Math.abs(v)), 0);
    const alone = new Float32Array(SECONDS * RATE);
    const offset = Math.round(STARTS_AT * RATE);
    if (offset + voice.length > alone.length) throw new Error(`${name} speaks past the end of its shot`);
    voice.forEach((v, i) => (alone[offset + i] = (0.5 * v) / peak));
    const room = roomTone(seed);
    writeSound(`${soundFolder}/${name}.wav`, [alone.map((v, i) => v + room[i])]);
    const thousandth = (n) => Math.round(n * 1000) / 1000;
    const spans = wordSpans(words, pitch).map((s) => ({
      word: s.word,
      start: thousandth(s.start + STARTS_AT),
      end: thousandth(s.end + STARTS_AT),
    }));
    const lost = text.split(' ').flatMap((w, i) => (w.startsWith('*') ? [spans[i]] : []));
    writeFileSync(
      `${truthFolder}/${name}.speech.json`,
      `${JSON.stringify(
        {
          words: spans,
          sharedWord: SHARED_WORD,
          slip: lost.length === 0 ? null : { start: lost[0].start, end: lost.at(-1).end },
          mouthRate: MOUTH_RATE,
          mouth: mouthCurve(alone),
        },
        null,
        0,
      )}\n`,
    );
  }
}
