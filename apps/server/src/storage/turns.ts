import { E_TIMEOUT, Mutex, withTimeout } from 'async-mutex';
import type { MutexInterface } from 'async-mutex';
import { Busy } from './errors';

/** The time a caller waits for its turn, in milliseconds. */
const TURN_TIMEOUT_MS = 4000;
/** The most callers that wait for one key. */
const MAX_WAITING = 32;

/** Lets those who ask for the same thing go one after the other; who would wait too long is refused as Busy. */
export class KeyedQueue {
  private readonly queues = new Map<string, { mutex: MutexInterface; waiting: number }>();

  async take<T>(key: string, work: () => Promise<T>): Promise<T> {
    let queue = this.queues.get(key);
    if (queue === undefined) {
      queue = { mutex: withTimeout(new Mutex(), TURN_TIMEOUT_MS, E_TIMEOUT), waiting: 0 };
      this.queues.set(key, queue);
    }
    if (queue.waiting >= MAX_WAITING) throw new Busy('Too many wait for this level');
    queue.waiting += 1;
    try {
      return await queue.mutex.runExclusive(work);
    } catch (error) {
      throw error === E_TIMEOUT ? new Busy('This level is being saved by others', { cause: error }) : error;
    } finally {
      queue.waiting -= 1;
      if (queue.waiting === 0) this.queues.delete(key);
    }
  }
}
