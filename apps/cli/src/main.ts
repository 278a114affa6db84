import { program } from './program';

// The exit code is set rather than forced, so that everything printed reaches a slow reader.
process.exitCode = program(process.argv.slice(2), {
  folder: process.env['INIT_CWD'] ?? process.cwd(),
  out: (text) => process.stdout.write(text),
  err: (text) => process.stderr.write(text),
});
// A reader that has seen enough (`| head`) is no failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
});
