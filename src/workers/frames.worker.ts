// Browser worker: decodes proxies and draws frame plans for the stage and the weave.
import { ProxyDecoder } from './frames/proxy-decoder';
import { serveFrames } from './frames/serve';

serveFrames(self, {
  open: (source) => new ProxyDecoder(source),
  toBitmap: ({ data, width, height }) => createImageBitmap(new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height)),
});
