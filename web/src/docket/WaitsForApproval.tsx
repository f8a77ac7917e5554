import { Link } from 'react-router';
import { useProposals, useProposedExceptions, useProposedRenewals, useSession } from '../api/queries';
import { answerWords, groundWords } from '../words/answers';
import { count, dayTime } from '../words/dates';
import styles from './WaitsForApproval.module.css';

/** Above the docket: what waits for an approver, and what was sent back or lapsed within a week. */
export function WaitsForApproval({ now }: { now: Date }) {
  const role = useSession().data?.role;
  const told = (useProposals().data ?? []).filter(
    (one) => one.state === 'WAITING' || (role === 'ANALYST' && (one.state === 'SENT_BACK' || one.state === 'LAPSED')),
  );
  const excepted = (useProposedExceptions().data ?? []).filter(
    (one) => one.state === 'WAITING' || (role === 'ANALYST' && one.state === 'SENT_BACK'),
  );
  const renewals = (useProposedRenewals().data ?? []).filter(
    (one) => one.state === 'WAITING' || (role === 'ANALYST' && one.state === 'SENT_BACK'),
  );
  const ofExceptions = [
    ...excepted.map((one) => ({ ...one, link: 'an exception', words: `on ${one.about} where ${one.where}` })),
    ...renewals.map((one) => ({
      ...one,
      link: `that ${count(one.exceptions.length, 'exception')} ${one.exceptions.length === 1 ? 'goes' : 'go'} on`,
      words: one.exceptions.map((of) => `no. ${of.number}`).join(', '),
    })),
  ];
  return told.length + ofExceptions.length === 0 ? null : (
    <ul className={styles.waits} aria-label="Proposals">
      {told.map((one) => (
        <li key={one.number}>
          <span className="strong">
            {one.state === 'WAITING'
              ? role === 'APPROVER'
                ? 'Waits for your word: '
                : 'Waits for an approver: '
              : one.state === 'SENT_BACK'
                ? 'Sent back: '
                : 'Lapsed: '}
          </span>
          <Link to={`/cases/${encodeURIComponent(one.update)}`}>{one.title || one.update}</Link>{' '}
          {one.answers.map((answer) => answerWords(answer.draft, answer.populations, now)).join('; ')}{' '}
          <span className="mid">
            {one.state === 'SENT_BACK' ? `${one.decidedBy}: ${one.returned}` : `${one.author}, because ${groundWords(one.grounds)}`}
            {one.state === 'WAITING' && `; lapses ${dayTime(one.lapsesAt, now)}`}
          </span>
        </li>
      ))}
      {ofExceptions.map((one) => (
        <li key={`exception ${one.number}`}>
          <span className="strong">
            {one.state === 'SENT_BACK' ? 'Sent back: ' : role === 'APPROVER' ? 'Waits for your word: ' : 'Waits for an approver: '}
          </span>
          <Link to="/exceptions">{one.link}</Link> {one.words}{' '}
          <span className="mid">
            {one.state === 'SENT_BACK' ? `${one.decidedBy}: ${one.returned}` : `${one.author}, because ${groundWords(one.grounds)}`}
            {one.state === 'WAITING' && `; lapses ${dayTime(one.lapsesAt, now)}`}
          </span>
        </li>
      ))}
    </ul>
  );
}
