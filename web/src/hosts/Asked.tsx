import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { count, dayTime } from '../words/dates';
import styles from './Asked.module.css';

type One = Schemas['AskedHost'];

const WHAT: Record<One['happened'][number]['what'], string> = {
  OFFERED: 'offered',
  DOWNLOADED: 'downloaded',
  INSTALLED: 'installed',
  FAILED: 'failed',
  REMOVED: 'removed',
  RESTARTED: 'restarted for',
};

/** The hosts that were asked to report within three days, and what came of it, as it comes in. */
export function Asked({ open, turn, now }: { open: boolean; turn: (open: boolean) => void; now: Date }) {
  const asked = useQuery({ queryKey: ['asks'], queryFn: () => body(api.GET('/api/asks')) }).data ?? [];
  if (asked.length === 0) {
    return null;
  }
  const answered = asked.filter((one) => one.answeredAt !== undefined).length;
  return (
    <section aria-label="Asked to report" className={styles.asked}>
      <button type="button" className="plain link" aria-expanded={open} onClick={() => turn(!open)}>
        <span className="strong">
          {answered} of {count(asked.length, 'host')}
        </span>{' '}
        asked to report {asked.length === 1 ? 'has' : 'have'} answered
      </button>{' '}
      <span className="mid">
        asked within three days; <Term name="ask now">what is this?</Term>
      </span>
      {open && (
        <table className="list" aria-label="Hosts that were asked">
          <thead>
            <tr>
              <th scope="col">Host</th>
              <th scope="col">Asked</th>
              <th scope="col">Reported since</th>
              <th scope="col">Since then</th>
            </tr>
          </thead>
          <tbody>
            {asked.map((one) => (
              <tr key={one.host}>
                <td className="nowrap">
                  <Link className="name" to={`/hosts/${encodeURIComponent(one.host)}`}>
                    {one.host}
                  </Link>
                </td>
                <td>
                  {dayTime(one.askedAt, now)} <span className="mid">by {one.askedBy}</span>
                </td>
                <td>{one.answeredAt === undefined ? <span className="mid">not yet</span> : dayTime(one.answeredAt, now)}</td>
                <td>
                  {one.happened.map((what) => (
                    <div key={`${what.update} ${what.what} ${what.at}`} className={what.what === 'FAILED' ? 'strong' : ''}>
                      {WHAT[what.what]} {what.update} {dayTime(what.at, now)}
                      {what.code !== undefined && `, ${what.code}`}
                    </div>
                  ))}
                  {one.startedAt !== undefined && <div>started anew {dayTime(one.startedAt, now)}</div>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
