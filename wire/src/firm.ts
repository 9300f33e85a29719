import { schoolsSchema, type Schools, type StoredItem } from '@true-lantern/core/base';
import { object } from 'yup';
import type { FirmSheet } from './people';
import type { Role } from './session';

/** GET /firm. */
export interface Firm {
  name: string;
  /** What a new site of this firm begins with. */
  schools: Schools;
  sheet: FirmSheet;
  /** By name; no addresses. */
  people: { id: string; name: string; role: Role }[];
}

/** PUT /firm/schools. */
export const firmSchoolsSchema = object({ schools: schoolsSchema });

/** GET /shelf. PUT /shelf/:id takes a ShelfItem, by the core's own `checkShelfItem`. */
export interface ShelfAnswer {
  items: StoredItem[];
}
