import { isIP } from 'node:net';
import { z } from 'zod';

const port = z.coerce.number().int().min(0).max(65_535);
const flag = z
  .enum(['', '0', '1', 'false', 'true'])
  .default('')
  .transform((value) => value === '1' || value === 'true');

/** What the server is told by its environment. */
const environment = z.object({
  DATABASE_URL: z.string().min(1, 'DATABASE_URL has to name a PostgreSQL database'),
  PORT: port.default(4780),
  /** The address it listens at. */
  HOST: z.string().default('127.0.0.1'),
  /** Names beside those of loopback and the address itself by which it may be called, with commas between. */
  ALLOWED_HOSTS: z.string().default(''),
  /** Whether others use this machine, so that a secret is asked for on loopback too. */
  SHARED_MACHINE: flag,
  /** Where the secret is kept. */
  SECRET_FILE: z.string().default(''),
  STUDIO_FOLDER: z.string().default(''),
  DEMO_FILE: z.string().default(''),
  /** Where the database keeps its files, if that is on this machine: how full that disk is belongs to the server's health. */
  DATA_FOLDER: z.string().default(''),
  LOG_LEVEL: z.enum(['fatal', 'error', 'warn', 'info', 'debug', 'trace', 'silent']).default('info'),
});

export interface Settings {
  databaseUrl: string;
  port: number;
  host: string;
  allowedHosts: string[];
  /** The file of the secret that is asked for; null where nothing is asked. */
  secretFile: string | null;
  studioFolder: string;
  demoFile: string | null;
  dataFolder: string | null;
  logLevel: string;
}

/** Reads the settings. Throws an error whose message names the variable that is wrong. */
export function settingsOf(variables: NodeJS.ProcessEnv): Settings {
  const read = environment.safeParse(variables);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new Error(`${String(issue?.path[0] ?? 'A setting')}: ${issue?.message ?? 'it is wrong'}`);
  }
  const given = read.data;
  const asks = given.SHARED_MACHINE || !isLoopback(given.HOST);
  if (asks && given.SECRET_FILE === '') throw new Error('SECRET_FILE has to name the file that keeps the secret');
  return {
    databaseUrl: given.DATABASE_URL,
    port: given.PORT,
    host: given.HOST,
    allowedHosts: given.ALLOWED_HOSTS.split(',')
      .map((name) => name.trim())
      .filter((name) => name !== ''),
    secretFile: asks ? given.SECRET_FILE : null,
    studioFolder: given.STUDIO_FOLDER,
    demoFile: given.DEMO_FILE === '' ? null : given.DEMO_FILE,
    dataFolder: given.DATA_FOLDER === '' ? null : given.DATA_FOLDER,
    logLevel: given.LOG_LEVEL,
  };
}

/** Whether an address is reached from this machine alone. */
export function isLoopback(host: string): boolean {
  const name = host.replace(/^\[|\]$/g, '').toLowerCase();
  return name === 'localhost' || name === '::1' || (isIP(name) === 4 && name.startsWith('127.'));
}
