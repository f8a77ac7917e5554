import { Checkbox } from 'antd';
import { Link } from 'react-router';
import { undoOf } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { useLastAct } from '../frame/lastAct';
import { Mark } from '../look/Mark';
import { count, day, lastDay } from '../words/dates';
import {
  aboutWords,
  asks,
  type ExceptionRow,
  earlyWords,
  effectWord,
  endWords,
  historyLines,
  hostDays,
  markOfException,
  thenLines,
} from '../words/exceptions';
import { inHosts, points } from '../words/weighing';
import styles from './ExceptionLines.module.css';

const MOST_LINES = 3;

interface Props {
  row: ExceptionRow;
  weights: number[];
  now: Date;
  current: boolean;
  chosen: boolean;
  decides: boolean;
  point: () => void;
  choose: () => void;
  renew: () => void;
  handOver: () => void;
}

/** One exception: when it ends, what it says, what it costs, what its end brings, and who answers for it. */
export function ExceptionLines({ row, weights, now, current, chosen, decides, point, choose, renew, handOver }: Props) {
  const { takeBackThese } = useLastAct();
  const standing = row.ended === undefined;
  const then = thenLines(row, now);
  const worries = asks(row, now);
  return (
    <tr aria-current={current} className={current ? 'current' : undefined} onClick={point}>
      <td className={`nowrap ${styles.first}`}>
        {decides && standing && (
          <Checkbox
            aria-label={`Choose exception ${row.number}`}
            checked={chosen}
            onChange={choose}
            onClick={(event) => event.stopPropagation()}
          />
        )}
      </td>
      <td className="nowrap">
        <span className={row.state === 'ENDING' ? 'strong' : ''}>{lastDay(row.end, now, row.timeZone)}</span>
        <div className={row.state === 'ENDING' || row.state === 'LAPSED' ? '' : 'mid'}>{endWords(row, now)}</div>
      </td>
      <td>
        <Mark name={markOfException(row)} /> <b>{effectWord(row)}</b>{' '}
        {row.update === undefined ? (
          <span className="strong">{aboutWords(row)}</span>
        ) : (
          <Link to={`/cases/${encodeURIComponent(row.update)}`}>{aboutWords(row)}</Link>
        )}{' '}
        where {row.where}, because {row.reason}
        {row.endsWhen !== undefined && <span className="mid">, {earlyWords(row)}</span>}
        {row.measure !== '' && <div className="mid">meanwhile: {row.measure}</div>}
        {worries.map((worry) => (
          <div key={worry} className="strong">
            {worry}
          </div>
        ))}
        {row.overriding.map((force) => (
          <div key={force.number}>
            <Link to={`/objection?force=${force.number}&exception=${row.number}`}>
              Object to force no. {force.number}, or read what is against it
            </Link>
          </div>
        ))}
        {current && row.history.length > 1 && (
          <ul className={styles.history}>
            {historyLines(row, now).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        )}
        {current && decides && standing && (
          <div className="actions">
            <button type="button" className="plain link" onClick={renew}>
              Renew <kbd>R</kbd>
            </button>
            <button type="button" className="plain link" onClick={handOver}>
              Hand over what is {row.owner}’s <kbd>H</kbd>
            </button>
            <button
              type="button"
              className="plain link"
              onClick={() =>
                takeBackThese({ words: `exception no. ${row.number} on ${row.about}.`, undo: undoOf('exception', [row.number]) })
              }
            >
              End it now <kbd>X</kbd>
            </button>
          </div>
        )}
      </td>
      <td>
        {row.state === 'CLOSED' ? (
          <span className="mid">{count(row.named.count, 'host')} named</span>
        ) : row.hosts.count === 0 ? (
          <span className="mid">
            none of the {count(row.named.count, 'host')} {standing ? 'lacks it now' : 'lacks it'}
          </span>
        ) : (
          <>
            <span className="strong">{row.hosts.count}</span> <HostNames hosts={row.hosts} most={2} />
            <div
              className={row.exposure > 0 ? styles.waiting : 'mid'}
              title={row.exposure > 0 ? inHosts(row.exposure, weights) : undefined}
            >
              {row.exposure > 0 ? `waiting costs ${points(row.exposure)}` : 'no known vulnerability stays open'}
            </div>
            <div className="mid">
              {hostDays(row.hostDaysSoFar)} host-days so far{standing && `, ${hostDays(row.hostDaysToCome)} to come`}
            </div>
          </>
        )}
      </td>
      <td>
        {then.slice(0, current ? undefined : MOST_LINES).map((line) => (
          <div key={line}>{line}</div>
        ))}
        {!current && then.length > MOST_LINES && <div className="mid">and {then.length - MOST_LINES} more</div>}
        {current && row.moreUpdates > 0 && <div className="mid">and {count(row.moreUpdates, 'more update')}</div>}
      </td>
      <td>
        {row.owner}
        <div className="mid">
          {row.renewals > 0 && `renewed ${row.renewals === 1 ? 'once' : row.renewals === 2 ? 'twice' : `${row.renewals} times`}, `}
          since {day(row.since, now)}
          {row.approver !== undefined && `, approved by ${row.approver}`}
        </div>
      </td>
    </tr>
  );
}
