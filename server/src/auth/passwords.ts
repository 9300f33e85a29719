import { hash, verify } from '@node-rs/argon2';

/** argon2id; parameters after OWASP's password storage advice (19 MiB, 2 passes, 1 lane). */
const OWASP = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };
let cost = OWASP;

/** Hashes at the least cost there is from here on: for a rig that signs in by the hundred, never for people's passwords. */
export function hashLightly(): void {
  cost = { memoryCost: 8, timeCost: 1, parallelism: 1 };
}

/** A password as it is stored: argon2id with its salt and parameters. */
export const hashPassword = (password: string) => hash(password, cost);

/** Compares in the same time whether or not the person exists, so that names cannot be fished for. */
export async function passwordMatches(stored: string | undefined, password: string): Promise<boolean> {
  decoy ??= hashPassword('nobody has this password');
  const matches = await verify(stored ?? (await decoy), password);
  return stored !== undefined && matches;
}

let decoy: Promise<string> | undefined;
