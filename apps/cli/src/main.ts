import { writeSync } from 'node:fs';
import { EXIT_ERROR } from './documents';
import { program } from './program';

/** The time between two progress messages, in milliseconds. */
const PROGRESS_MS = 250;

let said = 0;
// The exit code is set rather than forced, so that everything printed reaches a slow reader.
process.exitCode = program(process.argv.slice(2), {
  folder: process.env['INIT_CWD'] ?? process.cwd(),
  out: (text) => process.stdout.write(text),
  err: (text) => process.stderr.write(text),
  progress: process.stderr.isTTY
    ? (line) => {
        if (line !== null && Date.now() - said < PROGRESS_MS) return;
        said = line === null ? 0 : Date.now();
        // At once, for nothing is written while the program works; the line is written over by the next.
        writeSync(2, `\r\u001b[K${line ?? ''}`);
      }
    : undefined,
});
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  // A reader that has seen enough (`| head`) is no failure.
  if (error.code !== 'EPIPE') {
    process.exitCode = EXIT_ERROR;
    process.stderr.write(`The output cannot be written: ${error.message}\n`);
  }
});
process.stderr.on('error', () => undefined);
