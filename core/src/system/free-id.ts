import type { Model } from './model';

/** An id that nothing has yet. */
export function freeId({ system }: Pick<Model, 'system'>, wanted: string): string {
  const taken = JSON.stringify(system);
  let id = wanted;
  for (let n = 2; taken.includes(`"${id}"`); n++) id = `${wanted}-${n}`;
  return id;
}
