import type { AftermathRoom } from './aftermath';
import type { Keeping } from './keeping';
import type { LiveRoom } from './live';
import type { RehearsalRoom } from './rehearsal';
import { started } from './started';
import type { StudyRoom } from './study';
import type { Started } from './started';

// In a file of its own, for only a bundler can make workers of these addresses.

export function startRehearsalRoom(): Started<RehearsalRoom> {
  return started(new Worker(new URL('./rehearsal.worker', import.meta.url), { type: 'module' }));
}

export function startKeeping(): Started<Keeping> {
  return started(new Worker(new URL('./keeping.worker', import.meta.url), { type: 'module' }));
}

export function startAftermathRoom(): Started<AftermathRoom> {
  return started(new Worker(new URL('./aftermath.worker', import.meta.url), { type: 'module' }));
}

export function startLiveRoom(): Started<LiveRoom> {
  return started(new Worker(new URL('./live.worker', import.meta.url), { type: 'module' }));
}

export function startStudyRoom(): Started<StudyRoom> {
  return started(new Worker(new URL('./study.worker', import.meta.url), { type: 'module' }));
}
