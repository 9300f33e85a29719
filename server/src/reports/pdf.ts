import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import PdfPrinter from 'pdfmake';
import { paperOf, type PaperInput } from './papers';
import './tags';

/** Our own typeface, as it is shipped with the app: no font is fetched, and none is the reader's. */
const fonts = () => {
  const { resolve } = createRequire(import.meta.url);
  const family = (name: string, file: string) => {
    const folder = dirname(resolve(`@expo-google-fonts/${name}/package.json`));
    const cut = (weight: string) => join(folder, weight, `${file}_${weight}.ttf`);
    const [normal, bold] = [cut('400Regular'), cut('700Bold')];
    return { normal, bold, italics: normal, bolditalics: bold };
  };
  return {
    Hyperlegible: family('atkinson-hyperlegible-next', 'AtkinsonHyperlegibleNext'),
    // For letters that it lacks: see `inScripts`.
    Hebrew: family('noto-sans-hebrew', 'NotoSansHebrew'),
    Arabic: family('noto-sans-arabic', 'NotoSansArabic'),
    Sans: family('noto-sans', 'NotoSans'),
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
