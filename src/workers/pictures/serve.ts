import type { PictureBank } from './bank';
import type { PictureReply, PictureRequest } from './protocol';

/** A port to whoever asks for pictures. */
export interface PicturesPort {
  onmessage: ((event: MessageEvent<PictureRequest>) => void) | null;
  postMessage(message: PictureReply): void;
}

/** Answers what is asked for over `port` from the bank. */
export function servePictures(bank: PictureBank, port: PicturesPort): void {
  port.onmessage = ({ data: { job, mediumId, frame, isSmall } }) => {
    bank.picture(mediumId, frame, isSmall).then(
      ({ width, height, data }) => port.postMessage({ job, width, height, data }),
      (error: Error) => port.postMessage({ job, reason: error.message }),
    );
  };
}
