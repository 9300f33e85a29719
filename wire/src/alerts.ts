import { boolean, number, object, string } from 'yup';

/** What a person wants to be told of by mail: values out of range, and the day's list of sites at risk; not in quiet hours. */
export interface Alerts {
  mail: boolean;
  digest: boolean;
  /** Hours of the day, 0 to 23, in `zone`; the same twice: never quiet. */
  quietFrom: number;
  quietTo: number;
  /** IANA: "Europe/Lisbon". */
  zone: string;
}
/** GET /alerts. */
export interface AlertsAnswer {
  alerts: Alerts;
  /** Whether this server mails at all. */
  mails: boolean;
}

function isZone(zone: string | undefined): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return Boolean(zone);
  } catch {
    return false;
  }
}
const hour = () => number().integer('is no hour').min(0, 'is no hour').max(23, 'is no hour').required('is missing');
/** PUT /alerts. */
export const alertsSchema = object({
  mail: boolean().required('is missing'),
  digest: boolean().required('is missing'),
  quietFrom: hour(),
  quietTo: hour(),
  zone: string().max(64, 'is too long').required('is missing').test('zone', 'is no time zone', isZone),
});
