import { SOUND_RATE } from '../../core/film/sound';
import { timecodeAfter } from '../../core/format/clock';
import { stat } from 'node:fs/promises';
import { formatRational, isSameRate, parseRational, rational, toNumber, type Rational } from '../../core/geometry/rational';
import { AppError } from '../base/errors';
import { LOOK_LIMIT, run, runLimit, start, STREAM_LIMIT, type Child } from '../base/processes';

/** Only files, and only containers that cannot make ffmpeg open other files. */
export const INPUT_GUARD = [
  '-protocol_whitelist',
  'file,pipe',
  '-format_whitelist',
  'matroska,webm,mov,mp4,avi,mpegts,mpeg,flv,asf,ogg,gif,mxf,yuv4mpegpipe,png_pipe,ivf,dv,wav,w64,flac,mp3,aac,aiff,au,caf,ac3,eac3,amr',
];

const LOUD = ['-hide_banner', '-nostdin', '-v', 'error'];

const MAX_SIDE = 16_384;

/** Rates a file without a steady one is brought to. */
const COMMON_RATES: readonly Rational[] = [
  [24000, 1001],
  [24, 1],
  [25, 1],
  [30000, 1001],
  [30, 1],
  [48, 1],
  [50, 1],
  [60000, 1001],
  [60, 1],
].map(([n, d]) => rational(n!, d!));

/** What ffprobe says of a file's picture. Sizes as displayed. */
export interface Probe {
  readonly width: number;
  readonly height: number;
  readonly rate: Rational;
  readonly wasVariable: boolean;
  /** Seconds; an estimate. */
  readonly duration: number;
  /** Seconds at which the picture starts on the file's own clock. */
  readonly start: number;
  readonly codec: string;
  readonly hasSound: boolean;
  /** Name of the colour matrix as the scale filter knows it. */
  readonly matrix: string;
  /** Source timecode of the first picture; null where the file says none. */
  readonly timecode?: string | null;
  /** The reel it was recorded on; null where the file says none. */
  readonly reelName?: string | null;
  /** The decoder that gives this file's alpha, where the usual one leaves it out. */
  readonly alphaDecoder: string | null;
  /** How its pixels are stored, by ffmpeg's name. */
  readonly pixels?: string;
}

/** A file of pictures, and how it is decoded. */
export interface PictureFile {
  readonly path: string;
  readonly probe: Probe;
}

/** What ffprobe says of a file's sound. */
export interface SoundProbe {
  readonly codec: string;
  readonly rate: number;
  readonly channels: number;
  /** Seconds; an estimate. */
  readonly duration: number;
}

interface ProbeStream {
  codec_type?: string;
  codec_name?: string;
  pix_fmt?: string;
  width?: number;
  height?: number;
  sample_aspect_ratio?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  duration?: string;
  start_time?: string;
  color_space?: string;
  side_data_list?: { rotation?: number }[];
  tags?: Record<string, string>;
  disposition?: { attached_pic?: number };
  sample_rate?: string;
  channels?: number;
}

/** @throws AppError 'unusable-file' with a sentence for the card when the file holds no video. */
export async function probe(path: string, signal?: AbortSignal): Promise<Probe> {
  const { picture, sound } = await look(path, signal);
  if (picture !== null) return picture;
  throw new AppError('unusable-file', `This file holds ${sound === null ? 'no picture' : 'sound but no picture'}. Import a video file.`);
}

/** What a file holds. @throws AppError 'unusable-file' with a sentence for the card when that is neither picture nor sound. */
export async function look(
  path: string,
  signal?: AbortSignal,
): Promise<{ readonly picture: Probe | null; readonly sound: SoundProbe | null }> {
  const { streams, seconds } = await streamsOf(path, signal);
  const picture = pictureOf(streams, seconds);
  const sound = soundOf(streams, seconds);
  if (picture === null && sound === null)
    throw new AppError('unusable-file', 'This file holds neither picture nor sound. Import a video or a sound file.');
  return { picture, sound };
}

