import type { AftermathRoom } from './aftermath';
import type { Checking } from './checking';
import type { Keeping } from './keeping';
import type { LiveRoom } from './live';
import type { RehearsalRoom } from './rehearsal';
import { started } from './started';
import type { StudyRoom } from './study';
import type { Started } from './started';

// In a file of its own, for only a bundler can make a worker of this address.

/** What a worker is for: its name, and what stands in it. */
export type RoomName = 'rehearsal' | 'keeping' | 'checking' | 'aftermath' | 'live' | 'study';

export const startRehearsalRoom = (): Started<RehearsalRoom> => room('rehearsal');
export const startKeeping = (): Started<Keeping> => room('keeping');
export const startChecking = (): Started<Checking> => room('checking');
export const startAftermathRoom = (): Started<AftermathRoom> => room('aftermath');
export const startLiveRoom = (): Started<LiveRoom> => room('live');
export const startStudyRoom = (): Started<StudyRoom> => room('study');

function room<T>(name: RoomName): Started<T> {
  return started<T>(new Worker(new URL('./room.worker', import.meta.url), { type: 'module', name }));
}
