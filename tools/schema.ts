import { writeFileSync } from 'node:fs';
import { jsonSchema } from '@true-lantern/core/system/json-schema';

/** Writes docs/format/lantern.schema.json from the program's own schema. A test fails when it is out of date. */
writeFileSync('docs/format/lantern.schema.json', `${JSON.stringify(jsonSchema(), null, 2)}\n`);
