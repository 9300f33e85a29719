import type { AnyObject, InferType, ISchema, ObjectSchema } from 'yup';

/** What the facts of a part are written with: a person's units, a drawing's or a report's. */
export interface Write {
  /** "60 A"; null stays null, so that what was not read is left out. */
  amount(value: number | null | undefined, unit: string, digits?: number): string | null;
  size(size: string): string;
}
/** "3 facts \u00b7 in a line", those that are not known left out. */
export const inLine = (...facts: (string | null | undefined | false)[]) => facts.filter(Boolean).join(' \u00b7 ');

/** How a kind of part lies on the Line, from the sun down. */
export type LineRole =
  /** Above the device that it feeds. */
  | { at: 'array' }
  /** A branch of its own above the bus, with its cable; or the gap where that is not recorded. */
  | { at: 'source'; run: string; gap: string }
  | { at: 'bank' }
  /** A branch of its own below the bus, with what it feeds. */
  | { at: 'draws'; run: string; gap: string }
  | { at: 'board' }
  | { at: 'load' }
  | { at: 'cable' }
  /** On the cable that it opens. */
  | { at: 'switch' }
  /** Not drawn: listed beside the Line. */
  | { at: 'list' };

/** What other parts of the system a fact may look at. */
export interface Among {
  moduleTypes?: readonly { id: string; pmax_W: number }[] | null | undefined;
}

/** What only a site can say of a part, so that the rest of a catalogue's may be judged. */
type OnSite = { onSite: Record<string, unknown> };

/** All that a kind of part is described by; every list is derived of it. */
export interface Kind<S extends ISchema<object>, Single extends boolean, Shelf extends OnSite | null> {
  /** One at most in a system (the bank), or a list. */
  single: Single;
  schema: S;
  /** "Inverter", on a screen. */
  word: string;
  /** "an inverter", in a sentence. */
  noun: string;
  /** What new ids begin with. */
  stem: string;
  /** How the walk-round asks whether there is one; null: it does not. */
  question: string | null;
  /** May be kept in a firm's catalogue. Null: never. */
  shelf: Shelf;
  /** Bought by the piece or the metre; the customer's own; or made of other parts and no goods by itself. */
  goods: 'bought' | 'own' | 'parts';
  /** A cable may end on it. */
  cabled: boolean;
  /** Its figures in a line. */
  fact(part: InferType<S>, among: Among, write: Write): string;
  line: LineRole;
}

/** Keeps the types of a kind's schema. */
export const kind = <S extends ObjectSchema<AnyObject>, Single extends boolean, Shelf extends OnSite | null>(
  description: Kind<S, Single, Shelf>,
): Kind<S, Single, Shelf> => description;
