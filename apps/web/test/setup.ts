import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless';

setupZonelessTestEnv();

// jsdom has no structuredClone of its own realm; the browser's database and the workers need one.
globalThis.structuredClone ??= ((value: unknown) => JSON.parse(JSON.stringify(value)) as unknown) as typeof structuredClone;

// jsdom draws nothing; it would say so at every canvas.
HTMLCanvasElement.prototype.getContext = () => null;

// Nor has it a timeline.
performance.mark ??= (() => undefined) as never;

// Nor does anything scroll in it.
Element.prototype.scrollTo ??= (() => undefined) as never;

// Nor has it the names of CSS; those of the tests need no escaping.
globalThis.CSS ??= { escape: (name: string) => name } as never;
