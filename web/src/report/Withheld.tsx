import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { count, day, lastDay } from '../words/dates';
import { reasonWords } from '../words/sentences';
import styles from './report.module.css';

const TYPES: Record<string, string> = { block: 'block', defer: 'deferral', pilot: 'pilot' };

/** What people withhold now, by reason, by who answers for it, and by age. */
export function Withheld() {
  const now = useNow();
  const told = useQuery({ queryKey: ['report', 'withheld'], queryFn: () => body(api.GET('/api/report/withheld')) });
  if (told.isLoadingError) {
    return <Failed what="What is withheld" error={told.error} again={told.refetch} />;
  }
  if (told.data === undefined) {
    return <Loading what="what is withheld" />;
  }
  const { rows, byReason, byOwner, withoutReason } = told.data;
  return (
    <div className="page">
      <p className={`mid ${styles.lead}`}>
        {rows.length === 0 ? '' : `${count(rows.length, 'decision')}; who gave two reasons stands under both. `}Standing rules, caution and
        freezes withhold too; nobody decided them on an update, and they stand under <Link to="/in-force">In force</Link>.{' '}
        {rows.length > 0 && (
          <a href="/api/report/withheld.csv" download className="noprint">
            CSV
          </a>
        )}
      </p>
      {rows.length === 0 ? (
        <p className="empty">
          <strong>Nobody withholds anything.</strong>Blocks, deferrals, pilots and exceptions that keep an update from some host stand here,
          with their reasons.
        </p>
      ) : (
        <>
          <div className={styles.sums}>
            <Sums
              name="By reason"
              sums={[
                ...byReason.map((one) => [reasonWords([one.reason], ''), one.sum] as const),
                ...(withoutReason === undefined ? [] : [['exceptions, and words of their own', withoutReason] as const]),
              ]}
              now={now}
            />
            <Sums name="By who answers for it" sums={byOwner.map((one) => [one.owner, one.sum] as const)} now={now} />
          </div>
          <section className={styles.section}>
            <h2>What has stood longest</h2>
            <Rows rows={rows} now={now} />
          </section>
        </>
      )}
    </div>
  );
}

function Sums({ name, sums, now }: { name: string; sums: (readonly [string, Schemas['WithheldSum']])[]; now: Date }) {
  return (
    <section>
      <h2>{name}</h2>
      <table className="list">
        <thead>
          <tr>
            <th scope="col" />
            <th scope="col" className={styles.number}>
              decisions
            </th>
            <th scope="col" className={styles.number}>
              updates
            </th>
            <th scope="col" className={styles.number} title="Each host once for each update that is withheld from it">
              installs held back
            </th>
            <th scope="col">oldest</th>
            <th scope="col">next end</th>
          </tr>
        </thead>
        <tbody>
          {sums.map(([words, sum]) => (
            <tr key={words}>
              <td>{words}</td>
              <td className={styles.number}>{sum.decisions}</td>
              <td className={styles.number}>{sum.updates}</td>
              <td className={styles.number}>{sum.pairs}</td>
              <td className="nowrap">{day(sum.oldest, now)}</td>
              <td className="nowrap">{lastDay(sum.nextEnd, now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Rows({ rows, now }: { rows: Schemas['WithheldRow'][]; now: Date }) {
  return (
    <table className="list">
      <thead>
        <tr>
          <th scope="col">What</th>
          <th scope="col" className={styles.number}>
            hosts
          </th>
          <th scope="col" className={styles.number}>
            stands for
          </th>
          <th scope="col">until</th>
          <th scope="col">who answers for it</th>
          <th scope="col">why</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={`${row.type} ${row.number}`}>
            <td>
              {row.type === 'exception' ? (
                <Link to="/exceptions">
                  exception no. {row.number} on {row.about}
                </Link>
              ) : (
                <Link to={`/cases/${encodeURIComponent(row.about)}/verdicts/${row.number}`}>
                  {TYPES[row.type] ?? row.type} of {row.about} for {row.population}
                </Link>
              )}{' '}
              <span className="mid">{row.title}</span>
            </td>
            <td className={styles.number}>{row.hosts}</td>
            <td className={styles.number}>{count(row.days, 'day')}</td>
            <td className="nowrap">{lastDay(row.end, now)}</td>
            <td>{row.owner}</td>
            <td>{reasonWords(row.reasons, row.words)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
