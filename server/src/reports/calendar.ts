import type { Due } from '@true-lantern/core';
import ical, { ICalCalendarMethod } from 'ical-generator';

/** What one site has in a calendar. */
export interface CalendarSite {
  id: string;
  name: string;
  /** Counts up with every change: a calendar takes the newer of two. */
  revision: number;
  due: readonly Due[];
}

/**
 * What is due as whole days of a calendar (RFC 5545): no times, no prices, no person's name. An entry keeps its UID for good,
 * so that a job that moves is moved, not doubled.
 */
export function calendarOf(name: string, sites: readonly CalendarSite[], now = new Date()): string {
  const calendar = ical({
    name,
    prodId: { company: 'True Lantern', product: 'What is due', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
  });
  for (const site of sites)
    for (const { key, subject, what, why, due, licensed } of site.due) {
      const start = new Date(`${due}T00:00:00Z`);
      calendar.createEvent({
        id: `${site.id}-${key}-${subject.replace(/[^\w-]/g, '_')}@true-lantern`,
        start,
        end: new Date(start.getTime() + 24 * 3600 * 1000),
        allDay: true,
        timezone: 'UTC',
        stamp: now,
        sequence: site.revision,
        summary: `${site.name}: ${what}`,
        description: [why, ...(licensed ? ['Needs a licensed person.'] : [])].join('\n'),
      });
    }
  return calendar.toString();
}
