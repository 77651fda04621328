#!/usr/bin/env node
// Makes the film's sound: the mender's voice (needs espeak-ng; read by the renderer) and the music.
//   node demo/sound/make.mjs        → .run/sound/*.wav, demo/media/small-hours.opus, demo/truth/*.speech.json, *.beats.json
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeMusic } from './music.mjs';
import { makeVoices } from './voices.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '../..');
makeVoices(join(root, '.run/sound'), join(root, 'demo/truth'));
makeMusic(join(root, 'demo/media'), join(root, 'demo/truth'));
