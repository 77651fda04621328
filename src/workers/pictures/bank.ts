import { LRUCache } from 'lru-cache';
import { shrinkImage } from '../../core/image/image';
import type { Image } from '../../core/image/pixels';
import type { ProxySource } from './protocol';
import { sharedImage } from './shared-image';

/** Decodes single pictures of a medium. One request at a time. */
export interface Decoder {
  /** @throws Error when the medium cannot be read, RangeError when it has no such frame */
  decode(frame: number): Promise<Image>;
  /** The frames that were decoded on the way to the last one. */
  passed?(): AsyncIterable<readonly [frame: number, image: Image]>;
  close?(): void;
}

const FULL_BYTES = 480 * 2 ** 20;
const SMALL_BYTES = 120 * 2 ** 20;
/** Width of a small picture, pixels. */
export const SMALL_WIDTH = 160;
/** Frames that are decoded ahead of one that is played. */
const AHEAD = 10;
/** How long a medium that nobody has told of is waited for, ms. */
const PATIENCE_MS = 1000;
/** Frames from one request to the next that still count as playing on. */
const PLAYS_ON = 4;

interface OpenMedium {
  readonly source: ProxySource;
  readonly decoder: Decoder;
  /** The end of what is to be decoded of it. */
  queue: Promise<unknown>;
  waiting: number;
  /** The newest frame that was asked for, and whether requests go on from frame to frame. */
  last: number;
  playsOn: boolean;
}

/** Pictures by key, the longest unused ones dropped when they weigh too much. */
const picturesOfWeight = (maxSize: number): LRUCache<string, Image> =>
  new LRUCache({ maxSize, maxEntrySize: maxSize, sizeCalculation: ({ data }) => data.length });

/** The decoded pictures of media: each is decoded once, for all who ask, and those that come next before they are asked for. */
export class PictureBank {
  private readonly open: (source: ProxySource) => Decoder;
  private readonly media = new Map<string, OpenMedium>();
  private readonly full = picturesOfWeight(FULL_BYTES);
  private readonly small = picturesOfWeight(SMALL_BYTES);
  private readonly running = new Map<string, Promise<Image>>();
  /** Told when media have been added. */
  private readonly expecting = new Set<() => void>();

  constructor(open: (source: ProxySource) => Decoder) {
    this.open = open;
  }

  /** Media to be decoded from now on; one of which another file is ready is opened anew. */
  add(media: readonly ProxySource[]): void {
    for (const source of media) {
      const known = this.media.get(source.mediumId);
      if (known !== undefined && known.source.url === source.url && known.source.frames === source.frames) continue;
      // what it is at is finished first
      void known?.queue.finally(() => known.decoder.close?.());
      const queue = Promise.resolve();
      this.media.set(source.mediumId, { source, decoder: this.open(source), queue, waiting: 0, last: -1, playsOn: false });
    }
    for (const look of this.expecting) look();
  }

  /** @throws Error when it cannot be had */
  async picture(mediumId: string, frame: number, isSmall: boolean): Promise<Image> {
    const key = keyOf(mediumId, frame);
    const known = (isSmall ? this.small : this.full).get(key);
    const medium = this.media.get(mediumId);
    if (medium !== undefined && !isSmall) this.note(medium, frame);
    if (known !== undefined) {
      if (medium !== undefined && !isSmall) this.readAhead(medium);
      return known;
    }
    if (medium === undefined) {
      if (!(await this.comes(mediumId))) throw new Error('a medium of this frame is not ready');
      return this.picture(mediumId, frame, isSmall);
    }
    const image = this.full.get(key) ?? (await this.decoded(medium, frame));
    if (!isSmall) {
      this.readAhead(medium);
      return image;
    }
    const width = Math.min(SMALL_WIDTH, image.width);
    const tiny = sharedImage(width, Math.max(1, Math.round((width * image.height) / image.width)));
    shrinkImage(image, tiny);
    this.small.set(key, tiny);
    return tiny;
  }

  /** Whether a medium is there soon: what it is may still be on its way from the page, while a picture of it is asked for by a worker. */
  private comes(mediumId: string): Promise<boolean> {
    return new Promise((resolve) => {
      const end = (isThere: boolean): void => {
        clearTimeout(timer);
        this.expecting.delete(look);
        resolve(isThere);
      };
      const look = (): void => {
        if (this.media.has(mediumId)) end(true);
      };
      const timer = setTimeout(() => end(false), PATIENCE_MS);
      this.expecting.add(look);
    });
  }

  private decoded(medium: OpenMedium, frame: number): Promise<Image> {
    const { mediumId } = medium.source;
    const key = keyOf(mediumId, frame);
    const known = this.running.get(key);
    if (known !== undefined) return known;
    medium.waiting++;
    const work = async (): Promise<Image> => {
      try {
        // it may have been passed on the way to another
        const image = this.full.get(key) ?? (await medium.decoder.decode(frame));
        this.full.set(key, image);
        return image;
      } finally {
        medium.waiting--;
        this.running.delete(key);
      }
    };
    const keepPassed = async (): Promise<void> => {
      for await (const [at, other] of medium.decoder.passed?.() ?? []) this.full.set(keyOf(mediumId, at), other);
    };
    const image = medium.queue.then(work);
    // who asked is told what went wrong; the next goes on all the same
    medium.queue = image.then(keepPassed).catch(() => undefined);
    this.running.set(key, image);
    return image;
  }

  private note(medium: OpenMedium, frame: number): void {
    const by = frame - medium.last;
    if (by !== 0) medium.playsOn = by > 0 && by <= PLAYS_ON;
    medium.last = frame;
  }

  /** While frames are asked for one after the other and nobody waits, the next ones are decoded. */
  private readAhead(medium: OpenMedium): void {
    if (!medium.playsOn || medium.waiting > 0) return;
    const end = Math.min(medium.source.frames, medium.last + 1 + AHEAD);
    for (let at = medium.last + 1; at < end; at++) {
      if (this.full.has(keyOf(medium.source.mediumId, at))) continue;
      // one that cannot be decoded is said when it is asked for
      void this.decoded(medium, at).then(
        () => this.readAhead(medium),
        () => undefined,
      );
      return;
    }
  }
}

const keyOf = (mediumId: string, frame: number): string => `${mediumId} ${frame}`;
