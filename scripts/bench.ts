import { script } from './arguments';
import { runBundled } from './run-bundled';

script('bench', "Runs one benchmark; its last line is one JSON object: what is ours, what the peer's, the ratio.")
  .argument('[name]', 'which; all are listed when none is named')
  .argument('[size]', 'of sensing: all, for every size')
  .parse();

await runBundled('bench', 'main.ts');
