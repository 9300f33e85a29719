import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import harbour from '../../demo/sites/harbour-workshop.lantern.json';
import seal from '../../demo/sites/seal-sound.lantern.json';
import whelk from '../../demo/sites/whelk-bank.lantern.json';
import { checkSystemFile, modelOf, type Model } from '../src/index';

/** A file opened as a program would, after a change to a copy of it. */
export function open(file: unknown, change: (file: never) => void = () => undefined): Model {
  const copy = structuredClone(file);
  change(copy as never);
  return modelOf(checkSystemFile(copy).file);
}

/** The demo's sites, for what must hold of every system. */
export const SITES: [name: string, model: Model][] = [
  ['Corrach', open(corrach)],
  ['Gannet Ledge', open(gannet)],
  ['Harbour', open(harbour)],
  ['Seal Sound', open(seal)],
  ['Whelk Bank', open(whelk)],
];
