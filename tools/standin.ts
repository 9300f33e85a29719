// `npm run standin -- FILE [--post URL --token T] [--mqtt URL --token T] [--modbus PORT]`: a system that speaks without being
// there, from its own model (docs/live.md).
import { createServer } from 'node:net';
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { mapText, MOST_LINES, modelOf, readSystemFile, type Mapped } from '@true-lantern/core';
import { standIn } from '@true-lantern/core/service/standin';
import { ModbusTCPServer } from 'jsmodbus';
import mqtt from 'mqtt';

const { values: given, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    post: { type: 'string' },
    token: { type: 'string' },
    /** A broker: lantern/TOKEN/SUBJECT/QUANTITY. */
    mqtt: { type: 'string' },
    /** A port on which it answers by Modbus TCP, two registers (f32) a quantity. */
    modbus: { type: 'string' },
    /** How much faster than the clock its day goes. */
    speed: { type: 'string', default: '1' },
    /** Seconds between two moments. */
    every: { type: 'string', default: '30' },
    /** Hours of history that are sent first. */
    back: { type: 'string', default: '24' },
    /** joint:RUN:MOHM */
    fault: { type: 'string' },
    /** An address that answers {"on": true} while the fault is wanted. */
    switch: { type: 'string' },
    faults: { type: 'string' },
    /** Shares of values that are left out, come late, come twice. */
    gaps: { type: 'string', default: '0' },
    late: { type: 'string', default: '0' },
    double: { type: 'string', default: '0' },
    /** Share by which volts drift in a day. */
    drift: { type: 'string', default: '0' },
  },
});
const [path] = positionals;
if (!path || !(given.post || given.mqtt || given.modbus) || ((given.post || given.mqtt) && !given.token)) {
  process.stderr.write(
    'expected: npm run standin -- FILE with --post http://localhost:4280/api/live --token T, --mqtt mqtt://localhost --token T, or --modbus 1502\n',
  );
  process.exit(2);
}
const [, run, mohm] = /^joint:([^:]+):([\d.]+)$/.exec(given.fault ?? given.faults ?? '') ?? [];
const model = modelOf(readSystemFile(readFileSync(path, 'utf8')).file);
const faulty = standIn(model, run && mohm ? { run, mohm: Number(mohm) } : null);
const sound = standIn(model, null);
/** Where a switch is asked for (`--switch URL`), the fault is there only while it is on. */
let broken = !given.switch;
const say: typeof sound = (when) => (broken ? faulty : sound)(when);
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

/** The moment of its own day: with `--speed` it goes ahead of the clock. */
const itsTime = (when: number) => start + (when - start) * Number(given.speed);

/** The lines of one moment, with what was asked to go wrong. */
function linesAt(when: number): string[] {
  const drifted = 1 + (shares.drift * (when - start)) / 86_400_000;
  const lines = say(itsTime(when)).map(({ subject, quantity, value }) =>
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

const broker = given.mqtt ? mqtt.connect(given.mqtt) : null;

/** By the broker, each with its moment; acknowledged before the next ones go. */
async function publish(lines: readonly string[]): Promise<void> {
  await Promise.all(
    lines.map(async (line) => {
      const { at: moment, subject, quantity, value } = JSON.parse(line) as Record<string, string | number>;
      await broker?.publishAsync(
        `lantern/${given.token}/${subject}/${quantity}`,
        JSON.stringify({ at: moment, value }),
        { qos: 1 },
      );
    }),
  );
}

/** Answers by Modbus with what it would say at the moment it is asked; prints the map that reads it. */
function answerModbus(port: number): void {
  const spoken = say(itsTime(Date.now()));
  const map = spoken.map(({ subject, quantity }, i): Mapped => ({
    register: 2 * i,
    function: 3,
    type: 'f32',
    order: 'big',
    scale: 1,
    offset: 0,
    subject,
    quantity,
  }));
  const holding = Buffer.alloc(4 * map.length);
  const fill = () => {
    const now = new Map(say(itsTime(Date.now())).map((one) => [`${one.subject} ${one.quantity}`, one.value]));
    // What it does not say at this moment is no number: it is dropped, not taken for nought.
    map.forEach(({ subject, quantity }, i) =>
      holding.writeFloatBE(now.get(`${subject} ${quantity}`) ?? Number.NaN, 4 * i),
    );
  };
  const listener = createServer();
  const device = new ModbusTCPServer(listener, { holding });
  device.on('preReadHoldingRegisters', fill);
  listener.listen(port, '127.0.0.1', () => process.stdout.write(`${mapText(map)}\n`));
}
if (given.modbus) answerModbus(Number(given.modbus));

async function send(lines: readonly string[]): Promise<void> {
  if (broker) await publish(lines);
  if (!given.post) return;

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
  if (given.switch) {
    const answer = await fetch(given.switch).catch(() => null);
    broken = answer?.ok ? ((await answer.json()) as { on: boolean }).on : broken;
  }
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
