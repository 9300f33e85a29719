import { object, string, type InferType } from 'yup';
import { keepable } from './text';

/** What a person may be in a firm: an owner everything, a technician all of the sites, a reader only looks. */
export const ROLES = ['owner', 'technician', 'reader'] as const;
export type Role = (typeof ROLES)[number];

/** A person as everybody of the firm may see them. */
export interface Person {
  id: string;
  name: string;
  email: string;
  role: Role;
  /** For work on AC; null or absent (a session kept from before): none. */
  licence?: string | null;
  firm: { id: string; name: string };
}

/** GET and POST /session. */
export interface Session {
  csrfToken: string;
  /** Null: nobody is signed in. */
  person: Person | null;
  /** Whether this server mails links. */
  mails?: true;
  /** Offered in one tap, only where the server was started as the demo. */
  demo?: SignIn;
  /** The server has no firm yet: whoever has the code that it printed can make one. */
  empty?: boolean;
}

/** POST /session. */
export const signInSchema = object({
  email: keepable(
    string()
      .typeError('is no text, expected an e-mail address')
      .required('is missing, expected an e-mail address')
      .max(200, 'is longer than 200 letters, expected a shorter one'),
  ),
  password: string().typeError('is no text, expected a password').required('is missing, expected a password').max(500),
});
export type SignIn = InferType<typeof signInSchema>;
