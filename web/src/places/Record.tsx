import { Button, Input, type InputRef, Select } from 'antd';
import { useRef } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { type RecordAsked, type RecordKind, useRecord } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Choose } from '../frame/Choose';
import { DayPart } from '../frame/DayPart';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { useSettled } from '../frame/useSettled';
import { day, dayOf, dayTime, isoDay, time } from '../words/dates';
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

/** What stands under no case. */
const OF_NONE = 'Of no update';

/** How far back the days reach that are asked for at first. */
const USUAL_DAYS = 7;

/** What was decided, imported or changed, by whom and when, as dated sentences; by day, or case by case. */
export default function Record() {
  const now = useNow();
  const [search, set] = useAddress();
  const word = (name: string) => search.get(name) ?? undefined;
  const readable = (name: string) => {
    const value = word(name);
    return value !== undefined && dayOf(value, now) !== undefined ? dayOf(value, now) : undefined;
  };
  const text = useSettled(word('text') ?? '');
  const asked: RecordAsked = {
    subject: word('subject'),
    kind: word('kind') as RecordKind | undefined,
    person: word('person'),
    from: readable('from'),
    to: readable('to'),
    text: text === '' ? undefined : text,
  };
  const record = useRecord(asked);
  const finding = useRef<InputRef>(null);
  const byCase = word('by') === 'case';
  useKeys({ s: () => finding.current?.focus(), c: () => set({ by: byCase ? undefined : 'case' }) });
  const { subject } = asked;
  const entries = record.data?.pages.flatMap((page) => page.entries) ?? [];
  const takenBack = new Map(record.data?.pages.flatMap((page) => page.takenBack).map((one) => [one.entry, one]));
  const narrowed = Object.values(asked).some((value) => value !== undefined);
  const file = new URLSearchParams(Object.entries(asked).filter((field): field is [string, string] => field[1] !== undefined)).toString();
  return (
    <main>
      <div className="head">
        <Heading>{subject === undefined ? 'The record' : `The record of ${subject}`}</Heading>
        <span className="mid">Newest first; nothing is ever changed or removed. Times are UTC.</span>
        <span className="space" />
        {subject !== undefined && (
          <>
            <Link to={`/cases/${encodeURIComponent(subject)}`}>Case</Link>
            <button type="button" className="plain link" onClick={() => set({ subject: undefined })}>
              Show all
            </button>
          </>
        )}
        <span className="choices">
          <button type="button" className="plain" aria-current={!byCase} onClick={() => set({ by: undefined })}>
            By day
          </button>
          <button type="button" className="plain" aria-current={byCase} onClick={() => set({ by: 'case' })}>
            By case
          </button>
        </span>
        <a href={`/api/record/entries.csv?${file}`} download>
          CSV
        </a>
        <a href={`/api/record/entries.json?${file}`} download>
          JSON
        </a>
      </div>
      <div className={`${styles.filters} noprint`}>
        <Input
          ref={finding}
          aria-label="Search the record"
          placeholder="words, host, update"
          allowClear
          className={styles.find}
          value={word('text') ?? ''}
          onChange={(event) => set({ text: event.target.value })}
        />
        <Select
          aria-label="Kind of entry"
          allowClear
          placeholder="Everything"
          variant="borderless"
          size="small"
          popupMatchSelectWidth={false}
          value={asked.kind}
          onChange={(value) => set({ kind: value })}
          options={KINDS}
        />
        <Choose
          label="Person"
          all="Everybody"
          value={asked.person}
          options={(record.data?.pages[0]?.people ?? []).map((person) => [person, person])}
          change={(person) => set({ person })}
        />
        {word('from') === undefined ? (
          <button type="button" className="plain link" onClick={() => set({ from: isoDay(now, -USUAL_DAYS), to: isoDay(now, 0) })}>
            Some days only
          </button>
        ) : (
          <span>
            from <DayPart label="First day" value={word('from') ?? ''} now={now} change={(value) => set({ from: value })} /> to{' '}
            <DayPart label="Last day" value={word('to') ?? ''} now={now} change={(value) => set({ to: value })} />{' '}
            <button type="button" className="plain link" onClick={() => set({ from: undefined, to: undefined })}>
              All days
            </button>
          </span>
        )}
      </div>
      <div className="page">
        {record.isLoadingError && <Failed what="The record" error={record.error} again={record.refetch} />}
        {record.isPending && <Loading what="the record" />}
        {record.data && entries.length === 0 && (
          <p className="empty">
            {narrowed ? (
              <strong>No entry is so.</strong>
            ) : (
              <>
                <strong>Nothing is recorded here yet.</strong>Every verdict, answer, exception and import appears here as one sentence.
              </>
            )}
          </p>
        )}
        {groups(entries, byCase, now).map(([heading, some]) => (
          <section key={heading}>
            <h2 className="day">{heading}</h2>
            {some.map((entry) => (
              <Row key={entry.number} what={`Entry ${entry.number}`}>
                {() => (
                  <Entry
                    entry={entry}
                    takenBack={takenBack.get(entry.number)}
                    byCase={byCase}
                    linked={subject === undefined && !byCase}
                    now={now}
                  />
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
      <Legend>
        <Key name="S">search the record</Key>
        <Key name="C">{byCase ? 'by day' : 'by case'}</Key>
        <span>Each entry is sealed with the one before it.</span>
      </Legend>
    </main>
  );
}

/** Entries under their day, or under the update that they are about; those of no update come last. */
function groups(entries: Schemas['AuditEntry'][], byCase: boolean, now: Date): [string, Schemas['AuditEntry'][]][] {
  const all = new Map<string, Schemas['AuditEntry'][]>();
  for (const entry of entries) {
    const heading = byCase ? entry.subject || OF_NONE : day(entry.at, now);
    all.set(heading, [...(all.get(heading) ?? []), entry]);
  }
  const ofNone = all.get(OF_NONE);
  all.delete(OF_NONE);
  return ofNone === undefined ? [...all] : [...all, [OF_NONE, ofNone]];
}

interface EntryProps {
  entry: Schemas['AuditEntry'];
  /** That what it tells of was taken back later. */
  takenBack: Schemas['TakenBack'] | undefined;
  byCase: boolean;
  linked: boolean;
  now: Date;
}

function Entry({ entry, takenBack, byCase, linked, now }: EntryProps) {
  return (
    <div className={byCase ? `entry ${styles.wide}` : 'entry'}>
      <time className="mid" dateTime={entry.at} title={entry.at}>
        {byCase ? dayTime(entry.at, now) : time(entry.at)}
      </time>
      <span>
        <span className="mid">{entry.author}: </span>
        {entry.sentence}{' '}
        {takenBack !== undefined && (
          <b>
            Taken back by {takenBack.author}, {dayTime(takenBack.at, now)}.{' '}
          </b>
        )}
        {entry.subject !== '' && linked && (
          <Link className="mid" to={`/record?subject=${encodeURIComponent(entry.subject)}`}>
            {entry.subject}
          </Link>
        )}
      </span>
    </div>
  );
}
