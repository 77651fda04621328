import type { Image } from '../../core/image/pixels';
import type { PictureReply, PictureRequest } from './protocol';

interface Asker {
  readonly settle: (image: Image) => void;
  readonly fail: (error: Error) => void;
}

/** Pictures of media, asked for over a port to the worker that decodes. */
export class AskedPictures {
  private readonly port: MessagePort;
  private readonly asked = new Map<number, Asker>();
  private jobs = 0;

  constructor(port: MessagePort) {
    this.port = port;
    port.onmessage = ({ data }: MessageEvent<PictureReply>) => {
      const asker = this.asked.get(data.job);
      this.asked.delete(data.job);
      if ('reason' in data) asker?.fail(new Error(data.reason));
      else asker?.settle({ width: data.width, height: data.height, data: data.data });
    };
  }

  /** @throws Error when it cannot be had */
  picture(mediumId: string, frame: number, isSmall: boolean): Promise<Image> {
    const job = ++this.jobs;
    return new Promise((settle, fail) => {
      this.asked.set(job, { settle, fail });
      this.port.postMessage({ job, mediumId, frame, isSmall } satisfies PictureRequest);
    });
  }
}
