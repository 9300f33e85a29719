import { settingSheets } from '../bank/charging';
import { keyOf, type Finding } from '../rules/finding';
import type { System, Visit } from '../system/schema';
import { testKey } from './visit';

/** How a system was left at a visit, kept with the visit, so that the next one can say what has changed without a signal. */
export type Left = NonNullable<Visit['left']>;

/** Each device's settings by a key of their own. */
export const settingsOf = (system: System) =>
  settingSheets(system).flatMap(({ path, name, settings }) =>
    Object.entries(settings ?? {}).flatMap(([setting, value]) =>
      value === null || value === undefined
        ? []
        : [{ key: testKey(`${path}.${setting}`), device: name, setting, value: String(value) }],
    ),
  );

/** What is kept of a system when a visit is signed: what was over, and what every device was set to. */
export const leftAs = (system: System, findings: readonly Finding[]): Left => ({
  over: findings.filter(({ verdict }) => verdict === 'over').map(keyOf),
  settings: Object.fromEntries(settingsOf(system).map(({ key, value }) => [key, value])),
});

/** What is otherwise than a visit left it. */
export interface Since {
  /** Over now, and not when it was left. */
  newly: Finding[];
  /** How many that were over then are not any more. */
  mended: number;
  /** Set otherwise than it was left; null: nobody had read it then. */
  set: { device: string; setting: string; before: string | null; after: string }[];
}

/** What has become of a system since it was left. */
export function since({ over, settings }: Left, system: System, findings: readonly Finding[]): Since {
  const then = new Set(over ?? []);
  const now = findings.filter(({ verdict }) => verdict === 'over');
  const still = new Set(now.map(keyOf));
  return {
    newly: now.filter((finding) => !then.has(keyOf(finding))),
    mended: [...then].filter((key) => typeof key === 'string' && !still.has(key)).length,
    set: settingsOf(system).flatMap(({ key, device, setting, value }) => {
      const before = settings?.[key] ?? null;
      return before === value ? [] : [{ device, setting, before, after: value }];
    }),
  };
}
