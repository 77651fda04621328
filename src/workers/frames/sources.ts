import { LRUCache } from 'lru-cache';
import { shrinkImage } from '../../core/image/image';
import { createImage, type Image } from '../../core/image/pixels';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { FramePlan, PictureRef, PlannedCoverage } from '../../core/plan/frame-plan';
import { coverageKey, needsOf, pictureKey } from '../../core/plan/plan-needs';
import type { CoverageSource, PictureSource } from '../../core/render/cpu/compositor';
import type { ProxySource } from './protocol';

/** Decodes single pictures of a medium. */
export interface Decoder {
  /** @throws Error when the medium cannot be read, RangeError when it has no such frame */
  decode(frame: number): Promise<Image>;
}

const FULL_BYTES = 360 * 2 ** 20;
const SMALL_BYTES = 120 * 2 ** 20;
const SMALL_WIDTH = 160;
const MOST_COVERAGES = 400;

/** Pictures by key, the longest unused ones dropped when they weigh too much. */
const picturesOfWeight = (maxSize: number): LRUCache<string, Image> =>
  new LRUCache({ maxSize, maxEntrySize: maxSize, sizeCalculation: ({ data }) => data.length });

/** The pictures of media and the stored coverage of mattes, as far as they are asked for. */
export class Sources {
  private readonly open: (source: ProxySource) => Decoder;
  private readonly decoders = new Map<string, Decoder>();
  private readonly full = picturesOfWeight(FULL_BYTES);
  private readonly small = picturesOfWeight(SMALL_BYTES);
  /** Stored coverage by matte and frame; null where the server has none. */
  private readonly coverages = new LRUCache<string, { readonly stored: StoredCoverage | null }>({ max: MOST_COVERAGES });
  /** How often coverage has been forgotten: what was fetched before is not kept after. */
  private forgets = 0;
  /** Where coverage comes from: this, the matte's id, a slash and the frame. */
  mattesUrl = '';

  constructor(open: (source: ProxySource) => Decoder) {
    this.open = open;
  }

  add(media: readonly ProxySource[]): void {
    for (const source of media) if (!this.decoders.has(source.mediumId)) this.decoders.set(source.mediumId, this.open(source));
  }

  /** The stored coverage of a matte has changed on a frame, or with null on any. */
  forget(matteId: string, frame: number | null): void {
    this.forgets++;
    if (frame !== null) this.coverages.delete(`${matteId}:${frame}`);
    else for (const key of [...this.coverages.keys()]) if (key.startsWith(`${matteId}:`)) this.coverages.delete(key);
  }

  /** Pictures that are needed, small ones for small drawings. A picture too large for a small one is only asked for once. */
  async pictures(needed: readonly PictureRef[], isSmall: boolean): Promise<PictureSource> {
    const found = new Map<string, Image>();
    for (const ref of needed) if (!found.has(pictureKey(ref))) found.set(pictureKey(ref), await this.picture(ref, isSmall));
    return (ref) => found.get(pictureKey(ref)) ?? null;
  }

  async coverage(...plans: readonly FramePlan[]): Promise<CoverageSource> {
    const found = new Map<string, StoredCoverage | null>();
    for (const [key, matte] of needsOf(...plans).coverages) found.set(key, await this.coverageOf(key, matte));
    return (matte) => found.get(coverageKey(matte)) ?? null;
  }

  private async coverageOf(key: string, { matteId, frame }: PlannedCoverage): Promise<StoredCoverage | null> {
    const known = this.coverages.get(key);
    if (known !== undefined) return known.stored;
    const before = this.forgets;
    const response = await fetch(`${this.mattesUrl}/${matteId}/${frame}`);
    if (!response.ok) throw new Error('the matte could not be fetched');
    const stored =
      response.status === 204
        ? null
        : {
            width: Number(response.headers.get('x-width')),
            height: Number(response.headers.get('x-height')),
            data: new Uint8Array(await response.arrayBuffer()),
          };
    if (this.forgets === before) this.coverages.set(key, { stored });
    return stored;
  }

  private async picture(ref: PictureRef, isSmall: boolean): Promise<Image> {
    const key = pictureKey(ref);
    const known = (isSmall ? this.small : this.full).get(key);
    if (known !== undefined) return known;
    const decoder = this.decoders.get(ref.mediumId);
    if (decoder === undefined) throw new Error('a medium of this frame is not ready');
    const image = this.full.get(key) ?? (await decoder.decode(ref.frame));
    this.full.set(key, image);
    if (!isSmall) return image;
    const width = Math.min(SMALL_WIDTH, image.width);
    const tiny = createImage(width, Math.max(1, Math.round((width * image.height) / image.width)));
    shrinkImage(image, tiny);
    this.small.set(key, tiny);
    return tiny;
  }
}

/** A larger small picture, and one that is zoomed into, would show the pixels of tiny ones. */
export const isSmallEnough = (width: number): boolean => width <= SMALL_WIDTH;
