import { Button, Select } from 'antd';
import { Link, useSearchParams } from 'react-router';
import type { Schemas } from '../api/client';
import { type RecordKind, useRecord } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { day, time } from '../words/dates';
import styles from './Record.module.css';

const KINDS: { value: RecordKind; label: string }[] = [
  { value: 'VERDICT', label: 'Verdicts' },
  { value: 'ANSWER', label: 'Left to the rule' },
  { value: 'EXCEPTION', label: 'Exceptions' },
  { value: 'TAKEN_BACK', label: 'Taken back' },
  { value: 'IMPORT', label: 'Imports' },
  { value: 'POPULATIONS', label: 'Populations' },
  { value: 'EVIDENCE', label: 'Evidence' },
  { value: 'WEIGHTS', label: 'Weights' },
  { value: 'HOSTS', label: 'Hosts' },
  { value: 'ACCESS', label: 'Access' },
  { value: 'CLOCK', label: 'Demo clock' },
];

/** What was decided, imported or changed, by whom and when, as dated sentences. */
export default function Record() {
  const [search, setSearch] = useSearchParams();
  const subject = search.get('subject') ?? undefined;
  const kind = (search.get('kind') ?? undefined) as RecordKind | undefined;
  const record = useRecord(subject, kind);
  const now = useNow();
  const set = (name: string, value: string | undefined) => {
    const next = new URLSearchParams(search);
    if (value === undefined) {
      next.delete(name);
    } else {
      next.set(name, value);
    }
    setSearch(next);
  };
  const entries = record.data?.pages.flatMap((page) => page.entries) ?? [];
  const days = new Map<string, Schemas['AuditEntry'][]>();
  for (const entry of entries) {
    const heading = day(entry.at, now);
    days.set(heading, [...(days.get(heading) ?? []), entry]);
  }
  return (
    <main>
      <div className="head">
        <Heading>{subject === undefined ? 'The record' : `The record of ${subject}`}</Heading>
        <span className="mid">Newest first; nothing is ever changed or removed. Times are UTC.</span>
        <span className="space" />
        {subject !== undefined && (
          <>
            <Link to={`/cases/${encodeURIComponent(subject)}`}>Case</Link>
            <button type="button" className="plain link" onClick={() => set('subject', undefined)}>
              Show all
            </button>
          </>
        )}
        <Select
          aria-label="Kind of entry"
          allowClear
          placeholder="Everything"
          className={styles.short}
          value={kind}
          onChange={(value) => set('kind', value)}
          options={KINDS}
        />
        <a href={`/api/record/entries.csv?${search}`} download>
          CSV
        </a>
      </div>
      <div className="page">
        {record.isLoadingError && <Failed what="The record" error={record.error} again={record.refetch} />}
        {record.isPending && <Loading what="the record" />}
        {record.data && entries.length === 0 && (
          <p className="empty">
            <strong>Nothing is recorded here yet.</strong>Every verdict, answer, exception and import appears here as one sentence.
          </p>
        )}
        {[...days].map(([heading, ofDay]) => (
          <section key={heading}>
            <h2 className="day">{heading}</h2>
            {ofDay.map((entry) => (
              <Row key={entry.number} what={`Entry ${entry.number}`}>
                {() => (
                  <div className="entry">
                    <time className="mid" dateTime={entry.at} title={entry.at}>
                      {time(entry.at)}
                    </time>
                    <span>
                      <span className="mid">{entry.author}: </span>
                      {entry.sentence}{' '}
                      {entry.subject !== '' && subject === undefined && (
                        <Link className="mid" to={`/record?subject=${encodeURIComponent(entry.subject)}`}>
                          {entry.subject}
                        </Link>
                      )}
                    </span>
                  </div>
                )}
              </Row>
            ))}
          </section>
        ))}
        {record.hasNextPage && (
          <Button className={styles.more} onClick={() => record.fetchNextPage()}>
            Show earlier ones
          </Button>
        )}
      </div>
    </main>
  );
}
