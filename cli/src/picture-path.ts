import { statSync } from 'node:fs';

/** True where a path names a file that is no text: it is then taken for a picture. What is not there is for the reader of text. */
export const isPicture = (path: string): boolean =>
  !/\.(txt|text|md|csv)$/i.test(path) && (statSync(path, { throwIfNoEntry: false })?.isFile() ?? false);
