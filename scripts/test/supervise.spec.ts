import { Supervised } from '../supervise';

/** A process that ends when it is told, and a clock that goes as far as it is waited for. */
function scene(startsFail = false) {
  let now = 0;
  const ends: (() => void)[] = [];
  const said: string[] = [];
  const waits: number[] = [];
  const gaveUp = jest.fn();
  let starts = 0;
  const supervised = new Supervised(
    'The mill',
    () => {
      starts += 1;
      if (startsFail && starts > 1) return Promise.reject(new Error('no water'));
      const ended = new Promise<void>((resolve) => ends.push(resolve));
      return Promise.resolve({ ended, stop: async () => ends.at(-1)!() });
    },
    { say: (line) => said.push(line), gaveUp },
    {
      now: () => now,
      wait: (milliseconds) => {
        waits.push(milliseconds);
        now += milliseconds;
        return Promise.resolve();
      },
    },
  );
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 20; i++) await Promise.resolve();
  };
  const die = async (after = 0): Promise<void> => {
    now += after;
    ends.at(-1)!();
    await settle();
  };
  return { supervised, die, settle, said, waits, gaveUp, starts: () => starts };
}

it('starts again what has ended, and waits twice as long each time', async () => {
  const mill = scene();
  await mill.supervised.begin();
  for (let i = 0; i < 3; i++) await mill.die();
  expect(mill.starts()).toBe(4);
  expect(mill.waits).toEqual([250, 500, 1000]);
});

it('gives up after five ends within a minute, and says so', async () => {
  const mill = scene();
  await mill.supervised.begin();
  for (let i = 0; i < 5; i++) await mill.die();
  expect(mill.starts()).toBe(5);
  expect(mill.gaveUp).toHaveBeenCalledTimes(1);
  expect(mill.gaveUp.mock.calls[0][0]).toContain('5 times within a minute');
});

it('goes on for ever with one that ends now and then', async () => {
  const mill = scene();
  await mill.supervised.begin();
  for (let i = 0; i < 12; i++) await mill.die(20_000);
  expect(mill.gaveUp).not.toHaveBeenCalled();
  expect(mill.starts()).toBe(13);
});

it('counts a start that fails as an end, and gives up in the same way', async () => {
  const mill = scene(true);
  await mill.supervised.begin();
  await mill.die();
  await mill.settle();
  expect(mill.gaveUp).toHaveBeenCalledTimes(1);
  expect(mill.said).toContain('no water');
});

it('does not start again what was stopped', async () => {
  const mill = scene();
  await mill.supervised.begin();
  await mill.supervised.stop();
  await mill.settle();
  expect(mill.starts()).toBe(1);
});
