#!/usr/bin/env node
// Renders the demo film's shots to frames, and frames to media and truth. Parts already on disk are kept.
//   node demo/footage/render.mjs still SHOT FRAME OUT.png [--samples N] [--scale 0.5]
//   node demo/footage/render.mjs truth SHOT                  points and camera only → demo/truth/SHOT.points.json
//   node demo/footage/render.mjs shot SHOT [--work DIR] [--scale 0.75]     frames → demo/media/SHOT.webm, demo/truth/SHOT.*
// A scale below 1 renders smaller pictures, enlarged in the end: a half-lit sky does not need every pixel.
import { spawnSync } from 'node:child_process';
import { createServer } from 'node:http';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { Builder } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, '../..');
const [verb, name, ...rest] = process.argv.slice(2);
const option = (flag, fallback) => (rest.includes(flag) ? rest[rest.indexOf(flag) + 1] : fallback);

const PAGE = `<!doctype html><style>@font-face{font-family:"Instrument Sans";font-weight:400 700;src:url(/font.woff2)}</style><canvas></canvas><script type="module" src="/page.js"></script>`;

async function withPage(work) {
  const bundled = await build({ entryPoints: [join(here, 'page.ts')], bundle: true, write: false, format: 'esm', target: 'es2022' });
  const font = readFileSync(join(root, 'node_modules/@fontsource-variable/instrument-sans/files/instrument-sans-latin-wght-normal.woff2'));
  const server = createServer((request, response) => {
    const [type, body] =
      request.url === '/page.js'
        ? ['text/javascript', bundled.outputFiles[0].text]
        : request.url === '/font.woff2'
          ? ['font/woff2', font]
          : ['text/html', PAGE];
    response.setHeader('content-type', type);
    response.end(body);
  });
  await new Promise((done) => server.listen(0, '127.0.0.1', done));
  const profile = mkdtempSync(join(tmpdir(), 'footage-'));
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--enable-unsafe-swiftshader',
    '--use-angle=swiftshader',
    `--user-data-dir=${profile}`,
  );
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  try {
    await driver.manage().setTimeouts({ script: 600_000 });
    await driver.get(`http://127.0.0.1:${server.address().port}/`);
    await work((body, ...args) => driver.executeScript(`return (async () => { ${body} })()`, ...args));
  } finally {
    await driver.quit();
    server.close();
    rmSync(profile, { recursive: true, force: true });
  }
}

function savePng(path, dataUrl) {
  writeFileSync(`${path}.part`, Buffer.from(dataUrl.slice(dataUrl.indexOf(',') + 1), 'base64'));
  renameSync(`${path}.part`, path);
}

function ffmpeg(...args) {
  const run = spawnSync('ffmpeg', ['-v', 'error', '-y', '-nostdin', ...args], { stdio: ['ignore', 'inherit', 'inherit'] });
  if (run.status !== 0) throw new Error(`ffmpeg failed: ${args.join(' ')}`);
}

const MAX_MEDIA_BYTES = 4_000_000;

/** The sound of a shot, made by demo/sound/make.mjs, or null for a silent one. */
function soundOf(shot) {
  const file = join(root, '.run/sound', `${shot}.wav`);
  if (existsSync(file)) return file;
  if (existsSync(join(root, 'demo/truth', `${shot}.speech.json`))) throw new Error(`${shot} speaks: run node demo/sound/make.mjs first`);
  return null;
}

function encodePictures(pattern, output, crf) {
  const sound = soundOf(name);
  const heard = sound === null ? [] : ['-i', sound, '-c:a', 'libopus', '-b:a', '96k', '-shortest'];
  const vp9 = ['-c:v', 'libvpx-vp9', '-b:v', '0', '-crf', String(crf), '-deadline', 'good', '-cpu-used', '2', '-row-mt', '1', '-g', '48'];
  const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'];
  const toVideo = 'scale=1280:720:flags=lanczos:out_color_matrix=bt709:out_range=tv,format=yuv420p';
  ffmpeg('-framerate', '24', '-i', pattern, ...heard, '-vf', toVideo, ...vp9, ...tags, output);
}

const truthFile = (ending) => join(root, 'demo/truth', `${name}.${ending}`);

/** Named points and the camera of every frame, as the text of a truth file. */
async function truthOf(call, frames) {
  const all = await call('return Array.from({ length: arguments[0] }, (_, frame) => window.footage.truth(frame))', frames);
  const lines = (key) => all.map((one) => JSON.stringify(one[key])).join(',\n');
  return `{"framesPerSecond":24,"width":1280,"height":720,"points":[\n${lines('points')}\n],"cameras":[\n${lines('camera')}\n]}\n`;
}

async function renderShot(workDir) {
  mkdirSync(workDir, { recursive: true });
  const frameFile = (kind, frame) => join(workDir, `${kind}-${String(frame).padStart(5, '0')}.png`);
  let hasMatte = false;
  await withPage(async (call) => {
    const frames = await call('return window.footage.open(arguments[0], arguments[1])', name, Number(option('--scale', '1')));
    const truth = await truthOf(call, frames);
    const began = Date.now();
    for (let frame = 0, made = 0; frame < frames; frame++) {
      if (!existsSync(frameFile('picture', frame))) {
        savePng(frameFile('picture', frame), await call('return window.footage.expose(arguments[0], null)', frame));
        made++;
      }
      if (!existsSync(frameFile('matte', frame))) {
        const matte = await call('return window.footage.matte(arguments[0], null)', frame);
        if (matte !== null) savePng(frameFile('matte', frame), matte);
      }
      hasMatte = existsSync(frameFile('matte', frame));
      console.log(`${name} ${frame + 1}/${frames}, ${((Date.now() - began) / 1000 / Math.max(1, made)).toFixed(1)} s a frame`);
    }
    writeFileSync(truthFile('points.json'), truth);
  });
  const media = join(root, 'demo/media', `${name}.webm`);
  for (const crf of [24, 27, 30, 33]) {
    encodePictures(join(workDir, 'picture-%05d.png'), media, crf);
    if (statSync(media).size < MAX_MEDIA_BYTES) break;
  }
  if (hasMatte)
    ffmpeg(
      '-framerate',
      '24',
      '-i',
      join(workDir, 'matte-%05d.png'),
      '-vf',
      'scale=640:360:flags=area,format=gray',
      '-c:v',
      'ffv1',
      '-level',
      '3',
      '-g',
      '1',
      truthFile('matte.mkv'),
    );
}

if (verb === 'still') {
  const [frame, out] = rest;
  await withPage(async (call) => {
    await call('return window.footage.open(arguments[0], arguments[1])', name, Number(option('--scale', '1')));
    for (const one of frame.split(',')) {
      const began = Date.now();
      const samples = option('--samples', null);
      savePng(
        out.replace('%', one),
        await call('return window.footage.expose(arguments[0], arguments[1])', Number(one), samples === null ? null : Number(samples)),
      );
      console.log(`frame ${one}: ${Date.now() - began} ms`);
    }
  });
} else if (verb === 'truth') {
  await withPage(async (call) => {
    const frames = await call('return window.footage.open(arguments[0], 0.25)', name);
    writeFileSync(truthFile('points.json'), await truthOf(call, frames));
  });
} else if (verb === 'shot') {
  await renderShot(option('--work', join(root, '.run/footage', name)));
} else {
  console.error('usage: render.mjs still SHOT FRAME[,FRAME…] OUT-%.png | truth SHOT | shot SHOT');
  process.exit(2);
}
