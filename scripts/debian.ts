import { spawn, spawnSync } from 'node:child_process';

/** Something cannot be installed without the user; the message says what to run. */
export class NeedsUser extends Error {
  override name = 'NeedsUser';
}

/** What is being installed: Debian's packages are installed one after the other. */
let busy: Promise<unknown> = Promise.resolve();

/**
 * Installs a Debian package, saying so first. Without the rights to, or without apt-get, it throws with the exact
 * command for someone who has them.
 */
export function installDebian(packageName: string, why: string): Promise<void> {
  const done = busy.then(() => install(packageName, why));
  busy = done.catch(() => undefined);
  return done;
}

async function install(packageName: string, why: string): Promise<void> {
  const command = `apt-get install -y --no-install-recommends ${packageName}`;
  const asRoot = process.getuid?.() === 0;
  const withSudo = !asRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0;
  if (!asRoot && !withSudo) {
    throw new NeedsUser(
      `${why} Installing it needs rights that this user does not have. Run:\n\n  sudo apt-get update && sudo ${command}\n\nand then this command again.`,
    );
  }
  console.error(`${why} Installing it from Debian's packages: ${command}`);
  const before = withSudo ? ['sudo', '-n'] : [];
  // RUNLEVEL=1: what is installed shall not start services of its own. The list of packages may be missing or old on a new machine.
  await run([...before, 'apt-get', 'update', '-q']);
  if ((await run([...before, 'env', 'DEBIAN_FRONTEND=noninteractive', 'RUNLEVEL=1', ...command.split(' ')])) !== 0) {
    throw new NeedsUser(
      `Installing ${packageName} failed. Run this yourself and see what it says:\n\n  ${asRoot ? '' : 'sudo '}${command}`,
    );
  }
}

function run(command: string[]): Promise<number> {
  const [program = '', ...rest] = command;
  return new Promise((resolve) => {
    const child = spawn(program, rest, { stdio: ['ignore', 'ignore', 'pipe'], timeout: 300_000 });
    let said = '';
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.once('error', (error) => (said += String(error)));
    child.once('close', (code) => {
      if (code !== 0) console.error(said);
      resolve(code ?? 1);
    });
  });
}
