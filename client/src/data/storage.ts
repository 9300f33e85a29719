import { useEffect, useState } from 'react';

/** The room that this device has, and whether it lasts. */
export interface Storage {
  /** "12 MB are used; about 4 GB are left." */
  room: string;
  /** Whether the browser has promised to keep it. */
  lasting: boolean;
}

/** The room on this device; null until it is known, and where the browser does not tell. */
export function useStorage(): Storage | null {
  const [storage, setStorage] = useState<Storage | null>(null);
  useEffect(() => {
    let gone = false;
    void readStorage().then((read) => !gone && setStorage(read));
    return () => {
      gone = true;
    };
  }, []);
  return storage;
}

/** Asks the browser; null where it does not tell. */
export async function readStorage(manager = globalThis.navigator?.storage): Promise<Storage | null> {
  try {
    const { usage, quota } = await manager.estimate();
    if (usage === undefined || quota === undefined) return null;
    return { room: roomText(usage, quota), lasting: (await manager.persisted?.()) ?? false };
  } catch {
    // Not told to pages that are not served securely.
    return null;
  }
}

/** Bytes used and left, in words. */
export const roomText = (usage_B: number, quota_B: number) =>
  `${bytesText(usage_B)} used, about ${bytesText(Math.max(0, quota_B - usage_B))} left.`;

/** Decimal units, as the device's own settings show them. */
const bytesText = (bytes: number) =>
  bytes >= 1e9
    ? `${(bytes / 1e9).toFixed(1)} GB`
    : bytes >= 1e6
      ? `${Math.round(bytes / 1e6)} MB`
      : `${Math.ceil(bytes / 1e3)} kB`;
