import { runBundled } from './run-bundled';

await runBundled('apps/cli', 'src/main.ts');
