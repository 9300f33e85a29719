import QRCode from 'qrcode';

/** A square a dark module, as one path; the package finds which they are (ISO/IEC 18004). */
export function qrOf(address: string): { size: number; path: string } {
  const { size, data } = QRCode.create(address).modules;
  const dark = [...data].flatMap((on, i) => (on ? [`M${i % size} ${Math.floor(i / size)}h1v1h-1z`] : []));
  return { size, path: dark.join('') };
}
