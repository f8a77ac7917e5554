import { useCautions } from '../api/queries';
import { lastDay } from '../words/dates';
import { useLastAct } from './lastAct';
import { Term } from './Term';
import { useNow } from './useNow';

/** Says on every place, and so wherever a verdict is worded, that standing rules offer less than they say. */
export function CautionLine({ decides }: { decides: boolean }) {
  const now = useNow();
  const [caution] = useCautions().data ?? [];
  const { takeBackThese } = useLastAct();
  if (caution === undefined) {
    return null;
  }
  const level = caution.level === 'WATCHFUL' ? 'watchful' : 'judged only';
  return (
    <p className="unreached" role="status">
      The fleet is <Term name="caution">{level}</Term> until the end of {lastDay(caution.until, now)}:{' '}
      {caution.level === 'WATCHFUL' ? 'standing rules wait twice as long' : 'standing rules offer nothing'}.{' '}
      <span className="mid">
        {caution.owner}: {caution.reason}
      </span>{' '}
      {decides && (
        <button
          type="button"
          className="plain link"
          onClick={() => takeBackThese({ words: `that the fleet is ${level}.`, undo: caution.undo })}
        >
          Take back
        </button>
      )}
    </p>
  );
}
