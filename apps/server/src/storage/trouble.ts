/**
 * Why a database did not do what it was told, for reasons that are not in the question: its disk is full, it could not be
 * reached, it has too much to do, or it went away in the middle, so that nobody knows whether it did it.
 */
export type StorageFailure = 'disk-full' | 'unreachable' | 'busy' | 'lost';

/** Codes of PostgreSQL (appendix A of its manual) and of the network. */
const codes: Record<string, StorageFailure> = {
  '53100': 'disk-full',
  ENOSPC: 'disk-full',
  '53200': 'busy',
  '53300': 'busy',
  '53400': 'busy',
  '55P03': 'busy',
  '57014': 'busy',
  '40001': 'busy',
  '40P01': 'busy',
  '25006': 'busy',
  '57P03': 'unreachable',
  '08001': 'unreachable',
  '08004': 'unreachable',
  ECONNREFUSED: 'unreachable',
  ENOTFOUND: 'unreachable',
  EHOSTUNREACH: 'unreachable',
  '57P01': 'lost',
  '57P02': 'lost',
  '57P05': 'lost',
  '25P03': 'lost',
  '58030': 'lost',
  ECONNRESET: 'lost',
  EPIPE: 'lost',
  ETIMEDOUT: 'lost',
};

/** What kind of trouble an error tells of; null if it tells of none of these. */
export function asStorageTrouble(error: unknown): StorageFailure | null {
  if (!(error instanceof Error)) return null;
  const { code, driverError, errors } = error as { code?: string; driverError?: unknown; errors?: unknown[] };
  const known = code === undefined ? undefined : (codes[code] ?? (code.startsWith('08') ? 'lost' : undefined));
  if (known !== undefined) return known;
  if (/timeout exceeded when trying to connect|connect timeout/i.test(error.message)) return 'unreachable';
  if (/connection (terminated|ended|closed)|client was closed|not queryable|query read timeout/i.test(error.message))
    return 'lost';
  if (driverError !== undefined && driverError !== error) return asStorageTrouble(driverError);
  return Array.isArray(errors) && errors.length > 0 ? asStorageTrouble(errors[0]) : null;
}
