export interface PrivatePostgres {
  url(database: string): string;
  /** The program of that name. */
  psql: string;
  ensureDatabase(name: string): void;
  stop(): void;
}
export function startPostgres(
  name: string,
  options?: { throwaway?: boolean; fresh?: boolean },
): Promise<PrivatePostgres>;
