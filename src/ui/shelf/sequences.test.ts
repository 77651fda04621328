import { unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { partSequences, zipOf } from './sequences';

const file = (name: string): File => new File([name], name);

it('finds pictures that are numbered through, and leaves stills and gaps alone', () => {
  const through = ['shot_0099.png', 'shot_0100.png', 'shot_0098.png', 'shot_0101.png'].map(file);
  const gaps = ['gap1.png', 'gap2.png', 'gap4.png', 'gap5.png'].map(file);
  const few = ['card1.png', 'card2.png', 'take.mp4', 'IMG.jpg'].map(file);
  const { sequences, rest } = partSequences([...few, ...through, ...gaps]);
  expect(sequences.map((s) => [s.name, s.files.map((f) => f.name)])).toEqual([
    ['shot', ['shot_0098.png', 'shot_0099.png', 'shot_0100.png', 'shot_0101.png']],
  ]);
  expect(rest.map((f) => f.name)).toEqual([...few, ...gaps].map((f) => f.name));
});

it('packs them as they are', async () => {
  const packed = await zipOf({ name: 'shot', files: ['s1.png', 's2.png'].map(file) });
  expect(packed.name).toBe('shot.zip');
  const files = unzipSync(new Uint8Array(await packed.arrayBuffer()));
  expect(Object.entries(files).map(([name, bytes]) => [name, Buffer.from(bytes).toString()])).toEqual([['s1.png', 's1.png'], ['s2.png', 's2.png']]); // prettier-ignore
});
