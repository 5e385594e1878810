import path from 'node:path';
import { root } from '../ensure.mjs';

/** What the tests of a run saw of the server's statements. */
export const seenFolder = path.join(root, '.local/sql-seen');
