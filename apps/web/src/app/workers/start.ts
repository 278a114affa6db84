import type { AftermathRoom } from './aftermath';
import type { Checking } from './checking';
import { WorkerClient } from './client';
import type { Keeping } from './keeping';
import type { LiveRoom } from './live';
import type { RehearsalRoom } from './rehearsal';
import type { StudyRoom } from './study';

// In a file of its own, for only a bundler can make a worker of this address.

/** What a worker is for: its name, and what stands in it. */
export interface Rooms {
  rehearsal: RehearsalRoom;
  keeping: Keeping;
  checking: Checking;
  aftermath: AftermathRoom;
  live: LiveRoom;
  study: StudyRoom;
}
export type RoomName = keyof Rooms;

/** A worker for one of these purposes, which starts when it is first asked. */
export function workerFor<N extends RoomName>(name: N): WorkerClient<Rooms[N]> {
  return new WorkerClient(() => new Worker(new URL('./room.worker', import.meta.url), { type: 'module', name }));
}
