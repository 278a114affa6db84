import { join } from 'node:path';
import { LevelStore, RECOVERABLE_DAYS, connect } from '@nettlewick/server';
import { keep } from './paths';
import { startCluster } from './postgres';
import { whoRuns } from './running';

// Removes for good the levels that were deleted long ago. Lists them, and does it only when told to with --yes:
//   npm run purge -- [--older-than DAYS] [--yes]

const words = process.argv.slice(2);
const at = words.indexOf('--older-than');
const days = at < 0 ? RECOVERABLE_DAYS : Number(words[at + 1]);
const sure = words.includes('--yes');
if (!Number.isInteger(days) || days < RECOVERABLE_DAYS) {
  console.error(
    `--older-than takes a whole number of days, ${RECOVERABLE_DAYS} or more: what was deleted since can be recovered.`,
  );
  process.exit(2);
}
const given = process.env['DATABASE_URL'] ?? '';
if (given === '' && whoRuns() !== null) {
  console.error('Nettlewick is running. End it first, or set DATABASE_URL.');
  process.exit(2);
}
const cluster = given === '' ? await startCluster(join(keep, 'database')) : null;
try {
  const source = await connect(cluster?.url ?? given);
  const store = new LevelStore(source);
  const found = await store.longDeleted(days);
  for (const { id, name, deletedAt } of found) console.log(`${id}  deleted ${deletedAt.toISOString()}  ${JSON.stringify(name)}`);
  if (found.length === 0) console.log(`No level was deleted more than ${days} days ago.`);
  else if (!sure) console.log(`${found.length} would be removed for good. Say --yes to do it.`);
  else console.log(`${await store.purge(found.map(({ id }) => id))} removed for good.`);
  await source.destroy();
} finally {
  await cluster?.stop();
}
