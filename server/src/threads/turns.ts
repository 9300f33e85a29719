/** So many at a time; the others wait for their turn, in order, a bounded number of them. */
export interface Turns {
  /** Resolves when it is one's turn, to what gives it up again. @returns null where too many wait */
  take(): Promise<() => void> | null;
}

/** @param atOnce how many hold a turn together @param most how many may wait */
export function openTurns(atOnce: number, most: number): Turns {
  const waiting: (() => void)[] = [];
  let held = 0;
  const give = () => {
    const next = waiting.shift();
    // A turn goes on to the next in line: none slips in between.
    if (next) next();
    else held--;
  };
  return {
    take() {
      if (held < atOnce) {
        held++;
        return Promise.resolve(once(give));
      }
      if (waiting.length >= most) return null;
      return new Promise((resolve) => waiting.push(() => resolve(once(give))));
    },
  };
}

/** Given up twice, a turn is given up once. */
function once(act: () => void): () => void {
  let done = false;
  return () => {
    if (done) return;
    done = true;
    act();
  };
}
