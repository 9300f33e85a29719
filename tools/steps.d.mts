/** A port of loopback that nobody listens on. */
export function freePort(): Promise<number>;
