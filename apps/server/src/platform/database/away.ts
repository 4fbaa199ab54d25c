const AWAY: ReadonlySet<string> = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
]);

/** Whether an error says that the database cannot be reached, and nothing else. */
export function isAway(error: unknown): boolean {
  const { code, driverError } = error as { code?: string; driverError?: { code?: string } };
  return (
    AWAY.has(code ?? driverError?.code ?? '') || /closed state|connection lost|server has gone away/i.test((error as Error).message ?? '')
  );
}
