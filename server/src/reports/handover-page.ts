import type { HandOver } from '@true-lantern/core';
import { qrOf } from './qr';

/** The page that a customer keeps: plain HTML that any phone shows, in one column there and in two on paper. */

/** What the firm wrote itself. */
export interface HandOverWords {
  call: string;
  lights: string;
  more: string;
}
/** Who hands over, and when. */
export interface HandOverHead {
  name: string;
  address: string;
  /** A data address of a PNG. */
  logo: string | null;
  day: string;
}

const ESCAPED: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
/** Words of people in a page: never markup. */
const html = (text: string): string => text.replace(/[&<>"']/g, (sign) => ESCAPED[sign] ?? sign);
/** The same with the line breaks that somebody typed. */
const lines = (text: string): string => html(text).replace(/\r?\n/g, '<br>');

const STYLE = `
body{margin:0;font:18px/1.45 Georgia,'DejaVu Serif',serif;color:#16130f;background:#fff}
main{max-width:920px;margin:0 auto;padding:20px}
h1{font-size:30px;line-height:1.15;margin:18px 0 4px}
h2{font:bold 19px/1.2 sans-serif;border-top:3px solid #16130f;padding-top:8px;margin:26px 0 8px}
ul,ol{padding-left:1.3em;margin:0}li{margin:0 0 7px}p{margin:0 0 8px}
.off{border:4px solid #16130f;padding:2px 16px 10px;margin-top:22px}.off h2{border:0;margin-top:10px}
.at{max-width:100%;max-height:240px;margin:4px 0 8px}
.by{font:15px/1.4 sans-serif}.by img{max-height:56px;max-width:200px}
.sheet{width:105mm;margin:0 auto;padding:5mm;box-sizing:border-box;font-size:12px}
.sheet h1{font-size:19px;margin:0}.sheet .qr{width:38mm;float:right;margin:0 0 2mm 3mm}.sheet li{margin:0 0 3px}.sheet .off{clear:both;padding:0 8px 6px;border-width:3px;margin-top:8px}.sheet h2{font-size:14px;margin:6px 0 4px}
@media print{body{font-size:11.5pt}main{padding:0}.two{columns:2;column-gap:10mm}section{break-inside:avoid}a{display:none}}
@media (min-width:760px){.two{columns:2;column-gap:44px}section{break-inside:avoid}}`;

const document = (title: string, body: string, extra = ''): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><meta name="robots" content="noindex,nofollow"><title>${html(title)}</title><style>${STYLE}${extra}</style></head><body>${body}</body></html>`;

const section = (title: string, body: string): string => (body ? `<section><h2>${title}</h2>${body}</section>` : '');
const list = (items: readonly string[], tag: 'ul' | 'ol' = 'ul'): string =>
  items.length > 0 ? `<${tag}>${items.map((item) => `<li>${html(item)}</li>`).join('')}</${tag}>` : '';

/** Each handle by name, with the photo that shows where it is. */
const switches = (names: readonly string[], photos: readonly (string | null)[]): string =>
  names.length > 0
    ? `<ul>${names
        .map((name, i) => {
          const photo = photos[i];
          return `<li>${html(name)}${photo?.startsWith('data:image/jpeg;base64,') ? `<br><img class="at" src="${html(photo)}" alt="${html(name)}">` : ''}</li>`;
        })
        .join('')}</ul>`
    : '';

const offBox = ({ off }: HandOver): string =>
  `<div class="off"><h2>In an emergency: switching everything off</h2>${list(off, 'ol')}</div>`;

/** What the customer has, may do, must not do; and how everything is switched off. */
export function handOverPage(
  { page, words, photos = [] }: { page: HandOver; words: HandOverWords; photos?: readonly (string | null)[] },
  head: HandOverHead,
  address: string,
): string {
  const jobs = page.jobs.map(({ what, every }) => `${what}: ${every}.`);
  const logo = head.logo?.startsWith('data:image/') ? `<img src="${html(head.logo)}" alt="">` : '';
  return document(
    page.name,
    `<main><div class="by">${logo}<p><b>${html(head.name)}</b>${head.address ? `<br>${lines(head.address)}` : ''}</p></div>
<h1>${html(page.name)}</h1><p class="by">Handed over on ${html(head.day)}.</p>
${offBox(page)}
<div class="two">
${section('What you have', list(page.have))}
${section('What may run at the same time', list(page.atOnce))}
${section('Without sun', page.withoutSun ? `<p>${html(page.withoutSun)}</p>` : '')}
${section('What not to do', list(page.never))}
${section('What you do yourself', list(jobs))}
${section('What the lights mean', words.lights ? `<p>${lines(words.lights)}</p>` : '')}
${section('Where the switches are', switches(page.isolators, photos))}
${section('Whom to call', words.call ? `<p>${lines(words.call)}</p>` : `<p>${html(head.name)}</p>`)}
${section('Also good to know', words.more ? `<p>${lines(words.more)}</p>` : '')}
</div>
<p class="by">The makers’ manuals come first. Work on the wiring is for a qualified person. <a href="${html(address)}/sheet">Sheet for the locker door</a></p></main>`,
  );
}

/** A6, for the inside of the locker door: how to switch off, whom to call, and the way to the page. */
export function lockerSheet(page: HandOver, words: HandOverWords, head: HandOverHead, address: string): string {
  return document(
    `${page.name}, locker sheet`,
    `<div class="sheet">${drawnQr(address)}<h1>${html(page.name)}</h1><p>${html(head.name)}, ${html(head.day)}</p>
<p>${words.call ? lines(words.call) : ''}</p>${offBox(page)}</div>`,
    '@page{size:A6;margin:0}',
  );
}

/** What is said where a page has ended, or never was. */
export const gonePage = (): string =>
  document(
    'This page has ended',
    '<main><h1>This page has ended</h1><p>The address is no longer valid. Ask the firm that gave it to you for another one.</p></main>',
  );

function drawnQr(address: string): string {
  const { size, path } = qrOf(address);
  return `<svg class="qr" viewBox="-2 -2 ${size + 4} ${size + 4}" role="img" aria-label="Address of this page"><path d="${path}" fill="#000"/></svg>`;
}
