import type { Schemas } from '../api/client';
import { andAlso, leaveOut, takeUp } from '../decisions/clauses';
import type { useVerdictDraft, Worded } from '../decisions/useVerdictDraft';
import { useKeys } from '../frame/keys';
import { Mark } from '../look/Mark';
import { answerWords, SAID } from '../words/answers';
import { count } from '../words/dates';
import styles from './OtherAnswers.module.css';

type Verdict = ReturnType<typeof useVerdictDraft>;
type VerdictType = Schemas['AnswerDraft']['type'];

const TYPES: VerdictType[] = ['BLOCK', 'DEFER', 'PILOT', 'FORCE'];

/** The answers of the sentence that are worded already: each may be taken up again, or left out. */
export function AnswersBefore({ verdict, page, search, set, now }: Worded & { verdict: Verdict }) {
  return verdict.before.length === 0 ? null : (
    <ul className={styles.before} aria-label="Answers worded before">
      {verdict.before.map(({ answer, effect }, place) => {
        const words = answerWords(answer, namesOf(page, answer.populations), now);
        return (
          <li key={JSON.stringify(answer)}>
            <Mark name={answer.type} /> {words}; <span className="mid">{effect.toLowerCase()}</span>{' '}
            <button type="button" className="plain link noprint" onClick={() => set(takeUp(search, place))} aria-label={`Change: ${words}`}>
              change
            </button>{' '}
            <button
              type="button"
              className="plain link noprint"
              onClick={() => set(leaveOut(search, place))}
              aria-label={`Leave out: ${words}`}
            >
              leave out
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** One more answer in the same sentence, for the populations that have none yet. */
export function AndAlso({ verdict, page, search, set }: Worded & { verdict: Verdict }) {
  const { left } = verdict;
  // What is begun again would take nobody along.
  const may = left.length > 0 && verdict.current.populations.length > 0;
  const begin = (type: VerdictType) => may && set(andAlso(page, search, type));
  // The last of several answers is mostly that the rest may go.
  useKeys({ 'Ctrl+,': () => begin('DEFER') });
  return !may ? null : (
    <span className="mid">
      and for {left.length > 2 ? count(left.length, 'other population') : namesOf(page, left).join(', ')}:{' '}
      {TYPES.map((type) => (
        <span key={type}>
          <button type="button" className="plain link" onClick={() => begin(type)}>
            {SAID[type].word.toLowerCase()}
          </button>
          {type === 'FORCE' ? ' ' : ' · '}
        </span>
      ))}
      <kbd>Ctrl</kbd> <kbd>,</kbd>
    </span>
  );
}

const namesOf = (page: Schemas['CaseView'], ids: string[]) => page.populations.filter((row) => ids.includes(row.id)).map((row) => row.name);
