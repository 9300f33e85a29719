import type { PasskeysAnswer } from '@true-lantern/wire';
import type { Database } from './database';
import { shownOf } from './hash';

export const passkeysOf = ({ models }: Database, userId: string) =>
  models.Passkey.findAll({ where: { userId }, order: [['createdAt', 'ASC']] });

export const passkeyById = ({ models }: Database, id: string) => models.Passkey.findByPk(id);

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

export const passkeyUsed = ({ models }: Database, id: string, counter: number) =>
  models.Passkey.update({ counter, usedAt: new Date() }, { where: { id } });

export const forgetPasskeys = ({ models }: Database, userId: string) => models.Passkey.destroy({ where: { userId } });

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

export async function forgetPasskey(database: Database, userId: string, shown: string): Promise<void> {
  const found = (await passkeysOf(database, userId)).find(({ id }) => shownOf(id) === shown);
  await found?.destroy();
}
