import { sentenceOf } from '../rules/check';
import { RULE_BOOK } from '../rules/headline';
import type { Comparison } from './compare';
import type { Model } from '../system/model';
import type { Proposal } from '../system/schema';
import type { PartsList } from './parts-list';

/**
 * An offer as the customer accepted it, kept whole like a record: what is changed in the proposal, on the shelf or in the
 * rules afterwards changes nothing in it. Its number is `numberOf(offer)`.
 */
export interface Offer {
  format: 'true-lantern-offer';
  version: 1;
  rules: number;
  /** When it was accepted, ISO 8601. */
  at: string;
  firm: string;
  site: string;
  title: string;
  /** The last day on which it could be accepted, YYYY-MM-DD; null where the firm sets none. */
  validUntil: string | null;
  fixes: string[];
  stillOver: string[];
  unknown: string[];
  lines: {
    what: string;
    quantity: number;
    unit: string;
    label: string;
    detail: string | null;
    price: number | null;
    currency: string | null;
  }[];
  /** By currency: the sum of what has a price, the tax on it and both together. */
  totals: Record<string, { net: number; tax: number; gross: number }>;
  tax_pct: number | null;
  /** Lines to buy that have no price: not in the totals. */
  unpriced: number;
  payment: string | null;
}

/** What the firm's sheet says of an offer. */
export interface OfferTerms {
  firm: string;
  tax_pct?: number | null | undefined;
  validity_d?: number | null | undefined;
  payment?: string | null | undefined;
}

/** Sums with their tax, each rounded to the cent once. */
export function totalsWithTax(
  totals: Readonly<Record<string, number>>,
  tax_pct: number | null | undefined,
): Record<string, { net: number; tax: number; gross: number }> {
  return Object.fromEntries(
    Object.entries(totals).map(([currency, sum]) => {
      const net = cents(sum);
      const tax = cents((net * (tax_pct ?? 0)) / 100);
      return [currency, { net, tax, gross: cents(net + tax) }];
    }),
  );
}
const cents = (value: number) => Math.round(100 * value) / 100;

const DAY_MS = 24 * 3_600_000;

/** The offer as it stands at this moment, ready to be accepted. @param at ISO 8601 */
export function makeOffer(
  before: Model,
  after: Model,
  {
    proposal,
    result,
    partsList,
    terms,
    at,
  }: { proposal: Proposal; result: Comparison; partsList: PartsList; terms: OfferTerms; at: string },
): Offer {
  const say = (model: Model, findings: Comparison['cured']) => findings.map((finding) => sentenceOf(model, finding));
  return {
    format: 'true-lantern-offer',
    version: 1,
    rules: RULE_BOOK,
    at,
    firm: terms.firm,
    site: before.site.name,
    title: proposal.title,
    validUntil: terms.validity_d
      ? new Date(Date.parse(at) + terms.validity_d * DAY_MS).toISOString().slice(0, 10)
      : null,
    fixes: say(before, result.cured),
    stillOver: say(after, [...result.broken, ...result.worse, ...result.remaining]),
    unknown: say(before, result.hidden),
    lines: partsList.lines.map(({ what, quantity, unit, label, detail, price, currency }) => ({
      what,
      quantity,
      unit,
      label,
      detail,
      price,
      currency,
    })),
    totals: totalsWithTax(partsList.totals, terms.tax_pct),
    tax_pct: terms.tax_pct ?? null,
    unpriced: partsList.unpriced,
    payment: terms.payment || null,
  };
}
