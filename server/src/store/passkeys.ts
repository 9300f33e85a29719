import type { PasskeysAnswer } from '@true-lantern/wire';
import type { Database } from './database';
import { shownOf } from './hash';

/** The passkeys of a person, the oldest first. */
export const passkeysOf = ({ models }: Database, userId: string) =>
  models.Passkey.findAll({ where: { userId }, order: [['createdAt', 'ASC']] });

/** A passkey by its credential's id, whosever it is; null where there is none. */
export const passkeyById = ({ models }: Database, id: string) => models.Passkey.findByPk(id);

/** Keeps a new passkey. @throws where its id is there already */
export const addPasskey = (
  { models }: Database,
  key: {
    id: string;
    firmId: string;
    userId: string;
    name: string;
    publicKey: Uint8Array;
    counter: number;
    transports: string[];
  },
) => models.Passkey.create({ ...key, publicKey: Buffer.from(key.publicKey) });

/** Notes its use, with the counter that it gave: a copy of the key would be behind. */
export const passkeyUsed = ({ models }: Database, id: string, counter: number) =>
  models.Passkey.update({ counter, usedAt: new Date() }, { where: { id } });

/** Takes every passkey of a person away. */
export const forgetPasskeys = ({ models }: Database, userId: string) => models.Passkey.destroy({ where: { userId } });

/** The passkeys of a person as that person sees them, without keys. */
export async function shownPasskeys(database: Database, userId: string): Promise<PasskeysAnswer> {
  const keys = await passkeysOf(database, userId);
  return {
    passkeys: keys.map(({ id, name, createdAt, usedAt }) => ({
      id: shownOf(id),
      name,
      createdAt: createdAt.toISOString(),
      usedAt: usedAt?.toISOString() ?? null,
    })),
  };
}

/** Takes one passkey away, by the name under which it was shown; somebody else's stays. */
export async function forgetPasskey(database: Database, userId: string, shown: string): Promise<void> {
  const found = (await passkeysOf(database, userId)).find(({ id }) => shownOf(id) === shown);
  await found?.destroy();
}
