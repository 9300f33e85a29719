import { partTitle, type Model } from '@true-lantern/core';
import { pathName } from '../data/reading';
import type { OpenSite } from '../data/site';

/** What a test is about, as a heading. */
export const nameOf = ({ system }: Pick<Model, 'system'>, subject: string) =>
  subject === 'site' ? 'The whole site' : (partTitle(system, subject) ?? 'A part that is gone');

export const missingText = (site: OpenSite, path: string) => pathName(site, path).replace(/^.*: /, '');
