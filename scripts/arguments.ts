import { Command } from 'commander';

/**
 * What a script takes from the command line: it is to be given options and arguments, and then parsed. A word that it does not know
 * ends it with exit code 2 before it has done anything. `npm run NAME -- --help` shows what it takes.
 */
export function script(name: string, description: string): Command {
  return new Command(`npm run ${name} --`)
    .description(description)
    .allowExcessArguments(false)
    .showHelpAfterError(`(npm run ${name} -- --help shows how it is used)`)
    .exitOverride((error) => process.exit(error.exitCode === 0 ? 0 : 2));
}

/** A script that takes nothing. */
export function takesNothing(name: string, description: string): void {
  script(name, description).parse();
}
