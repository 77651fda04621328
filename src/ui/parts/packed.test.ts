import { unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { packed } from './packed';

it('packs files into a zip as they are, names beyond English too', async () => {
  const big = Uint8Array.from({ length: 300_000 }, (_, i) => (i * i) >> 3);
  const files = [new File([Uint8Array.of(1, 2, 3)], 'größe 0001.png'), new File([big], '0002.png'), new File([], 'empty.png')];
  const found = unzipSync(new Uint8Array(await (await packed(files)).arrayBuffer()));
  expect(Object.keys(found)).toEqual(['größe 0001.png', '0002.png', 'empty.png']);
  expect([...found['größe 0001.png']!]).toEqual([1, 2, 3]);
  expect(Buffer.from(found['0002.png']!).equals(Buffer.from(big))).toBe(true);
  expect(found['empty.png']).toHaveLength(0);
});
