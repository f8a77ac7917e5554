import { Link } from 'react-router';
import { useProposals, useProposedExceptions, useSession } from '../api/queries';
import { answerWords, groundWords } from '../words/answers';
import { dayTime } from '../words/dates';
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
  return told.length + excepted.length === 0 ? null : (
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
      {excepted.map((one) => (
        <li key={`exception ${one.number}`}>
          <span className="strong">
            {one.state === 'SENT_BACK' ? 'Sent back: ' : role === 'APPROVER' ? 'Waits for your word: ' : 'Waits for an approver: '}
          </span>
          <Link to="/exceptions">an exception</Link> on {one.about} where {one.where}{' '}
          <span className="mid">
            {one.state === 'SENT_BACK' ? `${one.decidedBy}: ${one.returned}` : `${one.author}, because ${groundWords(one.grounds)}`}
            {one.state === 'WAITING' && `; lapses ${dayTime(one.lapsesAt, now)}`}
          </span>
        </li>
      ))}
    </ul>
  );
}
