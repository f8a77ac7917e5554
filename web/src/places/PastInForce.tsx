import { useQuery } from '@tanstack/react-query';
import type { InputRef } from 'antd';
import { useRef } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { Row } from '../frame/Boundary';
import { DayPart } from '../frame/DayPart';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { count, day, dayOf, dayTime, isoDay, lastDay } from '../words/dates';
import { markOfRow, whatWords } from '../words/inForce';
import { reasonWords } from '../words/sentences';
import { InForceFilters, inForceAsked } from './InForceFilters';

type StoodRow = Schemas['StoodRow'];

/** What was in force at the end of a past day, and what became of it. */
export function PastInForce() {
  const now = useNow();
  const [search, set] = useAddress();
  const written = search.get('on') ?? '';
  const on = dayOf(written, now);
  const asked = inForceAsked(search);
  const past = useQuery({
    queryKey: ['in force', 'past', on, asked],
    queryFn: () => body(api.GET('/api/in-force/past', { params: { query: { on: on ?? '', ...asked } } })),
    enabled: on !== undefined,
    retry: false,
  });
  const finding = useRef<InputRef>(null);
  const step = (by: number) => {
    const next = isoDay(new Date(`${on ?? isoDay(now, -1)}T00:00:00Z`), by);
    if (next < isoDay(now, 0)) {
      set({ on: next });
    }
  };
  useKeys({
    '/': () => finding.current?.focus(),
    '[': () => step(-1),
    ']': () => step(1),
    Escape: () => set({ on: undefined }),
  });
  const rows = past.data?.rows ?? [];
  const query = new URLSearchParams({
    on: on ?? '',
    ...Object.fromEntries(Object.entries(asked).filter((one): one is [string, string] => one[1] !== undefined)),
  });
  return (
    <main>
      <div className="head">
        <Heading>In force then</Heading>
        <span>
          at the end of <DayPart label="At the end of" value={written} now={now} change={(next) => set({ on: next })} />
        </span>
        <span className="mid">{past.data && count(rows.length, 'decision')}</span>
        <span className="space" />
        <InForceFilters asked={asked} people={past.data?.people ?? []} finding={finding} set={set} />
        <button type="button" className="plain link" onClick={() => set({ on: undefined })}>
          Now
        </button>
        <a href={`/api/in-force/past.csv?${query}`} download>
          CSV
        </a>
      </div>
      {past.isError && <Failed what="That day" error={past.error} again={past.refetch} />}
      {past.isLoading && <Loading what="that day" />}
      {past.data && (
        <div className="page">
          <p role="note" className="mid">
            Which hosts each was for is not kept.{' '}
            {past.data.keptDay === undefined
              ? 'No day until then was kept: forces stand here although every host may have had the update.'
              : 'Forces, and what was left to a rule, stand here if hosts lacked the update then, or nobody knew.'}
          </p>
          {rows.length === 0 ? (
            <p className="empty">
              <strong>
                {Object.values(asked).some((value) => value !== undefined) ? 'Nothing of that day matches.' : 'Nothing was in force.'}
              </strong>
            </p>
          ) : (
            <table className="list" aria-label="Decisions in force then">
              <thead>
                <tr>
                  <th scope="col">Until</th>
                  <th scope="col">What, and for whom</th>
                  <th scope="col">Decided</th>
                  <th scope="col">Since then</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <Row key={`${row.kind} ${row.number}`} what={`${row.kind} no. ${row.number}`} columns={4}>
                    {() => <Stood row={row} now={now} />}
                  </Row>
                ))}
              </tbody>
            </table>
          )}
        </div>
      )}
      <Legend>
        <Key name="[ ]">a day earlier, later</Key>
        <Key name="Escape">now</Key>
        <Key name="/">search</Key>
      </Legend>
    </main>
  );
}

function Stood({ row, now }: { row: StoodRow; now: Date }) {
  return (
    <tr>
      <td className="nowrap">{row.kind === 'FREEZE' ? dayTime(row.end, now) : lastDay(row.end, now, row.timeZone)}</td>
      <td>
        <Mark name={markOfRow(row)} />{' '}
        {row.update === undefined ? (
          <span className="strong">{row.about}</span>
        ) : (
          <Link to={`/cases/${encodeURIComponent(row.update)}`}>{row.title || row.about}</Link>
        )}{' '}
        <span className="mid">{row.update !== undefined && row.title !== '' && row.about}</span>
        <div className="mid">{whatWords(row, now)}</div>
      </td>
      <td>
        {row.author}, {day(row.since, now)}
        {row.owner !== undefined && row.owner !== row.author && <span className="mid">; owner {row.owner}</span>}
        <div className="mid">{reasonWords(row.reasons, row.words)}</div>
      </td>
      <td>{becameWords(row, now)}</td>
    </tr>
  );
}

/** "taken back Tue 4 Nov", "ended Thu 12 Nov", "still stands". */
function becameWords(row: StoodRow, now: Date): string {
  switch (row.became) {
    case 'TAKEN_BACK':
      return `taken back ${day(row.becameAt ?? row.end, now)}`;
    case 'WENT_ON':
      return `renewed or handed over ${day(row.becameAt ?? row.end, now)}`;
    case 'ENDED':
      return `ended ${lastDay(row.becameAt ?? row.end, now, row.timeZone)}`;
    default:
      return row.kind === 'FORCE' ? 'stands until every host has it' : 'still stands';
  }
}
