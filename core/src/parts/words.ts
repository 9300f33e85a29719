import type { CustomSchemaMetadata, Schema } from 'yup';

/**
 * What a field is to a person, kept with its schema: how it is asked for, what it belongs to, what it is taken to be. The
 * editor, the walk-round, the shelf, the kit and a part's successor all read it from here.
 */

/** Which of a part's fields go where when the part is bought, kept on a shelf, set or replaced. */
export type Belongs =
  /** On its plate or sheet: another value means another part. */
  | 'plate'
  /** What time did to this one specimen: age, health. */
  | 'state'
  /** How it is fitted and used: a heater, a pre-charge, the hours it runs. */
  | 'fitting'
  /** How it is set. */
  | 'setting'
  /** Of the place where it stands; stays when the part goes. */
  | 'place'
  /** How it is joined to others; stays when the part goes. */
  | 'link';

/** What a field belongs to, and what follows from it when its part is replaced or put on the shelf. */
export const BELONGS: Readonly<
  Record<Belongs, { anotherPart: boolean; stays: boolean; onShelf: boolean; why: string }>
> = {
  plate: { anotherPart: true, stays: false, onShelf: true, why: 'another value means another part' },
  state: { anotherPart: true, stays: false, onShelf: false, why: 'a worn block and a new one differ' },
  fitting: { anotherPart: false, stays: false, onShelf: true, why: 'the new one has it only if it is fitted' },
  setting: { anotherPart: false, stays: true, onShelf: false, why: 'the new one is set as the old one was' },
  place: { anotherPart: false, stays: true, onShelf: false, why: 'the place does not change with the part' },
  link: { anotherPart: false, stays: true, onShelf: false, why: 'it connects where the old one did' },
};

/** How a value is entered where its schema does not say so itself. */
export type Entry =
  | 'number'
  | 'text'
  | 'choice'
  | 'choices'
  | 'flag'
  | 'size'
  | 'strings'
  | 'part'
  | 'parts'
  | 'months'
  | 'indices'
  | 'climate'
  | 'horizon';

/** How a field is called and asked for. */
export interface Words {
  label: string;
  /** Where the name's ending does not say it. */
  unit?: string;
  /** Asked when the part is added; the rest can wait. What the schema requires is always asked. */
  first?: boolean;
  entry?: Entry;
  /** Which kinds of part a reference may lead to; `cabled`: any on which a cable may end; `any`: whatever there is. */
  refersTo?: readonly string[] | 'cabled' | 'any';
  belongs?: Belongs;
  /** What a new part is taken to be until somebody reads it: marked as assumed, so that it shows. */
  typical?: unknown;
  /** A successor whose sheet does not say has it as the old one had. */
  passesOn?: boolean;
  hint?: string;
}

/** For all fields of an object: what they belong to, and how two objects of one shape are told apart. */
export interface GroupWords {
  belongs?: Belongs;
  suffix?: string;
  /** Never asked when the part is added, whatever its fields say. */
  later?: boolean;
}

declare module 'yup' {
  interface CustomSchemaMetadata {
    /** The schema of every member of an object whose names are the writer's. */
    record?: Schema<unknown>;
    words?: Words;
    group?: GroupWords;
    /** Not in the editor, with the reason. */
    hidden?: string;
    /** A conductor's size, entered as such. */
    size?: boolean;
  }
}

/** Any schema, whatever its flags: one that takes a note. */
export interface Notable {
  meta(note: CustomSchemaMetadata): unknown;
}
const noted = <S extends Notable>(schema: S, note: CustomSchemaMetadata): S => schema.meta(note) as S;

/** A field with its label; more where there is more to say. */
export const asked = <S extends Notable>(label: string, schema: S, more: Omit<Words, 'label'> = {}): S =>
  noted(schema, { words: { label, ...more } });
/** As `asked`, and asked for when the part is added. */
export const first = <S extends Notable>(label: string, schema: S, more: Omit<Words, 'label' | 'first'> = {}): S =>
  asked(label, schema, { ...more, first: true });
/** Notes words on a group of fields. */
export const group = <S extends Notable>(words: GroupWords, schema: S): S => noted(schema, { group: words });
/** A member that no editor shows, and why. */
export const hidden = <S extends Notable>(why: string, schema: S): S => noted(schema, { hidden: why });
