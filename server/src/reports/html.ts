/** What every page for a customer has in common: plain HTML that any phone shows, in one column there and in two on paper. */

const ESCAPED: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
/** Words of people in a page: never markup. */
export const html = (text: string): string => text.replace(/[&<>"']/g, (sign) => ESCAPED[sign] ?? sign);
/** The same with the line breaks that somebody typed. */
export const lines = (text: string): string => html(text).replace(/\r?\n/g, '<br>');

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

/** "2 December 2026". */
export const dayText = (day: Date | string): string =>
  new Date(day).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' });

/** A whole page. */
export const document = (title: string, body: string, extra = ''): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><meta name="robots" content="noindex,nofollow"><title>${html(title)}</title><style>${STYLE}${extra}</style></head><body>${body}</body></html>`;

/** A part of a page under its heading; nothing where there is nothing to say. */
export const section = (title: string, body: string): string =>
  body ? `<section><h2>${title}</h2>${body}</section>` : '';
/** A list of plain words. */
export const list = (items: readonly string[], tag: 'ul' | 'ol' = 'ul'): string =>
  items.length > 0 ? `<${tag}>${items.map((item) => `<li>${html(item)}</li>`).join('')}</${tag}>` : '';

/** The firm in whose name a page is, and the day it is of. */
export interface PageHead {
  name: string;
  address: string;
  /** A data address of a PNG. */
  logo: string | null;
  day: string;
}

/** Who the page is from. */
export function headOf({ name, address, logo }: PageHead): string {
  const picture = logo?.startsWith('data:image/') ? `<img src="${html(logo)}" alt="">` : '';
  return `<div class="by">${picture}<p><b>${html(name)}</b>${address ? `<br>${lines(address)}` : ''}</p></div>`;
}

/** What is said where a page has ended, or never was. */
export const gonePage = (): string =>
  document(
    'This page has ended',
    '<main><h1>This page has ended</h1><p>The address is no longer valid. Ask the firm that gave it to you for another one.</p></main>',
  );
