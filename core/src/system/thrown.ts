/** What an error says; what was thrown may be anything, of another window or thread too. */
export const messageOf = (thrown: unknown): string =>
  typeof thrown === 'object' && thrown !== null && 'message' in thrown ? String(thrown.message) : String(thrown);

/** What was thrown, as an error. */
export const errorOf = (thrown: unknown): Error => (thrown instanceof Error ? thrown : new Error(messageOf(thrown)));
