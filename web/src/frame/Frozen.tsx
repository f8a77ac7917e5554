import { useFreezes } from '../api/queries';
import { dayTime } from '../words/dates';
import { useLastAct } from './lastAct';
import { useNow } from './useNow';

/** Says so on every place while something is frozen: nobody wonders why nothing moves, or forgets it. */
export function Frozen({ decides }: { decides: boolean }) {
  const now = useNow();
  const freezes = useFreezes(true);
  const { takeBackThese } = useLastAct();
  return (freezes.data ?? [])
    .filter((freeze) => freeze.stands)
    .map((freeze) => {
      const what = freeze.populationNames.length === 0 ? 'Everything' : freeze.populationNames.join(', ');
      const one = freeze.populationNames.length <= 1;
      return (
        <p key={freeze.number} className="unreached" role="status">
          {what} {one ? 'is' : 'are'} frozen until {dayTime(freeze.until, now)}
          {freeze.ends.length > 1 && `, in ${freeze.ends.length} parts from ${dayTime(freeze.ends[0]?.at ?? freeze.until, now)} on`}:
          nothing is offered, installed or restarted there.{' '}
          <span className="mid">
            {freeze.author}: {freeze.reason}
          </span>{' '}
          {decides && (
            <button
              type="button"
              className="plain link"
              onClick={() => takeBackThese({ words: `the freeze of ${what.toLowerCase()}.`, undo: freeze.undo })}
            >
              Take back
            </button>
          )}
        </p>
      );
    });
}