async function streamsOf(
  path: string,
  signal?: AbortSignal,
): Promise<{ readonly streams: readonly ProbeStream[]; readonly seconds: number }> {
  let streams: ProbeStream[];
  let seconds: number;
  try {
    const text = await run('ffprobe', ['-v', 'error', ...INPUT_GUARD, '-show_streams', '-show_format', '-of', 'json', path], {
      signal,
      seconds: LOOK_LIMIT,
    });
    const parsed = JSON.parse(text) as { streams?: ProbeStream[]; format?: { duration?: string } };
    streams = parsed.streams ?? [];
    seconds = Number(parsed.format?.duration);
  } catch (error) {
    signal?.throwIfAborted();
    if (error instanceof AppError || String(error).includes('not installed')) throw error;
    throw new AppError(
      'unusable-file',
      'This file is neither video nor sound that can be read. Import WebM, MP4, MOV, MKV, WAV, FLAC, MP3 or another common file.',
    );
  }
  return { streams, seconds };
}

function soundOf(streams: readonly ProbeStream[], seconds: number): SoundProbe | null {
  const found = streams.find((s) => s.codec_type === 'audio' && (s.channels ?? 0) > 0);
  if (found === undefined) return null;
  return {
    codec: found.codec_name ?? 'unknown',
    rate: Number(found.sample_rate) || 0,
    channels: found.channels!,
    duration: Number(found.duration) || seconds || 0,
  };
}

function pictureOf(streams: readonly ProbeStream[], seconds: number): Probe | null {
  const video = streams.find((s) => s.codec_type === 'video' && s.disposition?.attached_pic !== 1);
  if (video === undefined || !video.width || !video.height) return null;
  const sar = parseRational((video.sample_aspect_ratio ?? '1:1').replace(':', '/'));
  const wide = Math.max(1, Math.round(video.width * (sar === null ? 1 : toNumber(sar))));
  const turned = Math.abs(video.side_data_list?.find((d) => d.rotation !== undefined)?.rotation ?? 0) % 180 === 90;
  const [width, height] = turned ? [video.height, wide] : [wide, video.height];
  if (width > MAX_SIDE || height > MAX_SIDE)
    throw new AppError('unusable-file', `The picture is ${width}×${height}; at most ${MAX_SIDE} pixels a side can be used.`);
  const nominal = parseRational(video.r_frame_rate ?? '');
  const average = parseRational(video.avg_frame_rate ?? '') ?? nominal;
  if (average === null)
    throw new AppError(
      'unusable-file',
      'This file holds a still picture of a kind that is not known here. Save it as PNG, JPEG, WebP, TIFF, GIF or AVIF.',
    );
  const steady = nominal !== null && Math.abs(toNumber(nominal) / toNumber(average) - 1) < 0.002;
  const usable = nominal !== null && toNumber(nominal) <= 121 && toNumber(nominal) >= 1;
  return {
    width,
    height,
    rate: usable ? commonRate(nominal) : nearestRate(toNumber(average)),
    wasVariable: !steady,
    duration: Number(video.duration) || seconds || 0,
    start: Number(video.start_time) || 0,
    codec: video.codec_name ?? 'unknown',
    hasSound: streams.some((s) => s.codec_type === 'audio'),
    matrix: matrixName(video.color_space, video.height),
    timecode: timecodeOf(streams),
    reelName: reelNameOf(streams),
    alphaDecoder: alphaDecoderOf(video),
    ...(video.pix_fmt === undefined ? {} : { pixels: video.pix_fmt }),
  };
}

/** Source timecode as a stream of the file says it; some have one only for that. */
function timecodeOf(streams: readonly ProbeStream[]): string | null {
  const said = streams.map((s) => tagOf(s, 'timecode')).find((t) => t !== undefined);
  return said !== undefined && /^\d{2}:\d{2}:\d{2}[:;.]\d{2,3}$/.test(said) ? said : null;
}

function reelNameOf(streams: readonly ProbeStream[]): string | null {
  const said = streams.map((s) => (tagOf(s, 'reel_name') ?? '').trim()).find((t) => t !== '');
  return said?.slice(0, MOST_REEL_NAME) ?? null;
}

const MOST_REEL_NAME = 64;

