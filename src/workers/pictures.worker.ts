// Browser worker: decodes the pictures of media, for the workers that draw.
import { PictureBank } from './pictures/bank';
import { openDecoder } from './pictures/open-decoder';
import type { PicturesMessage } from './pictures/protocol';
import { servePictures } from './pictures/serve';

const bank = new PictureBank(openDecoder);

self.onmessage = ({ data }: MessageEvent<PicturesMessage>) => {
  if (data.kind === 'media') bank.add(data.media);
  else servePictures(bank, data.port);
};
