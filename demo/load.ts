import { openDatabase } from '../server/src/store/database';
import { loadDemo } from './firm';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is missing: the address of the PostgreSQL database');
const database = await openDatabase(url);
await loadDemo(database);
await database.close();
