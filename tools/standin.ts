// `npm run standin -- FILE --post URL --token T`: a system that speaks without being there, from its own model (docs/live.md).
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { MOST_LINES, modelOf, readSystemFile } from '@true-lantern/core';
import { standIn } from '@true-lantern/core/service/standin';

const { values: given, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    post: { type: 'string' },
    token: { type: 'string' },
    /** Seconds between two moments. */
    every: { type: 'string', default: '30' },
    /** Hours of history that are sent first. */
    back: { type: 'string', default: '24' },
    /** joint:RUN:MOHM */
    fault: { type: 'string' },
    /** Shares of values that are left out, come late, come twice. */
    gaps: { type: 'string', default: '0' },
    late: { type: 'string', default: '0' },
    double: { type: 'string', default: '0' },
    /** Share by which volts drift in a day. */
    drift: { type: 'string', default: '0' },
  },
});
const [path] = positionals;
if (!path || !given.post || !given.token) {
  process.stderr.write('expected: npm run standin -- FILE --post http://localhost:4280/api/live --token T\n');
  process.exit(2);
}
const [, run, mohm] = /^joint:([^:]+):([\d.]+)$/.exec(given.fault ?? '') ?? [];
const say = standIn(
  modelOf(readSystemFile(readFileSync(path, 'utf8')).file),
  run && mohm ? { run, mohm: Number(mohm) } : null,
);
const every_ms = 1000 * Number(given.every);
const start = Date.now();
const HISTORY_MS = 5 * 60_000;
const RECENT_MS = 10 * 60_000;
let at = start - 3_600_000 * Number(given.back);
const shares = {
  gaps: Number(given.gaps),
  late: Number(given.late),
  double: Number(given.double),
  drift: Number(given.drift),
};
let held: string[] = [];

/** The lines of one moment, with what was asked to go wrong. */
function linesAt(when: number): string[] {
  const drifted = 1 + (shares.drift * (when - start)) / 86_400_000;
  const lines = say(when).map(({ subject, quantity, value }) =>
    JSON.stringify({
      at: new Date(when).toISOString(),
      subject,
      quantity,
      value: Number((quantity.endsWith('_V') ? value * drifted : value).toPrecision(6)),
    }),
  );
  const late = held;
  held = [];
  return [
    ...late,
    ...lines.flatMap((line) => {
      if (Math.random() < shares.gaps) return [];
      if (Math.random() < shares.late) return (held.push(line), []);
      return Math.random() < shares.double ? [line, line] : [line];
    }),
  ];
}

async function send(lines: readonly string[]): Promise<void> {
  for (let from = 0; from < lines.length;) {
    const part = lines.slice(from, from + MOST_LINES);
    const reply = await fetch(given.post ?? '', {
      method: 'POST',
      headers: { authorization: `Bearer ${given.token}`, 'content-type': 'application/x-ndjson' },
      body: part.join('\n'),
    }).catch(() => null);
    if (reply?.ok) from += part.length;
    else if (reply && reply.status !== 429 && reply.status < 500) {
      process.stderr.write(`refused: ${reply.status} ${await reply.text()}\n`);
      process.exit(1);
    }
    // No answer, too many, or trouble there: nothing is lost, it is sent again.
    else await new Promise((resolve) => setTimeout(resolve, 1000 * Number(reply?.headers.get('retry-after') ?? 5)));
  }
}

for (;;) {
  const lines: string[] = [];
  const until = Date.now();
  while (at <= until && lines.length < MOST_LINES - 20) {
    lines.push(...linesAt(at));
    // History comes in steps of five minutes: a day of it goes within the minute's lines.
    at += at < until - RECENT_MS ? Math.max(every_ms, HISTORY_MS) : every_ms;
  }
  await send(lines);
  // Behind the clock it hurries on; with it, it waits.
  if (at > Date.now()) await new Promise((resolve) => setTimeout(resolve, every_ms));
}
