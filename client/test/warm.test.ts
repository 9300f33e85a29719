import { toRows, type SystemFile } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { queryClient, siteQuery } from '../src/data/site';
import { warmCheck } from '../src/data/warm';

/** A check before a site is opened: in slices between which the page is awake, and never in the way of opening it. */

let n = 0;
const parts = toRows(corrach as unknown as SystemFile, () => `row-${n++}`).map((row) => ({ ...row, revision: 1 }));
const keep = (id: string, rows: unknown) => queryClient.setQueryData(siteQuery(id).queryKey, { id, parts: rows });
/** How often the page was awake meanwhile. */
async function awake(act: () => Promise<void>): Promise<number> {
  let times = 0;
  let over = false;
  const look = () => {
    times += 1;
    if (!over) setImmediate(look);
  };
  setImmediate(look);
  await act();
  over = true;
  return times;
}

test('the page is awake between the slices', async () => {
  keep('a', parts);
  const slow = jest.spyOn(performance, 'now');
  let clock = 0;
  slow.mockImplementation(() => (clock += 20));
  expect(await awake(() => warmCheck('a', () => false))).toBeGreaterThan(10);
  slow.mockRestore();
});
test('nobody waits any more: it stops', async () => {
  keep('a', parts);
  let asked = 0;
  await warmCheck('a', () => ++asked > 3);
  expect(asked).toBe(4);
});
test('a site that is not here yet, or cannot be read, is opened all the same', async () => {
  await expect(warmCheck('nowhere', () => false)).resolves.toBeUndefined();
  keep('broken', [{ id: 'x', kind: 'bank', body: null, revision: 1 }]);
  await expect(warmCheck('broken', () => false)).resolves.toBeUndefined();
});
