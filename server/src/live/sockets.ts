import { messageOf } from '@true-lantern/core';
import type { Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import type { Logger } from 'pino';
import { Problem } from '../problem';
import { bearerOf, TooMany, type Ingest } from './ingest';

/** Where systems that stay connected send (docs/live.md): a frame of lines, answered by its number once it is kept. */

const PATHS = new Set(['/live', '/api/live']);
const MOST_BYTES = 512 * 1024;
/** Who says nothing for so long is let go, ms. */
const SILENT_MS = 5 * 60_000;
/** Sockets at once on one server, and of one token. */
const MOST_SOCKETS = 5000;
const MOST_OF_TOKEN = 4;

/** @returns what closes all of them */
export function keepSockets(server: Server, ingest: Ingest, log: Logger, silent_ms = SILENT_MS): () => void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MOST_BYTES, perMessageDeflate: false });
  const open = new Map<string, number>();
  const leaving = (token: string) => {
    const left = (open.get(token) ?? 1) - 1;
    if (left > 0) open.set(token, left);
    else open.delete(token);
  };
  const onUpgrade = (request: Parameters<typeof sockets.handleUpgrade>[0], socket: Duplex, head: Buffer) => {
    const path = request.url?.split('?')[0] ?? '';
    const token = bearerOf(request.headers.authorization);
    socket.on('error', () => socket.destroy());
    if (!PATHS.has(path)) return refuse(socket, '404 Not Found');
    if (!token) return refuse(socket, '401 Unauthorized');
    if (sockets.clients.size >= MOST_SOCKETS || (open.get(token) ?? 0) >= MOST_OF_TOKEN)
      return refuse(socket, '503 Service Unavailable');
    open.set(token, (open.get(token) ?? 0) + 1);
    // An empty frame asks whether the token is good, before anything is agreed on.
    ingest(token, '').then(
      () =>
        sockets.handleUpgrade(request, socket, head, (client) => {
          client.on('close', () => leaving(token));
          serve(client, token, ingest, log, silent_ms);
        }),
      (error: unknown) => {
        leaving(token);
        refuse(
          socket,
          error instanceof TooMany
            ? '429 Too Many Requests'
            : error instanceof Problem
              ? '401 Unauthorized'
              : '503 Service Unavailable',
        );
      },
    );
  };
  server.on('upgrade', onUpgrade);
  return () => {
    server.off('upgrade', onUpgrade);
    for (const client of sockets.clients) client.terminate();
    sockets.close();
  };
}

const refuse = (socket: Duplex, status: string) =>
  socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);

function serve(client: WebSocket, token: string, ingest: Ingest, log: Logger, silent_ms: number) {
  let silent: NodeJS.Timeout;
  const listen = () => {
    silent = setTimeout(() => client.close(1000, 'silent'), silent_ms);
  };
  listen();
  client.on('close', () => clearTimeout(silent));
  client.on('error', () => client.terminate());
  // One frame after the other: who sends faster than it is kept waits in their own line, not in our memory. Whose frame is
  // worked on is not silent.
  let [before, open] = [Promise.resolve(), 0];
  client.on('message', (data, binary) => {
    clearTimeout(silent);
    if (binary) return client.close(1003, 'text only');
    client.pause();
    open += 1;
    before = before
      .then(() => frame(String(data as Buffer)))
      .finally(() => {
        open -= 1;
        if (open > 0) return;
        listen();
        client.resume();
      });
  });
  const frame = async (text: string): Promise<void> => {
    const { n, lines } = numbered(text);
    const say = (answer: object) => client.send(JSON.stringify({ ...(n === null ? {} : { n }), ...answer }));
    try {
      say(await ingest(token, lines));
    } catch (error) {
      if (error instanceof TooMany) return say({ wait_s: error.wait_s, why: error.message });
      if (error instanceof Problem && error.status === 401) return client.close(1008, 'token ended');
      if (error instanceof Problem) return say({ why: error.message });
      // Nothing is acknowledged: it is sent again once there is a server that can keep it.
      log.warn({ reason: messageOf(error) }, 'a frame of live values was not kept');
      client.close(1011, 'not kept');
    }
  };
}

/** The number of a frame, where its first line is {"n": 12}, and the lines below it. */
function numbered(text: string): { n: number | null; lines: string } {
  const end = text.indexOf('\n');
  const first = end < 0 ? text : text.slice(0, end);
  const match = /^\s*\{\s*"n"\s*:\s*(\d{1,15})\s*\}\s*$/.exec(first);
  return match ? { n: Number(match[1]), lines: end < 0 ? '' : text.slice(end + 1) } : { n: null, lines: text };
}
