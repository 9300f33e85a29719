import { randomUUID } from 'node:crypto';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { readSystemFile } from '@true-lantern/core';
import { readFileSync } from 'node:fs';

/**
 * A crowd at one server: technicians who push without a pause, beside imports as large as the server takes. The people
 * are a process of their own, so that the server's event loop is measured alone; on two cores they still share them.
 */

/** A row of the bench. */
export interface Measured {
  what: string;
  ms: number;
  target: string;
}

/** What the people need. */
interface Crowd {
  /** Of the API. */
  address: string;
  cookie: string;
  token: string;
  siteId: string;
  /** A controller of that site. */
  partId: string;
  seconds: number;
}
/** What it measured, ms each. */
interface Felt {
  pushes: number[];
  imports: number[];
}

const TECHNICIANS = 50;
/** Just below what one import may have. */
const IMPORT_BYTES = 9.5e6;
const p99 = (times: number[]) => [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.99)] ?? NaN;

/** Pushes of 50 technicians beside imports: p99 of the pushes, and of the delay of the server's event loop. */
export async function benchCrowd(crowd: Omit<Crowd, 'seconds'>, seconds = 60): Promise<Measured[]> {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  const felt = await new Promise<Felt>((resolve, reject) => {
    const apart = fork(fileURLToPath(import.meta.url), [JSON.stringify({ ...crowd, seconds })], {
      execArgv: ['--import', 'tsx'],
    });
    apart.once('message', (message) => resolve(message as Felt));
    apart.once('error', reject);
    apart.once('exit', (code) => reject(new Error(`the crowd ended with ${code}`)));
    // Until they have started there is no crowd.
    setTimeout(() => delay.enable(), 3_000);
  });
  delay.disable();
  const loop_ms = Math.max(0, delay.percentile(99) / 1e6 - 5);
  return [
    {
      what: `${TECHNICIANS} technicians for ${seconds} s beside ${felt.imports.length} imports of 9.5 MB: ${felt.pushes.length} pushes, 99 in 100 within`,
      ms: p99(felt.pushes),
      target: '500 ms on two quiet cores',
    },
    { what: '   the server’s event loop late meanwhile, 99 in 100 within', ms: loop_ms, target: '20 ms' },
    { what: '   the slowest of those imports', ms: Math.max(...felt.imports), target: '' },
  ];
}

/** The people: each pushes, waits for the answer, and pushes again. */
async function people({ address, cookie, token, siteId, partId, seconds }: Crowd): Promise<Felt> {
  const until = performance.now() + seconds * 1000;
  const headers = { 'content-type': 'application/json', cookie, 'x-csrf-token': token };
  const felt: Felt = { pushes: [], imports: [] };
  const send = async (path: string, body: string, times: number[]) => {
    const from = performance.now();
    const reply = await fetch(`${address}${path}`, { method: 'POST', headers, body });
    const text = await reply.text();
    if (!reply.ok) throw new Error(`${path}: ${reply.status} ${text.slice(0, 200)}`);
    times.push(performance.now() - from);
  };
  const technician = async (n: number) => {
    for (let i = 0; performance.now() < until; i++) {
      const change = {
        changeId: randomUUID(),
        partId,
        // Later than any: each writes over what the others wrote, as a settled conflict does.
        baseRevision: 2_147_483_647,
        set: { selfUse_W: 1 + ((n + i) % 5) },
        at: new Date().toISOString(),
        device: `bench-${n}`,
      };
      await send(`/sites/${siteId}/changes`, JSON.stringify({ changes: [change] }), felt.pushes);
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  };
  const importer = async () => {
    const { file } = readSystemFile(
      readFileSync(new URL('../demo/sites/corrach-bothy.lantern.json', import.meta.url), 'utf8'),
    );
    const loads = Array.from({ length: 4_500 }, (_, i) => ({
      id: `l${i}`,
      label: `Lamp ${i}`,
      kind: 'dc',
      power_W: 1,
      hours_d: 1,
      notes: 'x'.repeat(Math.round(IMPORT_BYTES / 4_500) - 90),
    }));
    while (performance.now() < until) {
      const system = { ...file.system, loads: [...(file.system?.loads ?? []), ...loads] };
      const body = JSON.stringify({ id: randomUUID(), file: { ...file, system, proposals: [], readings: [] } });
      await send('/sites', body, felt.imports);
    }
  };
  await Promise.all([importer(), ...Array.from({ length: TECHNICIANS }, (_, n) => technician(n))]);
  return felt;
}

// Forked, it is the crowd.
const told = process.argv[2];
if (process.send && told?.startsWith('{'))
  void people(JSON.parse(told) as Crowd).then((felt) => {
    process.send?.(felt);
    process.disconnect();
  });
