import { recordOf } from '@true-lantern/core';
import { createHash } from 'node:crypto';
import mqtt from 'mqtt';
import type { Logger } from 'pino';
import type pg from 'pg';
import { Problem } from '../problem';
import { keepAlone } from './alone';
import { TooMany, type Ingest } from './ingest';

/**
 * Values by way of a broker (docs/live.md): `lantern/TOKEN/SUBJECT/QUANTITY`, a number or {"at", "value"}. Acknowledged once
 * it is kept, under a name that stays the same: what comes while no server runs waits at the broker.
 */

const TOPIC = 'lantern/+/+/+';
/** Of several servers on one database one listens; another takes over when it is gone. */
const LOCK = 7_215_004;
const LOOK_MS = 5000;
const MOST_WAIT_MS = 5000;
const AGAIN_MS = 1000;

/** @returns what ends it */
export function keepMqtt(
  url: string,
  { pool, ingest, log, databaseUrl }: { pool: pg.Pool; ingest: Ingest; log: Logger; databaseUrl: string },
): () => Promise<void> {
  let ended = false;
  let client: mqtt.MqttClient | null = null;
  const clientId = `true-lantern-${createHash('sha256').update(databaseUrl).digest('hex').slice(0, 16)}`;
  const endLooking = keepAlone(pool, LOCK, log, LOOK_MS, async () => {
    if (client) return;
    client = mqtt.connect(url, { clientId, clean: false, reconnectPeriod: 2000, queueQoSZero: false });
    client.handleMessage = (packet, done) => {
      const text = typeof packet.payload === 'string' ? packet.payload : packet.payload.toString('utf8');
      // Acknowledged once it is kept; until then the broker sends no further one.
      void kept(ingest, packet.topic, text, log, () => ended).then((is) => {
        if (is) done();
      });
    };
    client.on('connect', () => client?.subscribe(TOPIC, { qos: 1 }));
    client.on('error', (error) => log.warn({ reason: error.message }, 'the broker of live values'));
  });
  return async () => {
    ended = true;
    await endLooking();
    await client?.endAsync(true);
  };
}

/**
 * Keeps one message. What will never be understood is dropped; what is too much, or finds no database, waits and holds the
 * broker back. False where it ended before it was kept.
 */
async function kept(
  ingest: Ingest,
  topic: string,
  payload: string,
  log: Logger,
  ended: () => boolean,
): Promise<boolean> {
  const [, token, subject, quantity] = topic.split('/');
  const line = lineOf(subject, quantity, payload);
  if (line === null) return true;
  while (!ended())
    try {
      await ingest(token, line);
      return true;
    } catch (error) {
      if (error instanceof Problem && !(error instanceof TooMany)) {
        log.debug({ reason: error.message }, 'a live value was dropped');
        return true;
      }
      const wait_ms = error instanceof TooMany ? 1000 * error.wait_s : AGAIN_MS;
      await new Promise((resolve) => setTimeout(resolve, Math.min(MOST_WAIT_MS, wait_ms)));
    }
  return false;
}

/** A message as a line of the protocol; null where it is neither a number nor an object with one. */
export function lineOf(subject: string | undefined, quantity: string | undefined, payload: string): string | null {
  let given: unknown;
  try {
    given = JSON.parse(payload);
  } catch {
    return null;
  }
  const { at, value } = typeof given === 'number' ? { at: undefined, value: given } : recordOf(given);
  if (typeof value !== 'number') return null;
  return JSON.stringify({ ...(at === undefined ? {} : { at }), subject, quantity, value });
}
