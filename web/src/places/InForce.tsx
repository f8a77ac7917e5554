import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import type { InputRef } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, body, type Schemas, undoOf } from '../api/client';
import { useOperatorWork, usePopulations, useRuleDays, useSession } from '../api/queries';
import { changeAddress, holidaysOf, isMovable, ruleDays, slotsOf, supportEnds } from '../calendar/days';
import { Lanes } from '../calendar/Lanes';
import { Row } from '../frame/Boundary';
import { CautionDialog } from '../frame/CautionDialog';
import { Heading } from '../frame/Heading';
import { HostNames } from '../frame/HostNames';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { count, day, dayTime, isoDay, lastDay } from '../words/dates';
import { markOfRow, thenWords, whatWords } from '../words/inForce';
import { reasonWords } from '../words/sentences';
import styles from './InForce.module.css';
import { InForceFilters, inForceAsked } from './InForceFilters';
import { PastInForce } from './PastInForce';

type InForceRow = Schemas['InForceRow'];

/** What people have decided: what is in force now, or was on a past day. */
export default function InForce() {
  const [search] = useAddress();
  return search.get('on') === null ? <Now /> : <PastInForce />;
}

/** Everything that is in force now, what ends first in front. */
function Now() {
  const now = useNow();
  const navigate = useNavigate();
  const [search, set] = useAddress();
  const populations = usePopulations();
  const asked = inForceAsked(search);
  const standing = useInfiniteQuery({
    queryKey: ['in force', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/in-force', { params: { query: { ...asked, from: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
  const analyst = useSession().data?.role === 'ANALYST';
  const [cautioning, setCautioning] = useState(false);
  const calendar = search.get('face') === 'calendar';
  const operatorWork = useOperatorWork(undefined, calendar);
  const byRule = useRuleDays(calendar);
  const rows = standing.data?.pages.flatMap((page) => page.rows) ?? [];
  const first = standing.data?.pages[0];
  const keyOf = (row: InForceRow) => `${row.kind} ${row.number}`;
  const at = Math.max(
    0,
    rows.findIndex((row) => keyOf(row) === search.get('at')),
  );
  const move = (to: number) => {
    const row = rows[Math.min(Math.max(to, 0), rows.length - 1)];
    if (row) {
      set({ at: keyOf(row) });
    }
  };
  const current = rows[at];
  const finding = useRef<InputRef>(null);
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = standing;
  // A calendar that shows some ends and not others would say that nothing ends on the other days.
  useEffect(() => {
    if (calendar && hasNextPage && !isFetchingNextPage) {
      void fetchNextPage();
    }
  }, [calendar, hasNextPage, isFetchingNextPage, fetchNextPage]);
  useKeys({
    c: () => set({ face: calendar ? undefined : 'calendar' }),
    '/': () => finding.current?.focus(),
    ...(calendar ? {} : { ArrowDown: () => move(at + 1), ArrowUp: () => move(at - 1) }),
    Enter: () => !calendar && current?.update !== undefined && navigate(`/cases/${encodeURIComponent(current.update)}`),
  });
  const lanes = (populations.data?.populations ?? []).map((one) => one.name);
  const only = populations.data?.populations.find(({ id }) => id === asked.population)?.name;
  // Whoever asks for the decisions of a kind or a person, or on an update, asks for nothing else.
  const decisionsOnly = asked.text !== undefined || asked.kind !== undefined || asked.person !== undefined;
  const notes = decisionsOnly
    ? []
    : [
        ...supportEnds(populations.data?.populations ?? []),
        ...slotsOf(operatorWork.data ?? [], now),
        ...ruleDays(byRule.data ?? [], lanes),
      ].filter(({ lane }) => asked.population === undefined || lane === only);
  const narrowed = Object.values(asked).some((value) => value !== undefined);
  return (
    <main>
      <div className="head">
        <Heading>In force</Heading>
        <span className="mid">{first && `${count(first.matching, 'decision')}${calendar ? '' : ', what ends first in front'}`}</span>
        <span className="space" />
        <Link to="/by-operator">By operator</Link>
        {analyst && (
          <button type="button" className="plain link" onClick={() => setCautioning(true)}>
            Caution
          </button>
        )}
        <InForceFilters asked={asked} people={first?.people ?? []} finding={finding} set={set} />
        <button type="button" className="plain link" onClick={() => set({ face: calendar ? undefined : 'calendar' })}>
          {calendar ? 'As a list' : 'As a calendar'}
        </button>
        <button type="button" className="plain link" onClick={() => set({ on: isoDay(now, -1), face: undefined, at: undefined })}>
          On a past day
        </button>
        <a
          href={`/api/in-force/decisions.csv?${new URLSearchParams(Object.entries(asked).filter((one): one is [string, string] => one[1] !== undefined))}`}
          download
        >
          CSV
        </a>
      </div>
      {standing.isLoadingError && <Failed what="What is in force" error={standing.error} again={standing.refetch} />}
      {standing.isPending && <Loading what="what is in force" />}
      {first && rows.length === 0 && !(calendar && notes.length > 0) && (
        <p className="empty">
          <strong>{narrowed ? 'Nothing in force matches.' : 'Nothing is in force.'}</strong>
          {narrowed
            ? 'Take a filter away to see more.'
            : 'Blocks, deferrals, pilots, forces and exceptions stand here while they hold, and what is left to a rule that never offers it.'}
        </p>
      )}
      {calendar && rows.length + notes.length > 0 && (
        <Lanes
          rows={rows}
          lanes={lanes}
          notes={notes}
          holidays={populations.data === undefined ? [] : holidaysOf(populations.data, now)}
          now={now}
          at={search.get('cell') ?? undefined}
          point={(cell) => set({ cell })}
          change={analyst ? (row, until) => navigate(changeAddress(row, until)) : undefined}
        />
      )}
      {rows.length > 0 && !calendar && (
        <div className="page">
          <table className="list" aria-label="Decisions in force">
            <thead>
              <tr>
                <th scope="col" className={styles.first}>
                  Until
                </th>
                <th scope="col">What, and for whom</th>
                <th scope="col">Hosts</th>
                <th scope="col">Then</th>
                <th scope="col">Decided</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row, index) => (
                <Row key={keyOf(row)} what={`${row.kind} no. ${row.number}`} columns={5}>
                  {() => <Standing row={row} now={now} current={index === at} point={() => set({ at: keyOf(row) })} />}
                </Row>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {standing.hasNextPage && (
        <p className="more">
          <button type="button" className="plain link" onClick={() => standing.fetchNextPage()}>
            Show more of {first?.matching}
          </button>
        </p>
      )}
      <Legend>
        <Key name={calendar ? '← → ↑ ↓' : '↑ ↓'}>move</Key>
        {!calendar && <Key name="Enter">open its case</Key>}
        {calendar && analyst && <Key name="E">change what ends there</Key>}
        <Key name="C">{calendar ? 'as a list' : 'as a calendar'}</Key>
        <Key name="/">search</Key>
        <Key name="?">keys</Key>
      </Legend>
      {cautioning && <CautionDialog close={() => setCautioning(false)} />}
    </main>
  );
}

function Standing({ row, now, current, point }: { row: InForceRow; now: Date; current: boolean; point: () => void }) {
  const { takeBackThese } = useLastAct();
  const analyst = useSession().data?.role === 'ANALYST';
  return (
    <tr aria-current={current} className={current ? 'current' : undefined} onClick={point}>
      <td className={`nowrap ${styles.first}`}>
        <span className={row.overdue ? 'strong' : ''}>
          {row.overdue && 'overdue since '}
          {row.kind === 'FREEZE' ? dayTime(row.end, now) : lastDay(row.end, now, row.timeZone)}
        </span>
      </td>
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
        {row.hosts.count === 0 ? (
          <span className="mid">none lacks it now</span>
        ) : (
          <>
            <span className="strong">{row.hosts.count}</span> <HostNames hosts={row.hosts} most={2} />
          </>
        )}
      </td>
      <td>{thenWords(row, now)}</td>
      <td>
        {row.kind === 'FREEZE' && analyst && (
          <button
            type="button"
            className="plain link"
            onClick={() =>
              takeBackThese({ words: `the freeze of ${row.populations.join(', ') || 'everything'}.`, undo: undoOf('freeze', [row.number]) })
            }
          >
            Take back
          </button>
        )}{' '}
        {analyst && isMovable(row) && (
          <Link to={changeAddress(row)} className="noprint">
            Change
          </Link>
        )}{' '}
        {row.author}, {day(row.since, now)}
        {row.owner !== undefined && row.owner !== row.author && <span className="mid">; owner {row.owner}</span>}
        <div className="mid">{reasonWords(row.reasons, row.words)}</div>
      </td>
    </tr>
  );
}
