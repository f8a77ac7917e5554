import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { CarriageBar } from '../look/CarriageBar';
import { Mark } from '../look/Mark';
import { shortDay } from '../words/dates';
import { markOf, ruleMatchWords } from '../words/sentences';
import { applicable } from '../words/states';
import styles from './Matrix.module.css';

interface StateProps {
  counts: Schemas['StateCounts'];
  notRead: boolean;
  to: string;
}

/** How many hosts of a population are in which state. */
export function StateCell({ counts, notRead, to }: StateProps) {
  const hosts = applicable(counts);
  return hosts === 0 ? (
    <span className="faint">{notRead ? '?' : '·'}</span>
  ) : (
    <Link className="cellbutton" to={to}>
      <CarriageBar counts={counts} width={84} />
      <span className={`nowrap ${styles.count}`}>
        <span className="strong">{counts.carries}</span>{' '}
        <span className="mid">
          of {hosts}
          {counts.unknown > 0 && `, ${counts.unknown} ?`}
        </span>
      </span>
    </Link>
  );
}

interface InForceProps {
  cell: Schemas['InForceCellView'];
  notRead: boolean;
  counts: Schemas['StateCounts'];
  now: Date;
  to: string;
}

/** What is in force for the hosts of a population that lack it: how many of each, and until when. */
export function InForceCell({ cell, notRead, counts, now, to }: InForceProps) {
  if (cell.most === undefined) {
    return <span className="faint">{applicable(counts) > 0 ? 'all have it' : notRead ? '?' : '·'}</span>;
  }
  const until = (words: string, instant: string | undefined) => (instant === undefined ? undefined : `${words} ${shortDay(instant, now)}`);
  const lines: { number: number; words: string; more?: string | undefined }[] = [
    { number: cell.overdue, words: 'overdue' },
    { number: cell.withheld, words: 'withheld', more: cell.needsVerdict > 0 ? 'needs a verdict' : until('to', cell.nextEnd) },
    { number: cell.offered, words: 'offered', more: until('due', cell.nextDue) },
    { number: cell.byOperator, words: 'by operator' },
  ];
  return (
    <Link className={`cellbutton ${styles.inForce}`} to={to}>
      <Mark name={markOf(cell.most)} size={14} label={ruleMatchWords(cell.most, now)} />
      <span>
        {lines
          .filter((line) => line.number > 0)
          .map((line) => (
            <span key={line.words} className={styles.line}>
              <span className="strong">{line.number}</span> {line.words}
              {line.more !== undefined && <span className={`mid ${styles.line}`}>{line.more}</span>}
            </span>
          ))}
      </span>
    </Link>
  );
}
