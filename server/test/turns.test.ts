import { openTurns } from '../src/threads/turns';

/** Waiting is not working, and the queue has an end. */

test('so many at once, the others in order, and no more than may wait', async () => {
  const turns = openTurns(2, 3);
  const order: number[] = [];
  const taken = [0, 1, 2, 3, 4].map((n) =>
    turns.take()!.then((give) => {
      order.push(n);
      return give;
    }),
  );
  await Promise.resolve();
  await taken[1];
  expect(order).toEqual([0, 1]);
  // Two work and three wait: a sixth is told so at once.
  expect(turns.take()).toBeNull();
  (await taken[1])!();
  await taken[2];
  expect(order).toEqual([0, 1, 2]);
  expect(turns.take()).not.toBeNull();
});

test('a turn that is given up twice lets in one, and all given up leave the door open', async () => {
  const turns = openTurns(1, 8);
  const first = await turns.take()!;
  const second = turns.take()!;
  let third = false;
  void turns.take()!.then(() => (third = true));
  first();
  first();
  const give = await second;
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(third).toBe(false);
  give();
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(third).toBe(true);
});
