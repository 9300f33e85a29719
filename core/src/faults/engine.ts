import type { Model } from '../system/model';
import { createAltered, type Altered } from './altered';
import { createCharging, type Charging } from './charging';
import type { Grid } from './grid';
import { createSun, type Sun } from './sun';

/** What is worked out of a system whatever the grid: its curves, its bank, what it is charged with. */
export interface Engine {
  model: Model;
  sun: Sun;
  altered: Altered;
  charging: Charging;
}

/** @param model as found */
export function createEngine(model: Model): Engine {
  const sun = createSun(model);
  const altered = createAltered(model);
  return { model, sun, altered, charging: createCharging(model, sun, altered) };
}

/** With the grid that is filled. */
export interface Tools extends Engine {
  grid: Grid;
}
