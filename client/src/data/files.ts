/** Files in and out of the browser. */

/** Asks for one text file; null when the person thinks better of it. A file too large comes back cut, so that the reader refuses it. */
export async function chooseTextFile(
  accept: string,
  mostBytes: number,
): Promise<{ name: string; text: string } | null> {
  const file = await chooseFile(accept);
  if (!file) return null;
  return { name: file.name, text: await file.slice(0, mostBytes + 1).text() };
}

/** The largest weather file that is read: a year of hours takes about 1.6 MB. */
const MOST_WEATHER_BYTES = 8e6;

/** Asks for a weather file (EPW). */
export const chooseWeatherFile = () => chooseTextFile('.epw', MOST_WEATHER_BYTES);

/** Asks for one file; with `camera` a phone opens its camera at once. */
export const chooseFile = async (accept: string, camera = false): Promise<File | null> =>
  (await chooseFiles(accept, { camera }))[0] ?? null;

/** Files that a person picks; none where they change their mind. */
export function chooseFiles(accept: string, { camera = false, many = false } = {}): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.multiple = many;
    if (camera) input.capture = 'environment';
    input.style.display = 'none';
    const done = (value: File[]) => {
      input.remove();
      resolve(value);
    };
    input.addEventListener('cancel', () => done([]));
    input.addEventListener('change', () => done([...(input.files ?? [])]));
    document.body.append(input);
    input.click();
  });
}

/** Hands a text to the browser as a file to keep. */
export const saveTextFile = (name: string, text: string, type = 'application/json') =>
  saveFile(name, new Blob([text], { type }));

/** A name of letters and digits for a file made from a title. */
export const fileName = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || 'site';

/** Hands bytes to the browser as a file to keep. */
export function saveFile(name: string, blob: Blob): void {
  const address = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
