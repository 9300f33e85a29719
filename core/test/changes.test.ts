import fc from 'fast-check';
import { applyFields, isField, mergeFields, same, type StoredPart } from '../src/index';

const part = (body: Record<string, unknown> = { maxPv_V: 100, settings: { absorb_V: 14 } }): StoredPart => ({
  id: 'row',
  kind: 'controllers',
  body,
  evidence: {},
  position: 0,
  revision: 3,
  deleted: false,
});

describe('setting fields', () => {
  test('reaches into the body and takes out with null', () => {
    const next = applyFields(part(), { 'settings.absorb_V': 14.4, 'settings.float_V': 13.6, maxPv_V: null });
    expect(next.body).toEqual({ settings: { absorb_V: 14.4, float_V: 13.6 } });
  });
  test('keeps evidence apart from the body, and marks the part deleted', () => {
    const next = applyFields(part(), { 'evidence/maxPv_V': { grade: 'measured' }, '/deleted': true });
    expect(next).toMatchObject({ evidence: { maxPv_V: { grade: 'measured' } }, deleted: true });
    expect(next.body).toEqual(part().body);
  });
  test('never reaches a prototype', () => {
    for (const field of ['__proto__.x', 'a.constructor.b', 'evidence/__proto__', '', '/other'])
      expect(isField(field)).toBe(false);
    for (const field of ['maxPv_V', 'settings.absorb_V', 'evidence/settings.absorb_V', '/deleted'])
      expect(isField(field)).toBe(true);
  });
});

describe('two people on one part', () => {
  const past = (set: Record<string, unknown>, device: string | null = 'phone') => [{ revision: 3, set, device }];
  test('different fields merge by themselves', () => {
    const { set, conflicts } = mergeFields(
      part(),
      { baseRevision: 2, set: { maxOutput_A: 60 } },
      past({ maxPv_V: 100 }),
    );
    expect(set).toEqual({ maxOutput_A: 60 });
    expect(conflicts).toEqual([]);
  });
  test('the same field to another value is kept for a person, with both values', () => {
    const { set, conflicts } = mergeFields(
      part(),
      { baseRevision: 2, set: { maxPv_V: 150, maxOutput_A: 60 } },
      past({ maxPv_V: 100 }),
    );
    expect(set).toEqual({ maxOutput_A: 60 });
    expect(conflicts).toEqual([{ field: 'maxPv_V', current: 100, wanted: 150 }]);
  });
  test('the same field to the same value is no conflict', () => {
    expect(mergeFields(part(), { baseRevision: 2, set: { maxPv_V: 100 } }, past({ maxPv_V: 100 })).conflicts).toEqual(
      [],
    );
  });
  test('a whole and its member are the same thing', () => {
    const { conflicts } = mergeFields(
      part(),
      { baseRevision: 2, set: { settings: { absorb_V: 15 } } },
      past({ 'settings.absorb_V': 14 }),
    );
    expect(conflicts).toHaveLength(1);
  });
  test('what was known when the change was made is no conflict, nor what the same device did itself', () => {
    expect(mergeFields(part(), { baseRevision: 3, set: { maxPv_V: 150 } }, past({ maxPv_V: 100 })).conflicts).toEqual(
      [],
    );
    expect(
      mergeFields(part(), { baseRevision: 2, set: { maxPv_V: 150 }, device: 'phone' }, past({ maxPv_V: 100 }))
        .conflicts,
    ).toEqual([]);
    expect(
      mergeFields(part(), { baseRevision: 2, set: { maxPv_V: 150 }, device: 'desk' }, past({ maxPv_V: 100 })).conflicts,
    ).toHaveLength(1);
  });

  /** A server of one part, taking changes as the real one does. */
  function server() {
    let state: StoredPart = { ...part({}), revision: 1 };
    const log: { revision: number; set: Record<string, unknown>; device: string | null }[] = [];
    const seen = new Set<string>();
    const conflicts: { field: string; wanted: unknown }[] = [];
    return {
      take(change: { id: string; base: number; field: string; value: number; device: string }) {
        if (seen.has(change.id)) return;
        seen.add(change.id);
        const merged = mergeFields(
          state,
          { baseRevision: change.base, set: { [change.field]: change.value }, device: change.device },
          log,
        );
        conflicts.push(...merged.conflicts.map(({ field, wanted }) => ({ field, wanted })));
        if (Object.keys(merged.set).length === 0) return;
        state = { ...applyFields(state, merged.set), revision: state.revision + 1 };
        log.push({ revision: state.revision, set: merged.set, device: change.device });
      },
      get revision() {
        return state.revision;
      },
      result: () => ({ body: state.body, conflicts, log }),
    };
  }
  const edits = fc.array(
    fc.record({
      device: fc.constantFrom('phone', 'desk', 'van'),
      field: fc.constantFrom('a', 'b', 'c'),
      value: fc.integer({ min: 1, max: 4 }),
      sync: fc.boolean(),
      twice: fc.boolean(),
    }),
    { maxLength: 25 },
  );
  test('whatever the interleaving, every edit stands, was followed by a newer one, or waits as a conflict', () => {
    fc.assert(
      fc.property(edits, (steps) => {
        const one = server();
        const known = new Map<string, number>();
        steps.forEach(({ device, field, value, sync, twice }, i) => {
          if (sync || !known.has(device)) known.set(device, one.revision);
          const change = { id: String(i), base: known.get(device) ?? 1, field, value, device };
          one.take(change);
          if (twice) one.take(change);
        });
        const { body, conflicts, log } = one.result();
        for (const { field, value } of steps) {
          const stands = body[field] === value;
          const written = log.some(({ set }) => set[field] === value);
          const waits = conflicts.some((conflict) => conflict.field === field && conflict.wanted === value);
          expect(stands || written || waits).toBe(true);
        }
        // Twice sent is once taken: revisions count the changes that were written, no more.
        expect(one.revision).toBe(1 + log.length);
      }),
      { numRuns: 2000 },
    );
  });
});

test('equality is of JSON: order of members and null against absent do not matter', () => {
  expect(same({ a: 1, b: [1, { c: null }] }, { b: [1, {}], a: 1 })).toBe(true);
  expect(same([1, 2], [2, 1])).toBe(false);
  expect(same({ a: 1 }, [1])).toBe(false);
});
