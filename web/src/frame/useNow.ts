import { useMemo } from 'react';
import { useClock } from '../api/queries';

/**
 * What time it is for the server, so that words such as "6 days" agree with what it computes. The same value until the server tells another: rows that
 * show it are drawn again only then.
 */
export function useNow(): Date {
  const told = useClock().data?.now;
  return useMemo(() => (told === undefined ? new Date() : new Date(told)), [told]);
}
