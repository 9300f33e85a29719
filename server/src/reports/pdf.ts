import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import PdfPrinter from 'pdfmake';
import { paperOf, type PaperInput } from './papers';

/** Our own typeface, as it is shipped with the app: no font is fetched, and none is the reader's. */
const fonts = () => {
  const folder = dirname(
    createRequire(import.meta.url).resolve('@expo-google-fonts/atkinson-hyperlegible-next/package.json'),
  );
  const cut = (name: string) => join(folder, name, `AtkinsonHyperlegibleNext_${name}.ttf`);
  return {
    Hyperlegible: {
      normal: cut('400Regular'),
      bold: cut('700Bold'),
      italics: cut('400Regular'),
      bolditalics: cut('700Bold'),
    },
  };
};

/** A paper as PDF. For a thread of the pool: never on the request's own. */
export async function pdfOf(input: PaperInput): Promise<Uint8Array> {
  const document = new PdfPrinter(fonts()).createPdfKitDocument(paperOf(input));
  const pieces: Buffer[] = [];
  return new Promise((resolve, reject) => {
    document.on('data', (piece: Buffer) => pieces.push(piece));
    document.on('end', () => resolve(Buffer.concat(pieces)));
    document.on('error', reject);
    document.end();
  });
}
