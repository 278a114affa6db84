import { runBundled } from './run-bundled';

await runBundled('bench', 'main.ts');
