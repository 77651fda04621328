import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** The folder of this installation; `./irimi` sets it, tests may run from the root. */
export const rootFolder = (): string => process.env.IRIMI_ROOT ?? process.cwd();

export const dataFolder = (): string => resolve(process.env.IRIMI_DATA ?? join(rootFolder(), 'data'));

function folder(...parts: string[]): string {
  const path = join(dataFolder(), ...parts);
  mkdirSync(path, { recursive: true });
  return path;
}

export const databaseFile = (): string => join(folder(), 'irimi.sqlite');
export const mediumFolder = (id: string): string => folder('media', id);
export const exportsFolder = (): string => folder('exports');
/** Received files that a job has yet to look at. */
export const incomingFolder = (): string => folder('incoming');

export type MediumFile = 'original' | 'proxy.webm' | 'poster.jpg' | 'strip.jpg';
export const mediumFile = (id: string, file: MediumFile): string => join(mediumFolder(id), file);
