import { FaultError, faultLine, modelOf, readSystemFile, type Level, type Model } from '@true-lantern/core';

/** A practice case on its way to somebody else: its number, its level, and the system that the fault is hidden in. */
export interface SentCase {
  seed: number;
  level: Level;
  model: Model;
}

const FORMAT = 'true-lantern-practice';
/** Longer is no case. */
export const MOST_CASE_BYTES = 2e6;

/** Of a site what the physics asks for; whose it is and where exactly stays where it is. */
const OF_SITE = [
  'kind',
  'elevation_m',
  'recordLow_C',
  'recordHigh_C',
  'livingSpace',
  'occupiedMonths',
  'climate',
] as const;

/** The case as a file: the system alone, without notes, name or address, its place to the degree. */
export function caseText({ seed, level, model: { site, schools, system } }: SentCase): string {
  const whole = (value: number | null | undefined) => (typeof value === 'number' ? Math.round(value) : null);
  const file = {
    format: 'true-lantern',
    version: 1,
    site: {
      name: 'Practice',
      ...Object.fromEntries(OF_SITE.map((field) => [field, site[field] ?? null])),
      latitude_deg: whole(site.latitude_deg),
      longitude_deg: whole(site.longitude_deg),
    },
    schools,
    system,
  };
  const quiet = (key: string, value: unknown) => (key === 'notes' ? undefined : value);
  return JSON.stringify({ format: FORMAT, seed, level, file }, quiet, 2);
}

/** A case that somebody sent, or in a sentence what is wrong with it. */
export function readCase(text: string): SentCase | string {
  const given = parsed(text);
  if (given?.format !== FORMAT) return 'This is not a practice case. Choose a file that was saved from one.';
  const { seed, level, file } = given;
  if (!Number.isInteger(seed) || Number(seed) < 0 || ![1, 2, 3, 4].includes(Number(level)))
    return 'This practice case has no number or level. Ask for it again.';
  try {
    return {
      seed: Number(seed),
      level: Number(level) as Level,
      model: modelOf(readSystemFile(JSON.stringify(file)).file),
    };
  } catch (error) {
    if (error instanceof FaultError)
      return `The system of this case cannot be read: ${error.faults.slice(0, 1).map(faultLine).join()}`;
    throw error;
  }
}

function parsed(text: string): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(text);
    return value !== null && typeof value === 'object' ? (value as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}
