import type { OfferTerms } from '@true-lantern/core';
import { mixed, number, object, string, type InferType } from 'yup';
import { ROLES, type Role } from './session';
import { oneLine, text } from './text';

const required = (what: string, most: number) => text(what, most).required(`is missing, expected ${what}`);
const email = () =>
  required('an e-mail address', 200).matches(/^[^\s@]+@[^\s@]+$/, 'is no e-mail address, expected one');
/** Long beats odd: no rules about signs, a bound against nonsense at both ends. */
export const SHORTEST_PASSWORD = 10;
const password = () =>
  string()
    .typeError('is no text, expected a password')
    .required('is missing, expected a password')
    .min(SHORTEST_PASSWORD, `is too short, expected ${SHORTEST_PASSWORD} letters or more`)
    .max(500, 'is too long, expected 500 letters at most');
const role = () =>
  string<Role>()
    .oneOf([...ROLES], `is no role, expected one of ${ROLES.join(', ')}`)
    .required('is missing, expected a role');

/** POST /firm, on an empty server alone: with the code that the server printed. */
export const makeFirmSchema = object({
  code: required('the code that the server printed', 100),
  firm: oneLine(required('the name of the firm', 200)),
  name: oneLine(required('your name', 200)),
  email: email(),
  password: password(),
});
export type MakeFirm = InferType<typeof makeFirmSchema>;

/** POST /invitations. */
export const inviteSchema = object({
  role: role(),
  /** To whom the link is mailed, where this server mails. */
  email: string().email('is no e-mail address').max(200, 'is too long, expected 200 letters at most').optional(),
});
/** An invitation as the owner sees it: for whom, and until when. */
export interface Invitation {
  id: string;
  role: Role;
  /** Whose password it is for; null where somebody is to join. */
  person: string | null;
  expiresAt: string;
}
/** The invitations that are still good. */
export interface InvitationsAnswer {
  invitations: Invitation[];
}
/** The link's own part, told once: what is stored is its hash. */
export interface InvitedAnswer extends Invitation {
  token: string;
  address: string;
  /** To whom it was mailed; null where it was not: nothing is mailed here, nobody was named, or the mail server did not take it. */
  mailed: string | null;
  /** The address as a QR code to point a phone at: modules a side, and its dark ones as an SVG path. */
  qr: { size: number; path: string };
}

/** GET /join/:token: whose door it is. */
export interface JoinAnswer {
  firm: string;
  role: Role;
  /** Where it is for another password: whose. */
  person: { name: string; email: string } | null;
}
/** POST /join/:token. With a link for a password, name and e-mail stay as they are. */
export const joinSchema = object({ name: oneLine(required('your name', 200)), email: email(), password: password() });
/** A new password alone, by a link for somebody who is known. */
export const passwordOnlySchema = object({ password: password() });

/** PUT /password. */
export const passwordSchema = object({
  old: string().required('is missing, expected the password until now').max(500),
  password: password(),
});

/** PUT /people/:id/licence: as the authority wrote it; empty: none. */
export const licenceSchema = object({
  licence: text('a licence', 100).defined('is missing, expected a licence').nonNullable(),
});

/** PUT /people/:id/role. */
export const roleSchema = object({ role: role() });

/** GET /people, for owners. */
export interface PeopleAnswer {
  people: { id: string; name: string; email: string; role: Role; licence: string | null }[];
}

/** GET /sessions: where one is signed in. */
export interface SessionsAnswer {
  sessions: { id: string; since: string | null; agent: string; here: boolean }[];
}

/** GET /audit, for owners, newest first. */
export interface AuditAnswer {
  entries: { person: string | null; what: string; about: string | null; at: string }[];
}

/** PUT /firm/sheet: what the firm's papers show. */
export const sheetSchema = object({
  name: oneLine(required('the name of the firm', 200)).optional(),
  /** Who sees prices: readers, technicians and owners; the last two; owners alone. */
  prices: string().oneOf(['everybody', 'no-readers', 'owners'], 'is none of everybody, no-readers, owners'),
  address: text('an address', 500),
  registration: text('registration lines', 500),
  currency: text('a currency', 10),
  tax_pct: number()
    .typeError('is no number, expected percent')
    .min(0, 'is below 0')
    .max(100, 'is above 100')
    .nullable(),
  payment: text('words about payment', 1000),
  paper: string().oneOf(['A4', 'letter'], 'is no paper size, expected A4 or letter'),
  validity_d: number()
    .typeError('is no number, expected days')
    .integer('is no whole number, expected days')
    .min(1, 'is below 1')
    .max(1000, 'is above 1000')
    .nullable(),
}).noUnknown('has a member that is not known, expected those of the firm sheet');
/** PUT /firm/logo: a JPEG, PNG or WebP, drawn anew; DELETE takes it off. */
export type FirmSheet = Omit<InferType<typeof sheetSchema>, 'name'> & {
  /** The logo as a data address (PNG). */
  logo?: string | null;
};

/** What of the firm's sheet stands on an offer. */
export const termsOf = (firm: string, { tax_pct, validity_d, payment }: FirmSheet): OfferTerms => ({
  firm,
  tax_pct,
  validity_d,
  payment,
});

/** Whether a person of this role sees what things cost. */
export const seesPrices = (role: Role, { prices = 'everybody' }: FirmSheet): boolean =>
  role === 'owner' || prices === 'everybody' || (prices === 'no-readers' && role === 'technician');

/** Whether a firm hides prices from some of its people: an accepted offer, kept in the site with its prices, would show them. */
export const hidesPrices = ({ prices = 'everybody' }: FirmSheet): boolean => prices !== 'everybody';
/** What is said where an offer cannot be accepted in the application for that. */
export const PRICES_HIDDEN =
  'The accepted offer is kept with its prices, where everybody in the firm can see them. Your firm hides prices from some: let the customer sign the paper instead.';

/** POST /passkeys/options and /session/passkey/options: what the browser is asked, and the server's own note of it. */
export interface PasskeyOptions<Options> {
  options: Options;
  state: string;
}
const answer = () => mixed<object>().required('is missing, expected what the browser answered');
const state = () => string().required('is missing, expected the state that came with the options').max(2000);
/** POST /passkeys. */
export const passkeyAddSchema = object({ name: required('a name for the key', 100), state: state(), answer: answer() });
/** POST /session/passkey. */
export const passkeyEnterSchema = object({ state: state(), answer: answer() });
/** GET /passkeys. */
export interface PasskeysAnswer {
  passkeys: { id: string; name: string; createdAt: string; usedAt: string | null }[];
}
