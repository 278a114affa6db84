/// <reference lib="webworker" />
import { rehearse } from '@nettlewick/core';
import type { Level, Rehearsed } from '@nettlewick/core';

export interface RehearsalTask {
  task: number;
  level: Level;
  walk: string;
}

// The kernel runs here, never on the interface's thread.
addEventListener('message', ({ data }: MessageEvent<RehearsalTask>) => {
  const walk = data.level.walks.find((one) => one.id === data.walk);
  try {
    if (walk === undefined) throw new Error('This walk is not in the level any more.');
    const { rate, ticks, entries, tracks, expectations } = rehearse(data.level, walk);
    const rehearsal: Rehearsed = { walk: walk.id, rate, ticks, entries, tracks, expectations };
    postMessage({ task: data.task, rehearsal });
  } catch (error) {
    postMessage({ task: data.task, failure: error instanceof Error ? error.message : String(error) });
  }
});
