import type { Image } from '../../core/image/pixels';
import type { ProxySource } from './protocol';
import type { Decoder } from './bank';
import { sharedImage } from './shared-image';

/** Decodes the one picture of a still, with its alpha. */
export class StillDecoder implements Decoder {
  private readonly source: ProxySource;

  constructor(source: ProxySource) {
    this.source = source;
  }

  /** @throws Error when the picture cannot be fetched or decoded, RangeError for any frame but the first */
  async decode(frame: number): Promise<Image> {
    if (frame !== 0) throw new RangeError(`a still has no frame ${frame}`);
    const answer = await fetch(this.source.url);
    if (!answer.ok) throw new Error('The picture could not be fetched from the server.');
    const bitmap = await createImageBitmap(await answer.blob(), { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
    const { width, height } = bitmap;
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0);
    bitmap.close();
    const image = sharedImage(width, height);
    image.data.set(context.getImageData(0, 0, width, height).data);
    return image;
  }
}
