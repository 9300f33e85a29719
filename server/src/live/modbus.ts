import { Socket } from 'node:net';
import {
  LEAST_EVERY_S,
  MODBUS_DEFAULTS,
  MOST_MAPPED,
  questionsOf,
  valuesOf,
  type Feed,
  messageOf,
} from '@true-lantern/core';
import { ModbusTCPClient } from 'jsmodbus';
import type pg from 'pg';
import type { Logger } from 'pino';
import { keepLive, partIds } from '../store/live';
import { feedsOf, notePolled, type PolledFeed } from '../store/polled';
import { addressOf, type Allowed } from './allow';
import { keepAlone } from './alone';

/** Asks devices for their registers (Modbus TCP, docs/live.md). One that is slow, silent or lies delays nobody else. */

const LOOK_MS = 1000;
/** Devices are listed anew after so long. */
const LIST_MS = 10_000;
/** A device has so long to connect, and for each answer. */
const ANSWER_MS = 4000;
/** All of one round, whatever the device does. */
const ROUND_MS = 20_000;
/** So many devices are asked side by side. */
const MOST_AT_ONCE = 32;
/** More than this in one round is no answer to what was asked. */
const MOST_BYTES = 128 * 1024;
/** A device that does not answer is asked less and less often, up to this. */
const MOST_WAIT_MS = 10 * 60_000;
/** Of several servers on one database one asks. */
const LOCK = 7_215_005;

/** Reads every register that a device's map names. @throws Error in a sentence */
export async function askDevice(
  address: string,
  feed: Pick<Feed, 'port' | 'unit' | 'map'>,
): Promise<{ asked: ReturnType<typeof questionsOf>; answers: (number[] | null)[] }> {
  const asked = questionsOf((feed.map ?? []).slice(0, MOST_MAPPED));
  const answers: (number[] | null)[] = [];
  const socket = new Socket();
  let bytes = 0;
  const round = setTimeout(() => socket.destroy(new Error('it did not finish its answers')), ROUND_MS);
  // What is not an answer must not pile up here.
  socket.on('data', ({ length }: Buffer) => {
    bytes += length;
    if (bytes > MOST_BYTES) socket.destroy(new Error('it sent far more than it was asked for'));
  });
  try {
    const client = new ModbusTCPClient(socket, feed.unit ?? MODBUS_DEFAULTS.unit, ANSWER_MS);
    const ended = new Promise<never>((_, reject) => {
      socket.once('error', reject);
      socket.once('close', () => reject(new Error('it ended the connection')));
    });
    ended.catch(() => undefined);
    await Promise.race([
      ended,
      new Promise<void>((resolve, reject) => {
        socket.setTimeout(ANSWER_MS, () => reject(new Error('it did not answer')));
        socket.connect({ host: address, port: feed.port ?? MODBUS_DEFAULTS.port }, () => {
          socket.setTimeout(0);
          resolve();
        });
      }),
    ]);
    for (const { function: how, register, count } of asked) {
      const question =
        how === 4 ? client.readInputRegisters(register, count) : client.readHoldingRegisters(register, count);
      try {
        const { response } = await Promise.race([ended, question]);
        const { valuesAsArray } = response.body;
        answers.push(valuesAsArray.length === count ? [...valuesAsArray] : null);
      } catch (error) {
        // A register that it does not have is its own affair: the rest is read.
        if ((error as { err?: string }).err !== 'ModbusException') throw wordsFor(error);
        answers.push(null);
      }
    }
    return { asked, answers };
  } finally {
    clearTimeout(round);
    socket.destroy();
  }
}

/** The package's errors are its own kind; a person reads a sentence. */
function wordsFor(error: unknown): Error {
  const { err, message } = error as { err?: string; message?: string };
  if (err === 'Timeout') return new Error('it did not answer');
  if (err === 'Protocol' || err === 'OutOfSync') return new Error('what it answers is no Modbus TCP');
  return new Error(message ?? 'it did not answer');
}

interface Turn {
  next: number;
  misses: number;
  busy: boolean;
  /** Looked up once, and kept while it answers. */
  address: string | null;
}

/** @returns what ends it */
export function keepModbus(
  allowed: Allowed,
  { pool, log }: { pool: pg.Pool; log: Logger },
  look_ms = LOOK_MS,
): () => Promise<void> {
  const turns = new Map<string, Turn>();
  let feeds: PolledFeed[] = [];
  let listed = Number.NEGATIVE_INFINITY;
  let running = 0;

  const one = async (feed: PolledFeed, turn: Turn) => {
    const every_ms = 1000 * Math.max(LEAST_EVERY_S, feed.every_s ?? MODBUS_DEFAULTS.every_s);
    const at = Date.now();
    try {
      turn.address ??= await addressOf(feed.host, allowed);
      const { asked, answers } = await askDevice(turn.address, feed);
      const { values, dropped } = valuesOf(feed.map ?? [], asked, answers, at);
      const parts = await partIds(pool, feed.siteId);
      const known = values.filter(({ subject }) => parts.has(subject));
      await keepLive(pool, feed.siteId, known);
      turn.misses = 0;
      const refused = answers.filter((answer) => answer === null).length;
      const why = refused > 0 ? `it refuses ${refused} of ${answers.length} questions` : null;
      await notePolled(pool, feed, { at, why, kept: known.length, dropped });
    } catch (error) {
      turn.misses += 1;
      turn.address = null;
      const why = messageOf(error);
      await notePolled(pool, feed, { at, why, kept: 0, dropped: 0 }).catch(() => undefined);
      log.debug({ host: feed.host, reason: why }, 'a device was not heard');
    }
    turn.next = at + Math.min(MOST_WAIT_MS, every_ms * 2 ** Math.min(10, turn.misses));
  };

  return keepAlone(pool, LOCK, log, look_ms, async () => {
    const now = Date.now();
    if (now - listed > LIST_MS) {
      feeds = await feedsOf(pool);
      listed = now;
      const there = new Set(feeds.map(({ key }) => key));
      for (const key of turns.keys()) if (!there.has(key)) turns.delete(key);
    }
    for (const feed of feeds) {
      const turn = turns.get(feed.key) ?? { next: 0, misses: 0, busy: false, address: null };
      turns.set(feed.key, turn);
      if (turn.busy || turn.next > now || running >= MOST_AT_ONCE) continue;
      turn.busy = true;
      running += 1;
      void one(feed, turn).finally(() => {
        turn.busy = false;
        running -= 1;
      });
    }
  });
}
