import type { PartKind } from '@true-lantern/core/base';
import { createStore } from './store';

/** What a plate's photo gave, on its way to the part that it becomes. */
export interface FromPlate {
  kind: PartKind;
  /** By the field's path. */
  set: Record<string, unknown>;
  /** The photo itself: it stays with the part. */
  photo: Blob | null;
}
/** The last plate that was read, until a part is made of it. */
export const fromPlate = createStore<FromPlate | null>(null);

/** Photos of plates that were chosen together and are still to be read, and how many they were. */
export const platesWaiting = createStore<{ files: File[]; of: number }>({ files: [], of: 0 });
