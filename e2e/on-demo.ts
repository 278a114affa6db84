import type { Page } from 'playwright-core';
import { buildStudio } from '../scripts/build';
import { demoFile, keep, studioFolder } from '../scripts/paths';
import { withScratchCluster } from '../scripts/postgres';
import { startServer } from '../scripts/server-process';
import { launch } from './browser';

/** Runs `work` with a page of a browser and a studio that holds the demo alone; all of it is gone afterwards. */
export async function onDemo<T>(work: (page: Page, address: string) => Promise<T>): Promise<T> {
  await buildStudio();
  return withScratchCluster(keep, async (databaseUrl) => {
    const server = await startServer({
      DATABASE_URL: databaseUrl,
      PORT: '0',
      STUDIO_FOLDER: studioFolder,
      DEMO_FILE: demoFile,
      LOG_LEVEL: 'error',
    });
    const browser = await launch();
    try {
      const context = await browser.newContext({
        viewport: { width: 1280, height: 800 },
        colorScheme: 'light',
        timezoneId: 'UTC',
      });
      return await work(await context.newPage(), server.address);
    } finally {
      await browser.close();
      await server.stop();
    }
  });
}
