import fc from 'fast-check';
import { NoPlace, Places } from '../src/reading/places';

/** Who is let in when there is not room for all. */

/** Lets all turns of promises pass. */
const settle = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

it('never lets in more than there is room for, and everybody in the end', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ sender: fc.constantFrom('a', 'b', 'c'), size: fc.integer({ min: 1, max: 12 }) }), { maxLength: 30 }),
      async (asked) => {
        const places = new Places(10, 60_000);
        let held = 0;
        let served = 0;
        await Promise.all(
          asked.map(async ({ sender, size }) => {
            const letGo = await places.take(sender, size);
            held += Math.min(size, 10);
            expect(held).toBeLessThanOrEqual(10);
            await settle();
            held -= Math.min(size, 10);
            served += 1;
            letGo();
            letGo();
          }),
        );
        expect([served, held]).toEqual([asked.length, 0]);
      },
    ),
    { numRuns: 60 },
  );
});

it('lets senders take turns, and of one its smallest first', async () => {
  const places = new Places(1, 60_000);
  const first = await places.take('heavy');
  const order: string[] = [];
  const wait = (sender: string, name: string, size = 1): Promise<unknown> =>
    places.take(sender, size).then(async (letGo) => {
      order.push(name);
      await settle();
      letGo();
    });
  const all = [wait('heavy', 'heavy 1'), wait('heavy', 'heavy 2'), wait('other', 'other 1'), wait('third', 'third 1')];
  first();
  await Promise.all(all);
  expect(order.slice(0, 2).sort()).toEqual(['other 1', 'third 1']);
  const wide = new Places(10, 60_000);
  const whole = await wide.take('x', 10);
  const sizes: number[] = [];
  const sized = [9, 2, 5].map((size) => wide.take('x', size).then((letGo) => (sizes.push(size), letGo())));
  whole();
  await Promise.all(sized);
  expect(sizes).toEqual([2, 5, 9]);
});

it('refuses who waits too long, and who comes when too many wait, and goes on with the others', async () => {
  const places = new Places(1, 30, 2);
  const letGo = await places.take('a');
  const late = [places.take('b'), places.take('c')];
  await expect(places.take('d')).rejects.toBeInstanceOf(NoPlace);
  for (const one of late) await expect(one).rejects.toBeInstanceOf(NoPlace);
  const next = places.take('e');
  letGo();
  (await next)();
});
