import { checkSystemFile, modelOf, type Model } from '../src/index';

/** A file opened as a program would, after a change to a copy of it. */
export function open(file: unknown, change: (file: never) => void = () => undefined): Model {
  const copy = structuredClone(file);
  change(copy as never);
  return modelOf(checkSystemFile(copy).file);
}
