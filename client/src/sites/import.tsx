import { FaultError, faultLine, MOST_BYTES, readSystemFile, type Fault } from '@true-lantern/core/base';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { takeBundle } from '../data/bundle';
import { chooseFile } from '../data/files';
import { enqueueSite } from '../data/outbox';
import { T } from '../ui/text';

/** How it stands with a file that is being taken. */
export interface Importing {
  busy: boolean;
  /** What is wrong with the file that was chosen, and its name. */
  refused: { name: string; faults: Fault[] } | null;
  choose(): void;
}

/** Choosing a `.lantern.json`, reading it whole or not at all, and opening the site it makes. */
export function useImport(): Importing {
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<Importing['refused']>(null);
  const take = async () => {
    const chosen = await chooseFile('.json,.zip,application/json,application/zip');
    if (!chosen) return;
    setBusy(true);
    setRefused(null);
    try {
      router.push(`/site/${await taken(chosen)}`);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      setRefused({ name: chosen.name, faults: error.faults });
    } finally {
      setBusy(false);
    }
  };
  return { busy, refused, choose: () => void take() };
}

/** One more than the reader takes, so that it refuses what is too large. */
async function taken(file: File): Promise<string> {
  if (/\.zip$/i.test(file.name)) return takeBundle(file);
  return enqueueSite(readSystemFile(await file.slice(0, MOST_BYTES + 1).text()).file);
}

/** Says that a file is being read, or why it was refused. */
export function ImportNote({ state: { busy, refused } }: { state: Importing }) {
  if (busy) return <T role="status">Reading the file ...</T>;
  if (!refused) return null;
  return (
    <View role="alert" className="gap-1 border-l-4 border-ink pl-3">
      <T look="head">{refused.name} was not imported. Nothing was changed.</T>
      {refused.faults.map((fault) => (
        <T key={`${fault.path}${fault.message}`} look="mono">
          {faultLine(fault)}
        </T>
      ))}
    </View>
  );
}
