import type { Offer } from '@true-lantern/core';
import { dayText, document, headOf, html, lines, list, section, type PageHead } from './html';

/** The page on which a customer reads an offer and signs it. Reading needs no script; drawing a name does. */

/** How far an offer is. */
export type OfferState =
  | { is: 'open'; trouble?: string }
  | { is: 'accepted'; name: string; at: string; number: string }
  /** Over its day, or changed since the link was made. */
  | { is: 'over'; why: string };

/** The frame that a name is drawn in: the app's own. */
const [WIDE, HIGH] = [320, 130];

const STYLE = `
table{border-collapse:collapse;width:100%;font:15px/1.35 sans-serif}td,th{text-align:left;padding:5px 6px;border-bottom:1px solid #999;vertical-align:top}.n{text-align:right;white-space:nowrap;font-variant-numeric:tabular-nums}tr.sum td{font-weight:bold;border-bottom:3px solid #16130f}
form{border:4px solid #16130f;padding:2px 16px 16px;margin-top:26px}label{display:block;font:bold 16px/1.3 sans-serif;margin:12px 0 4px}
input[type=text]{font:18px sans-serif;width:100%;box-sizing:border-box;padding:11px;border:2px solid #16130f}
form h2{border:0;margin-top:8px}
canvas{width:100%;box-sizing:border-box;border:2px solid #16130f;touch-action:none;display:block;background:#fff}
button{font:bold 18px sans-serif;padding:13px 20px;margin:14px 10px 0 0;border:2px solid #16130f;background:#fff}button[type=submit]{background:#16130f;color:#fff}
.note{border-left:6px solid #16130f;padding:4px 12px;margin:14px 0}.note.no{border-color:#9f2b12}`;

/** A name drawn by finger becomes the same path as in the app: M and L with whole numbers in the frame. */
const SCRIPT = `(function(){var c=document.querySelector('canvas'),f=document.querySelector('[name=strokes]'),p=c.getContext('2d'),on=false;p.lineWidth=2.5;p.lineCap='round';p.lineJoin='round';
function at(e){var r=c.getBoundingClientRect();return[Math.round((e.clientX-r.left)*${WIDE}/r.width),Math.round((e.clientY-r.top)*${HIGH}/r.height)]}
c.addEventListener('pointerdown',function(e){on=true;c.setPointerCapture(e.pointerId);var a=at(e);f.value+='M'+a[0]+' '+a[1];p.beginPath();p.moveTo(a[0],a[1])});
c.addEventListener('pointermove',function(e){if(!on)return;var a=at(e);f.value+='L'+a[0]+' '+a[1];p.lineTo(a[0],a[1]);p.stroke()});
c.addEventListener('pointerup',function(){on=false});
document.querySelector('#clear').addEventListener('click',function(){f.value='';p.clearRect(0,0,${WIDE},${HIGH})});})();`;

const money = (value: number, currency: string | null): string =>
  `${value.toLocaleString('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 })}${currency ? ` ${currency}` : ''}`;
const WHAT: Readonly<Record<Offer['lines'][number]['what'], string>> = { buy: 'New', set: 'Set', out: 'Removed' };

/**
 * @param nonce under which the one script of the page may run
 */
export function offerPage(offer: Offer, head: PageHead, state: OfferState, nonce: string): string {
  const validity = offer.validUntil ? ` Valid until ${html(dayText(offer.validUntil))}.` : '';
  return document(
    `${offer.title}, ${offer.site}`,
    `<main>${headOf(head)}
<h1>${html(offer.title)}</h1><p class="by">Offer for ${html(offer.site)}, ${html(head.day)}.${validity}</p>
${stateOf(state)}
${section('What it fixes', list(offer.fixes))}
${section('What stays over its limit', list(offer.stillOver))}
${section('What can no longer be judged', list(offer.unknown))}
${section('Parts', partsTable(offer))}
${section('Payment', offer.payment ? `<p>${lines(offer.payment)}</p>` : '')}
${state.is === 'open' ? form(nonce) : ''}
</main>`,
    STYLE,
  );
}

function stateOf(state: OfferState): string {
  if (state.is === 'accepted')
    return `<div class="note" role="status"><p><b>Accepted by ${html(state.name)} on ${html(dayText(state.at))}.</b></p><p>The offer is kept as it stands here. Number ${html(state.number.slice(0, 16))}</p></div>`;
  if (state.is === 'over') return `<div class="note no" role="status"><p><b>${html(state.why)}</b></p></div>`;
  return state.trouble ? `<div class="note no" role="alert"><p><b>${html(state.trouble)}</b></p></div>` : '';
}

function partsTable({ lines: parts, totals, tax_pct, unpriced }: Offer): string {
  const rows = parts.map(
    ({ what, quantity, unit, label, detail, price, currency }) =>
      `<tr><td>${html(WHAT[what] ?? what)}</td><td class="n">${html(`${quantity}${unit ? ` ${unit}` : ''}`)}</td><td>${html(label)}${detail ? `<br>${html(detail)}` : ''}</td><td class="n">${price === null ? '' : html(money(price, currency))}</td></tr>`,
  );
  const sums = Object.entries(totals).flatMap(([currency, { net, tax, gross }]) => [
    ...(tax > 0
      ? [sumRow('Parts', net, currency, ''), sumRow(`Tax${tax_pct ? `, ${tax_pct} %` : ''}`, tax, currency, '')]
      : []),
    sumRow('Total', gross, currency, ' class="sum"'),
  ]);
  if (rows.length === 0) return '<p>Nothing to buy.</p>';
  const note = unpriced > 0 ? `<p>${unpriced} ${unpriced === 1 ? 'part has' : 'parts have'} no price yet.</p>` : '';
  return `<table><tbody>${rows.join('')}${sums.join('')}</tbody></table>${note}`;
}
const sumRow = (label: string, value: number, currency: string, look: string): string =>
  `<tr${look}><td colspan="3">${html(label)}</td><td class="n">${html(money(value, currency))}</td></tr>`;

const form = (nonce: string): string =>
  `<form method="post"><h2>Accept this offer</h2><p>Everything above is kept with your signature. Later changes do not alter it.</p>
<label for="name">Your name</label><input type="text" id="name" name="name" required maxlength="120" autocomplete="name">
<label for="drawn">Your signature</label><canvas id="drawn" width="${WIDE}" height="${HIGH}" role="img" aria-label="Draw your signature here"></canvas>
<noscript><p>Signing on this page needs JavaScript. You can print the page, sign it and send it back.</p></noscript>
<input type="hidden" name="strokes" value=""><button type="submit">Accept the offer</button><button type="button" id="clear">Clear signature</button></form>
<script nonce="${html(nonce)}">${SCRIPT}</script>`;
