import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { count, day, lastDay } from '../words/dates';
import { OVERDUE } from '../words/prevented';
import styles from './report.module.css';

/** What was forced in the last ninety days, and what became of it on the hosts that lacked it then. */
export function Forced() {
  const now = useNow();
  const told = useQuery({ queryKey: ['report', 'forced'], queryFn: () => body(api.GET('/api/report/forced')) });
  if (told.isLoadingError) {
    return <Failed what="What was forced" error={told.error} again={told.refetch} />;
  }
  if (told.data === undefined) {
    return <Loading what="what was forced" />;
  }
  const wrong = told.data.filter((row) => row.forecastWrong).length;
  return (
    <div className="page">
      <p className={`mid ${styles.lead}`}>
        {told.data.length > 0 &&
          `${count(told.data.length, 'force')} in ninety days; ${wrong === 0 ? 'no forecast was wrong' : `${count(wrong, 'forecast')} wrong by more than a tenth of the hosts`}. `}
        Followed on the hosts that lacked it when it was handed down; whether the force brought it there, nobody can tell.
      </p>
      {told.data.length === 0 ? (
        <p className="empty">
          <strong>Nothing was forced in the last ninety days.</strong>
        </p>
      ) : (
        <table className="list">
          <thead>
            <tr>
              <th scope="col">Force</th>
              <th scope="col">due</th>
              <th scope="col" className={styles.number}>
                have it
              </th>
              <th scope="col" className={styles.number}>
                foreseen by now
              </th>
              <th scope="col">failed</th>
              <th scope="col">past due</th>
              <th scope="col" className={styles.number}>
                wait
              </th>
              <th scope="col" className={styles.number} title="Retired, or it is no longer for them">
                gone
              </th>
            </tr>
          </thead>
          <tbody>
            {told.data.map((row) => (
              <ForcedLine key={row.number} row={row} now={now} />
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function ForcedLine({ row, now }: { row: Schemas['ForcedRow']; now: Date }) {
  const nobody = <span className="faint">0</span>;
  return (
    <tr>
      <td>
        <Link to={`/cases/${encodeURIComponent(row.update)}/verdicts/${row.number}`}>
          {row.update} for {row.population}
          {row.where !== undefined && ` where ${row.where}`}
        </Link>
        <div className="mid">
          {day(row.since, now)}, {row.author}
          {row.takenBack !== undefined && `; taken back ${day(row.takenBack, now)}`}
        </div>
      </td>
      <td className="nowrap">{lastDay(row.due, now)}</td>
      <td className={styles.number}>
        {row.have} of {row.hosts}
      </td>
      <td className={styles.number}>
        {row.foreseen === undefined ? (
          <span className="faint" title="Not kept with older verdicts, and over once it is taken back">
            not kept
          </span>
        ) : (
          <span className={row.forecastWrong ? styles.breach : undefined}>{row.foreseen}</span>
        )}
      </td>
      <td>{row.failed.count === 0 ? nobody : <HostNames hosts={row.failed} />}</td>
      <td>
        {row.overdue.length === 0
          ? nobody
          : row.overdue.map(({ why, hosts }) => (
              <div key={why}>
                {hosts.count} {OVERDUE[why]} <HostNames hosts={hosts} most={2} />
              </div>
            ))}
      </td>
      <td className={styles.number}>{row.waiting}</td>
      <td className={styles.number}>{row.gone}</td>
    </tr>
  );
}
