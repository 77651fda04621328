/** A medium that is decoded. */
export interface ProxySource {
  readonly mediumId: string;
  /** A WebM of its frames or, of a still, a PNG. */
  readonly url: string;
  readonly framesPerSecond: number;
  readonly frames: number;
}

/** What the page tells the worker that decodes. */
export type PicturesMessage =
  | { readonly kind: 'media'; readonly media: readonly ProxySource[] }
  /** Another worker asks for pictures over this port from now on. */
  | { readonly kind: 'port'; readonly port: MessagePort };

/** What is asked for over a port; small pictures are at most 160 pixels wide. */
export interface PictureRequest {
  readonly job: number;
  readonly mediumId: string;
  readonly frame: number;
  readonly isSmall: boolean;
}

/** Each request ends in exactly one reply. RGBA8, not multiplied; the memory is shared where the page may share memory. */
export type PictureReply =
  | { readonly job: number; readonly width: number; readonly height: number; readonly data: Uint8ClampedArray }
  | { readonly job: number; readonly reason: string };
