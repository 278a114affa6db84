/** A new worker with the kernel in it. In a file of its own, for only a bundler can make a worker of the address. */
export function startWorker(): Worker {
  return new Worker(new URL('./rehearsal.worker', import.meta.url), { type: 'module' });
}
