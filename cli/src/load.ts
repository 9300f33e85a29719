import { readSystemFile } from '@true-lantern/core/system/read';
import type { SystemFile } from '@true-lantern/core/system/schema';
import { textOf } from './flags';

/** The file that a call names; its warnings are told. @throws FaultError with each fault's path */
export function load(path: string | undefined, warn: (line: string) => void): SystemFile {
  const { file, warnings } = readSystemFile(textOf(path, 'a system file'));
  warnings.forEach(warn);
  return file;
}
