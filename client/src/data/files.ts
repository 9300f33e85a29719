/** Files in and out of the browser. */

/** Asks for one text file; null when the person thinks better of it. A file too large comes back cut, so that the reader refuses it. */
export function chooseTextFile(accept: string, mostBytes: number): Promise<{ name: string; text: string } | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.style.display = 'none';
    const done = (value: { name: string; text: string } | null) => {
      input.remove();
      resolve(value);
    };
    input.addEventListener('cancel', () => done(null));
    input.addEventListener('change', () => {
      const file = input.files?.[0];
      if (!file) return done(null);
      void file
        .slice(0, mostBytes + 1)
        .text()
        .then((text) => done({ name: file.name, text }));
    });
    document.body.append(input);
    input.click();
  });
}

export function saveTextFile(name: string, text: string): void {
  const address = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
