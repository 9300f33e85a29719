import type { HandOver } from '@true-lantern/core';
import { document, headOf, html, lines, list, section, type PageHead } from './html';
import { qrOf } from './qr';

/** The page that a customer keeps. */

/** What the firm wrote itself. */
export interface HandOverWords {
  call: string;
  lights: string;
  more: string;
}
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
  head: PageHead,
  address: string,
): string {
  const jobs = page.jobs.map(({ what, every }) => `${what}: ${every}.`);
  return document(
    page.name,
    `<main>${headOf(head)}
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
export function lockerSheet(page: HandOver, words: HandOverWords, head: PageHead, address: string): string {
  return document(
    `${page.name}, locker sheet`,
    `<div class="sheet">${drawnQr(address)}<h1>${html(page.name)}</h1><p>${html(head.name)}, ${html(head.day)}</p>
<p>${words.call ? lines(words.call) : ''}</p>${offBox(page)}</div>`,
    '@page{size:A6;margin:0}',
  );
}

function drawnQr(address: string): string {
  const { size, path } = qrOf(address);
  return `<svg class="qr" viewBox="-2 -2 ${size + 4} ${size + 4}" role="img" aria-label="Address of this page"><path d="${path}" fill="#000"/></svg>`;
}
