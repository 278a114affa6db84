import { InvalidArgumentError } from 'commander';
import { join } from 'node:path';
import { LevelRepository, RECOVERABLE_DAYS, connect } from '@nettlewick/server';
import { script } from './arguments';
import { keep } from './paths';
import { startCluster } from './postgres';
import { whoRuns } from './running';

// Removes for good the levels that were deleted long ago. Lists them first, and removes what it has listed only when told to with --yes.

const { olderThan, yes } = script('purge', 'Lists the levels that were deleted long ago, and with --yes removes them for good.')
  .option('--older-than <days>', `deleted at least so many days ago, ${RECOVERABLE_DAYS} or more`, wholeDays, RECOVERABLE_DAYS)
  .option('--yes', 'remove those that are listed, for good')
  .parse()
  .opts<{ olderThan: number; yes?: true }>();

const given = process.env['DATABASE_URL'] ?? '';
if (given === '' && whoRuns() !== null) {
  console.error('Nettlewick is running. End it first, or set DATABASE_URL.');
  process.exit(2);
}
const cluster = given === '' ? await startCluster(join(keep, 'database')) : null;
try {
  const source = await connect(cluster?.url ?? given);
  const store = new LevelRepository(source);
  const found = await store.longDeleted(olderThan);
  for (const { id, name, deletedAt } of found) console.log(`${id}  deleted ${deletedAt.toISOString()}  ${JSON.stringify(name)}`);
  if (found.length === 0) console.log(`No level was deleted more than ${olderThan} days ago.`);
  else if (yes !== true) console.log(`${found.length} levels would be deleted permanently. Add --yes to confirm.`);
  else
    console.log(
      `${await store.purge(
        found.map(({ id }) => id),
        olderThan,
      )} removed for good.`,
    );
  await source.destroy();
} finally {
  await cluster?.stop();
}

function wholeDays(text: string): number {
  if (/^\d{1,6}$/.test(text) && Number(text) >= RECOVERABLE_DAYS) return Number(text);
  throw new InvalidArgumentError(
    `It takes a whole number of days, ${RECOVERABLE_DAYS} or more: what was deleted since can be recovered.`,
  );
}
