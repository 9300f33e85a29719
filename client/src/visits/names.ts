import { pathName } from '../data/reading';
import type { OpenSite } from '../data/site';

export { subjectName as nameOf } from '@true-lantern/core';

/** What is not known, without the part's name before it. */
export const missingText = (site: OpenSite, path: string) => pathName(site, path).replace(/^.*: /, '');
