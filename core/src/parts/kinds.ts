import { keysOf } from './objects';
import type { InferType } from 'yup';
import { arrays } from './arrays';
import { bank } from './bank';
import { chargers } from './chargers';
import { controllers } from './controllers';
import { converters } from './converters';
import { distribution } from './distribution';
import { inverters } from './inverters';
import { loads } from './loads';
import { moduleTypes } from './module-types';
import { monitor } from './monitor';
import { otherBanks } from './other-banks';
import { roofs } from './roofs';
import { runs } from './runs';
import { sources } from './sources';
import { states } from './states';
import { switches } from './switches';

/**
 * Every kind of part there is, from the sun down: the order in which they are offered and asked for. A kind is added by
 * its own file, its line here, and its line in the schema of the system.
 */
export const KINDS = {
  moduleTypes,
  arrays,
  controllers,
  bank,
  inverters,
  runs,
  switches,
  loads,
  chargers,
  sources,
  distribution,
  converters,
  monitor,
  otherBanks,
  roofs,
  states,
} as const;

type Kinds = typeof KINDS;
export type PartKind = keyof Kinds;
/** Kinds of which a system has a list, and those of which it has one at most. */
export type ListName = { [K in PartKind]: Kinds[K]['single'] extends true ? never : K }[PartKind];
export type SingleName = Exclude<PartKind, ListName>;
/** A part of one kind, or of any. */
export type PartOf<K extends PartKind> = InferType<Kinds[K]['schema']>;
export type AnyPart = PartOf<PartKind>;

/** Kinds of parts from the sun down. */
export const KIND_ORDER = keysOf(KINDS);
/** True for the name of a kind of part. */
export const isPartKind = (name: string): name is PartKind => Object.hasOwn(KINDS, name);
/** True for a kind of which a system has a list. */
export const isListName = (name: string): name is ListName => isPartKind(name) && !KINDS[name].single;
/** True for a kind of which a system has one at most. */
export const isSingleName = (name: string): name is SingleName => isPartKind(name) && KINDS[name].single;
/** Kinds of which a system has a list. */
export const LIST_NAMES = KIND_ORDER.filter(isListName);
/** Kinds of which a system has one at most. */
export const SINGLE_NAMES = KIND_ORDER.filter(isSingleName);

/** A label where somebody gave one; of a kind without names its role speaks. */
export const labelOf = (part: AnyPart): string | null =>
  ('label' in part ? part.label : 'role' in part ? part.role : null) ?? null;
