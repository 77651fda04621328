import type { ProxySource } from './protocol';
import { ProxyDecoder } from './proxy-decoder';
import type { Decoder } from './bank';
import { StillDecoder } from './still-decoder';

/** What decodes a medium, by the kind of its file. */
export const openDecoder = (source: ProxySource): Decoder =>
  source.url.endsWith('.png') ? new StillDecoder(source) : new ProxyDecoder(source);
