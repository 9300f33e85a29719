/** What was thrown, as an error: a library may throw anything. */
export const errorOf = (thrown: unknown): Error => (thrown instanceof Error ? thrown : new Error(String(thrown)));

/** What an error says. */
export const messageOf = (thrown: unknown): string => errorOf(thrown).message;
