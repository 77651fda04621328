// Browser worker: decodes proxies and draws frame plans for the stage and the weave.
import { openDecoder } from './frames/open-decoder';
import { serveFrames } from './frames/serve';

serveFrames(self, {
  open: openDecoder,
  toBitmap: ({ data, width, height }) => createImageBitmap(new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height)),
});
