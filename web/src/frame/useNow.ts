import { useClock } from '../api/queries';

/** What time it is for the server, so that words such as "6 days" agree with what it computes. */
export function useNow(): Date {
  const clock = useClock();
  return clock.data ? new Date(clock.data.now) : new Date();
}
