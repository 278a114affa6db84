import { serve } from './serve';
import type { Serving } from './serve';
import { WrongSettings, settingsOf } from './settings';

/** Runs the server as its environment says (settings.ts), and tells its parent where it answers. It is bundled beside its threads. */
const serving = await start();

async function start(): Promise<Serving> {
  try {
    return await serve(settingsOf(process.env), import.meta.dirname);
  } catch (error) {
    // Settings that are wrong say themselves what they take.
    if (error instanceof WrongSettings) console.error(error.message);
    else console.error(`The server cannot start: ${error instanceof Error ? error.message : String(error)}`);
    process.exit(error instanceof WrongSettings ? 2 : 1);
  }
}

let ending = false;
const end = (): void => {
  if (ending) return;
  ending = true;
  void serving.close().then(
    () => process.exit(0),
    (error: unknown) => {
      serving.log.error({ err: error }, 'could not end cleanly');
      process.exit(1);
    },
  );
};
process.on('SIGTERM', end);
process.on('SIGINT', end);
process.on('disconnect', end);
process.send?.({ address: serving.address, entrance: serving.entrance });