/** Alpha of VP8 and VP9 lies beside the picture, where only the library's own decoders find it. */
function alphaDecoderOf(stream: ProbeStream): string | null {
  if (tagOf(stream, 'alpha_mode') !== '1') return null;
  const { codec_name } = stream;
  return codec_name === 'vp9' ? 'libvpx-vp9' : codec_name === 'vp8' ? 'libvpx' : null;
}

/** What a stream is tagged with; kinds of files write the names of tags in small letters or in capitals. */
const tagOf = ({ tags = {} }: ProbeStream, name: string): string | undefined =>
  Object.entries(tags).find(([key]) => key.toLowerCase() === name)?.[1];

const nearestRate = (perSecond: number): Rational =>
  COMMON_RATES.reduce((best, r) => (Math.abs(toNumber(r) - perSecond) < Math.abs(toNumber(best) - perSecond) ? r : best));

/** Written with few digits, 29.97 is 2997/100; what is meant is 30000/1001. */
const commonRate = (rate: Rational): Rational => COMMON_RATES.find((r) => isSameRate(r, rate)) ?? rate;

/** Untagged pictures follow custom: small ones are BT.601, from 720 lines on BT.709. */
function matrixName(tag: string | undefined, lines: number): string {
  if (tag === 'bt709' || tag === 'smpte170m' || tag === 'bt470bg') return tag;
  if (tag === 'bt2020nc' || tag === 'bt2020c') return 'bt2020';
  return lines >= 720 ? 'bt709' : 'smpte170m';
}

/**
 * The filters that put a file's frames on an even grid: frame n is what the file shows at n / rate seconds.
 * The proxy and sending out share them, so that frame n is the same picture everywhere.
 */
const evenGrid = ({ start, rate }: Probe): string => `setpts=PTS-${start}/TB,fps=${formatRational(rate)}:round=near`;

/** Scaling that keeps every grey as it is: with ffmpeg's quick rounding pictures get darker by a step or two of 255. */
const SCALING = 'flags=bicubic+accurate_rnd+full_chroma_int';

/** What sRGB-like pictures in limited range are called in a file. */
const TAGGED_BT709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'];
const PICTURE_ONLY = ['-map', '0:V:0', '-an', '-sn', '-dn'];

