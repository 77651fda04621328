// Browser worker: draws frame plans for the stage and the weave.
import { serveFrames } from './frames/serve';

serveFrames(self, {
  toBitmap: ({ data, width, height }) => createImageBitmap(new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height)),
});
