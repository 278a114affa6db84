import type { EditImpactWorker } from './aftermath';
import type { Checking } from './checking';
import { WorkerClient } from './client';
import type { SaveWorker } from './keeping';
import type { LiveWalkWorker } from './live';
import type { ProvingWorker } from './proving';
import type { RehearsalWorker } from './rehearsal';
import type { AnalysisWorker } from './study';
import type { WiringTextWorker } from './wiring';

// In a file of its own, for only a bundler can make a worker of this address.

/** What a worker is for: its name, and what stands in it. */
export interface Rooms {
  rehearsal: RehearsalWorker;
  keeping: SaveWorker;
  checking: Checking;
  proving: ProvingWorker;
  aftermath: EditImpactWorker;
  live: LiveWalkWorker;
  study: AnalysisWorker;
  wiring: WiringTextWorker;
}
export type WorkerName = keyof Rooms;

/** A worker for one of these purposes, which starts when it is first asked. */
export function workerFor<N extends WorkerName>(name: N): WorkerClient<Rooms[N]> {
  return new WorkerClient(() => new Worker(new URL('./worker-entry', import.meta.url), { type: 'module', name }));
}
