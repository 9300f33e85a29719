/**
 * Which of the faults that `npm run mutate` has put into a tree is on, for the code in it: `__fault(n)`. With LANTERN_SEEN
 * it also writes down, once each, which file of tests came past which fault.
 */
const { appendFileSync } = require('node:fs');

const on = Number(process.env.LANTERN_FAULT ?? 0);
const log = process.env.LANTERN_SEEN;
const seen = new Set();

module.exports = (n) => {
  if (log && !seen.has(n)) {
    seen.add(n);
    appendFileSync(log, `${n} ${globalThis.expect?.getState().testPath ?? 'all'}\n`);
  }
  return n === on;
};
