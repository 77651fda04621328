/* The library's types leave its matrices' contents open. */
/* eslint-disable @typescript-eslint/no-unsafe-call, @typescript-eslint/no-unsafe-member-access, @typescript-eslint/no-unsafe-argument */
import * as loaded from '@techstark/opencv-js';
import type { Image } from '../src/core/image/pixels';

type OpenCv = typeof loaded;

/** The comparison library, once it has started. */
export async function openCv(): Promise<OpenCv> {
  const module = ((loaded as { default?: unknown }).default ?? loaded) as OpenCv & { onRuntimeInitialized: () => void };
  // it calls itself a promise, and awaiting it would never end
  delete (module as { then?: unknown }).then;
  if (typeof module.Mat !== 'function') await new Promise<void>((resolve) => (module.onRuntimeInitialized = resolve));
  return module;
}

/** A picture as the library's three-channel matrix; the caller deletes it. */
export function matOf(cv: OpenCv, image: Image): InstanceType<OpenCv['Mat']> {
  const rgba = new cv.Mat(image.height, image.width, cv.CV_8UC4);
  rgba.data.set(image.data);
  const rgb = new cv.Mat();
  cv.cvtColor(rgba, rgb, cv.COLOR_RGBA2RGB);
  rgba.delete();
  return rgb;
}

/** A picture as the library's grey matrix; the caller deletes it. */
export function greyOf(cv: OpenCv, image: Image): InstanceType<OpenCv['Mat']> {
  const rgba = new cv.Mat(image.height, image.width, cv.CV_8UC4);
  rgba.data.set(image.data);
  const grey = new cv.Mat();
  cv.cvtColor(rgba, grey, cv.COLOR_RGBA2GRAY);
  rgba.delete();
  return grey;
}
