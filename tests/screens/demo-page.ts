import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Browser } from './browser';
import { openDemo, type Demo } from './demo';

/** A page on the demo film, with a server and a folder of their own; what the page saves goes there. */
export interface DemoPage {
  readonly folder: string;
  readonly demo: Demo;
  readonly page: Browser;
  close(): Promise<void>;
}

export async function openDemoPage(): Promise<DemoPage> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-screens-'));
  const demo = await openDemo(folder);
  const page = await Browser.open(folder);
  return {
    folder,
    demo,
    page,
    async close() {
      await page.close();
      await demo.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