/** Quick to make, quick to seek in: every twelfth frame is a key frame, and none is shown later than it is stored. */
export const PROXY_CODEC: readonly string[] = [
  ...['-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '8', '-row-mt', '1', '-threads', '2', '-b:v', '0', '-crf', '28'],
  ...['-g', '12', '-auto-alt-ref', '0', '-lag-in-frames', '0'],
];

/** ffmpeg arguments that make a proxy at most `maxWidth` wide, with every frame near a key frame. Progress on stdout. */
export function proxyArgs(input: string, probed: Probe, width: number, height: number, output: string): string[] {
  // within one matrix quick scaling is exact as well
  const scaling = probed.matrix === 'bt709' ? 'flags=bicubic' : SCALING;
  return [
    ...LOUD,
    '-y',
    '-progress',
    'pipe:1',
    '-copyts',
    ...INPUT_GUARD,
    '-i',
    input,
    ...PICTURE_ONLY,
    '-vf',
    `${evenGrid(probed)},scale=${width}:${height}:${scaling}:in_color_matrix=${probed.matrix}:out_color_matrix=bt709:out_range=tv,setsar=1,format=yuv420p`,
    '-fps_mode',
    'passthrough',
    ...PROXY_CODEC,
    ...TAGGED_BT709,
    '-f',
    'webm',
    output,
  ];
}

/**
 * ffmpeg arguments that store the pictures `first` … `last` of a file without loss, on an even grid from its beginning, and with them the
 * sound that is heard over them.
 */
export function spanArgs(input: string, probed: Probe, first: number, last: number, output: string): string[] {
  const { timecode, reelName } = probed;
  const perSecond = toNumber(probed.rate);
  const [from, to] = [first, last + 1].map((frame) => probed.start + frame / perSecond) as [number, number];
  return [
    ...[...LOUD, '-y', '-copyts', ...(probed.alphaDecoder === null ? [] : ['-c:v', probed.alphaDecoder]), ...INPUT_GUARD, '-i', input],
    ...['-map', '0:V:0', '-map', '0:a:0?', '-sn', '-dn'],
    ...['-vf', `${evenGrid(probed)},trim=start_frame=${first}:end_frame=${last + 1},setpts=PTS-STARTPTS`, '-fps_mode', 'passthrough'],
    ...['-af', `atrim=start=${from}:end=${to},asetpts=PTS-${from}/TB`],
    ...['-c:v', 'ffv1', '-level', '3', '-g', '1', '-c:a', 'flac', '-map_metadata', '-1'],
    ...(typeof timecode === 'string' ? ['-metadata:s:v:0', `timecode=${timecodeAfter(probed.rate, timecode, first)}`] : []),
    ...(typeof reelName === 'string' ? ['-metadata:s:v:0', `reel_name=${reelName}`] : []),
    ...['-f', 'matroska', output],
  ];
}

/** Counts the pictures stored in a file, without decoding them. */
export async function countFrames(path: string, signal?: AbortSignal): Promise<number> {
  const { size } = await stat(path);
  const text = await run(
    'ffprobe',
    [
      ...['-v', 'error', ...INPUT_GUARD, '-count_packets', '-select_streams', 'v:0'],
      ...['-show_entries', 'stream=nb_read_packets', '-of', 'csv=p=0', path],
    ],
    { signal, seconds: runLimit(size) },
  );
  return Number.parseInt(text, 10) || 0;
}

/** Counts the frames a foreign video has on its even grid, by decoding it once. */
export async function countVideoFrames(path: string, probed: Probe, signal?: AbortSignal): Promise<number> {
  const { size } = await stat(path);
  let frames = 0;
  await run(
    'ffmpeg',
    [
      ...LOUD,
      '-copyts',
      ...INPUT_GUARD,
      '-progress',
      'pipe:1',
      '-i',
      path,
      '-map',
      '0:V:0',
      '-vf',
      evenGrid(probed),
      '-fps_mode',
      'passthrough',
      '-f',
      'null',
      '-',
    ],
    {
      signal,
      seconds: runLimit(size, probed.width * probed.height * probed.duration * toNumber(probed.rate)),
      onLine(line) {
        const found = /^frame=\s*(\d+)/.exec(line)?.[1];
        if (found !== undefined) frames = Number(found);
      },
    },
  );
  return frames;
}

/** How decoded pixels come: RGBA, or as films have them in their files: YUV 4:2:0 in limited range by the matrix of BT.709. */
export type RawPixels = 'rgba' | 'yuv420p';

/** Whether a file's pictures go into a film as they are: those whose chroma is as coarse as a film's, and that have no alpha. */
export const isStoredAsYuv = ({ pixels = '', alphaDecoder }: Probe): boolean =>
  alphaDecoder === null && /^(yuvj?42[02]p|nv12|yuv42[02]p1[0246]le|p01[06]le)$/.test(pixels);

/**
 * Decodes frames from number `from` on as raw pixels of width × height on stdout, by ffmpeg's own decoder unless another is
 * named. Seeks to a key frame well before.
 */
export function startDecoder(
  input: string,
  probed: Probe,
  from: number,
  width: number,
  height: number,
  pixels: RawPixels = 'rgba',
  decoder: string | null = null,
): Child {
  const toFilm = pixels === 'rgba' ? '' : ':out_color_matrix=bt709:out_range=tv';
  const seconds = from / toNumber(probed.rate) + probed.start - 1.5;
  const seek = from > 0 && seconds > probed.start ? ['-noaccurate_seek', '-ss', seconds.toFixed(6)] : [];
  return start(
    'ffmpeg',
    [
      ...LOUD,
      '-copyts',
      ...seek,
      ...INPUT_GUARD,
      ...(decoder === null ? [] : ['-c:v', decoder]),
      '-i',
      input,
      ...PICTURE_ONLY,
      '-vf',
      `${evenGrid(probed)},trim=start_pts=${from},scale=${width}:${height}:${SCALING}:in_color_matrix=${probed.matrix}${toFilm},setsar=1`,
      '-fps_mode',
      'passthrough',
      '-f',
      'rawvideo',
      '-pix_fmt',
      pixels,
      'pipe:1',
    ],
    { stdout: 'pipe', seconds: STREAM_LIMIT },
  );
}

/** Seconds a sound may last. */
const LONGEST_SOUND = 24 * 3600;

/**
 * Decodes a file's sound as stereo at `SOUND_RATE`, 16 bits, on stdout. What starts late begins with silence, so that sample 0 is
 * at `pictureStart` seconds of the file's clock, or at the sound's own start where that is null. More channels are mixed down.
 */
export function startSoundDecoder(input: string, pictureStart: number | null, mostSeconds: number, signal?: AbortSignal): Child {
  const clock = pictureStart === null ? 'asetpts=PTS-STARTPTS' : `asetpts=PTS-${pictureStart}/TB`;
  return start(
    'ffmpeg',
    [
      ...LOUD,
      '-copyts',
      ...INPUT_GUARD,
      '-i',
      input,
      ...['-map', '0:a:0', '-vn', '-sn', '-dn'],
      '-af',
      `${clock},aresample=${SOUND_RATE}:async=1:first_pts=0,aformat=sample_fmts=s16:channel_layouts=stereo`,
      ...['-t', String(Math.min(LONGEST_SOUND, mostSeconds)), '-f', 's16le', 'pipe:1'],
    ],
    { stdout: 'pipe', seconds: STREAM_LIMIT, ...(signal === undefined ? {} : { signal }) },
  );
}

const CODECS = {
  webm: [
    ...['-c:v', 'libvpx-vp9', '-b:v', '0', '-crf', '22', '-deadline', 'good', '-cpu-used', '4'],
    '-row-mt',
    '1',
    '-threads',
    '2',
    '-f',
    'webm',
  ],
  mp4: ['-c:v', 'libx264', '-crf', '17', '-preset', 'medium', '-movflags', '+faststart', '-f', 'mp4'],
} as const;

const SOUND_CODECS = { webm: ['-c:a', 'libopus', '-b:a', '192k'], mp4: ['-c:a', 'aac', '-b:a', '256k'] } as const;

/**
 * Seconds by which the sound goes to the encoder later. Opus begins with 312 samples of lead-in; the WebM writer
 * counts them as time and would let everything that is heard come so much too early.
 */
const LEAD_IN = { webm: 312 / SOUND_RATE, mp4: 0 } as const;

/** Input arguments for a file of 16-bit pairs. */
const rawSound = (path: string): string[] => ['-f', 's16le', '-ar', String(SOUND_RATE), '-ac', '2', '-i', path];

/** Writes a file of 16-bit pairs as WAV. */
export async function encodeWave(pairs: string, output: string, signal: AbortSignal): Promise<void> {
  await run('ffmpeg', [...LOUD, '-y', ...rawSound(pairs), '-c:a', 'pcm_s16le', '-f', 'wav', output], {
    signal,
    seconds: runLimit((await stat(pairs)).size),
  });
}

/** Encodes frames from stdin, YUV 4:2:0 in limited range by the matrix of BT.709, with the sound of a file of 16-bit pairs where there is one. */
export function startEncoder(
  output: string,
  format: 'webm' | 'mp4',
  width: number,
  height: number,
  rate: Rational,
  sound: string | null = null,
): Child {
  return start(
    'ffmpeg',
    [
      '-hide_banner',
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'yuv420p',
      ...TAGGED_BT709,
      '-video_size',
      `${width}x${height}`,
      '-framerate',
      formatRational(rate),
      '-i',
      'pipe:0',
      ...(sound === null
        ? []
        : ['-itsoffset', String(LEAD_IN[format]), ...rawSound(sound), '-map', '0:v', '-map', '1:a', ...SOUND_CODECS[format]]),
      ...CODECS[format],
      ...TAGGED_BT709,
      output,
    ],
    { stdin: 'pipe', seconds: STREAM_LIMIT },
  );
}
