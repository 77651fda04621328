import { LRUCache } from 'lru-cache';
import type { Image } from '../../core/image/pixels';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { FramePlan, PictureRef, PlannedCoverage } from '../../core/plan/frame-plan';
import { coverageKey, needsOf, pictureKey } from '../../core/plan/plan-needs';
import type { CoverageSource, PictureSource } from '../../core/render/compositor';
import { AskedPictures } from '../pictures/asked-pictures';
import { SMALL_WIDTH } from '../pictures/bank';

/** Pictures that are held here: those of the bank, where memory is shared. */
const HELD_BYTES = 160 * 2 ** 20;
const MOST_COVERAGES = 400;

/** The pictures of media and the stored coverage of mattes, as far as they are asked for. */
export class Sources {
  private asked: AskedPictures | null = null;
  /** By key: what is made of a picture is kept with it, and a picture comes as another each time it is asked for. */
  private readonly held = new LRUCache<string, Image>({
    maxSize: HELD_BYTES,
    maxEntrySize: HELD_BYTES,
    sizeCalculation: ({ data }) => data.length,
  });
  /** Stored coverage by matte and frame; null where the server has none. */
  private readonly coverages = new LRUCache<string, { readonly stored: StoredCoverage | null }>({ max: MOST_COVERAGES });
  /** How often coverage has been forgotten: what was fetched before is not kept after. */
  private forgets = 0;
  /** Where coverage comes from: this, the matte's id, a slash and the frame. */
  mattesUrl = '';

  /** Where pictures come from. */
  askOver(port: MessagePort): void {
    this.asked = new AskedPictures(port);
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
    const all = needed.map(async (ref) => void found.set(pictureKey(ref), await this.picture(ref, isSmall)));
    await Promise.all(all);
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
    const key = `${pictureKey(ref)}${isSmall ? ' small' : ''}`;
    const known = this.held.get(key);
    if (known !== undefined) return known;
    if (this.asked === null) throw new Error('nothing decodes its media');
    const image = await this.asked.picture(ref.mediumId, ref.frame, isSmall);
    this.held.set(key, image);
    return image;
  }
}

/** A larger small picture, and one that is zoomed into, would show the pixels of tiny ones. */
export const isSmallEnough = (width: number): boolean => width <= SMALL_WIDTH;
