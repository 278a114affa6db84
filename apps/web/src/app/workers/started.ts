import { wrap } from 'comlink';
import type { Remote } from 'comlink';

/** A worker that was started: what can be asked of it, and how it ends. */
export interface Started<T> {
  remote: Remote<T>;
  /** Rejects when the worker breaks or is ended: what was asked of it is never answered then. */
  ended: Promise<never>;
  end(): void;
}

/** Gives what stands in a worker to be asked like something of one's own. */
export function started<T>(worker: Worker): Started<T> {
  let over: (why: Error) => void = () => undefined;
  const ended = new Promise<never>((_resolve, reject) => (over = reject));
  // Whoever asks hears of it; nobody has to.
  ended.catch(() => undefined);
  worker.addEventListener('error', (event) => {
    event.preventDefault();
    over(new Error(event.message));
  });
  return {
    remote: wrap<T>(worker),
    ended,
    end: () => {
      worker.terminate();
      over(new Error('It was ended'));
    },
  };
}
