import { seededFolder } from './demo';

/** Before any file: the demo film is made once, so that files that run side by side all find it. */
export default function seed(): void {
  seededFolder();
}
