import type { Schools } from '@true-lantern/core';
import type { Firm } from '@true-lantern/wire';
import type { Database } from './database';
import { peopleOf } from './people';

/** The firm with its people; null where it is gone. */
export async function firmOf(database: Database, firmId: string): Promise<Firm | null> {
  const firm = await database.models.Firm.findByPk(firmId);
  return firm && { name: firm.name, schools: firm.schools, people: await peopleOf(database, firmId) };
}

/** The schools that its new sites begin with. */
export const setFirmSchools = ({ models }: Database, firmId: string, schools: Schools) =>
  models.Firm.update({ schools }, { where: { id: firmId } });
