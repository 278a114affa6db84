import { serve } from './serve';

/** Runs the server from its environment: DATABASE_URL, PORT, STUDIO_FOLDER, DEMO_FILE, LOG_LEVEL. */
const environment = (name: string): string => {
  const value = process.env[name];
  if (value === undefined || value === '') throw new Error(`${name} has to be set`);
  return value;
};

const serving = await serve({
  databaseUrl: environment('DATABASE_URL'),
  port: Number(process.env['PORT'] ?? '0'),
  studioFolder: environment('STUDIO_FOLDER'),
  demoFile: process.env['DEMO_FILE'],
  logLevel: process.env['LOG_LEVEL'],
});

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
process.send?.({ address: serving.address });
