import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { Input, type InputRef, Select } from 'antd';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { HandOver } from '../access/HandOver';
import { api, body, undoOf } from '../api/client';
import { useSession } from '../api/queries';
import { ExceptionLines } from '../exceptions/ExceptionLines';
import { ProposedExceptions } from '../exceptions/ProposedExceptions';
import { RenewSentence } from '../exceptions/RenewSentence';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { count } from '../words/dates';
import type { ExceptionRow } from '../words/exceptions';
import styles from './Exceptions.module.css';

type Show = 'CURRENT' | 'ENDING' | 'ALL';

const SHOWS: { value: Show; label: string }[] = [
  { value: 'CURRENT', label: 'Standing, and lately over' },
  { value: 'ENDING', label: 'Ending, or just ended' },
  { value: 'ALL', label: 'All' },
];

/** All exceptions, what ends first in front: renewed, ended, or watched to their end. */
export default function Exceptions() {
  const now = useNow();
  const navigate = useNavigate();
  const [search, set] = useAddress();
  const decides = useSession().data?.role === 'ANALYST';
  const { takeBack, takeBackThese } = useLastAct();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [renewing, setRenewing] = useState<ExceptionRow[]>([]);
  const [handingOver, setHandingOver] = useState<string>();
  const asked = {
    show: (search.get('show') ?? 'CURRENT') as Show,
    owner: search.get('owner') ?? undefined,
    text: search.get('text') ?? undefined,
  };
  const exceptions = useInfiniteQuery({
    queryKey: ['exceptions', asked],
    queryFn: ({ pageParam }) => body(api.GET('/api/exceptions', { params: { query: { ...asked, from: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
  const first = exceptions.data?.pages[0];
  const summary = first?.summary;
  const rows = exceptions.data?.pages.flatMap((page) => page.rows) ?? [];
  const standing = rows.filter((row) => row.ended === undefined);
  const at = Math.max(
    0,
    rows.findIndex((row) => String(row.number) === search.get('at')),
  );
  const current = rows[at];
  const move = (to: number) => {
    const row = rows[Math.min(Math.max(to, 0), rows.length - 1)];
    if (row !== undefined) {
      set({ at: String(row.number) });
    }
  };
  const choose = (some: ExceptionRow[]) => {
    const all = some.every((row) => chosen.has(row.number));
    const next = new Set(chosen);
    for (const { number } of some) {
      all ? next.delete(number) : next.add(number);
    }
    setChosen(next);
  };
  const isStanding = current !== undefined && current.ended === undefined;
  const renew = (row: ExceptionRow) => {
    const some = standing.filter((one) => chosen.has(one.number));
    setRenewing(some.length > 0 ? some : [row]);
  };
  const end = () =>
    current &&
    takeBackThese({ words: `exception no. ${current.number} on ${current.about}.`, undo: undoOf('exception', [current.number]) });
  const finding = useRef<InputRef>(null);
  useKeys({
    ArrowDown: () => move(at + 1),
    ArrowUp: () => move(at - 1),
    '/': () => finding.current?.focus(),
    Enter: () => current?.update !== undefined && navigate(`/cases/${encodeURIComponent(current.update)}`),
    ...(decides
      ? {
          ' ': () => isStanding && choose([current]),
          o: () => isStanding && choose(standing.filter((row) => row.owner === current.owner)),
          r: () => isStanding && renew(current),
          x: () => isStanding && end(),
          h: () => isStanding && setHandingOver(current.owner),
          u: takeBack,
          Escape: () => {
            setHandingOver(undefined);
            renewing.length > 0 ? setRenewing([]) : setChosen(new Set());
          },
        }
      : {}),
  });
  const query = new URLSearchParams(Object.entries(asked).filter((one): one is [string, string] => one[1] !== undefined));
  return (
    <main>
      <div className="head">
        <Heading>Exceptions</Heading>
        <span className="mid">
          {summary && `${summary.standing} ${summary.standing === 1 ? 'stands' : 'stand'}`}
          {summary && summary.asking > 0 && (
            <>
              , <b>{summary.asking}</b> {summary.asking === 1 ? 'asks' : 'ask'} for something
            </>
          )}
        </span>
        <span className="space" />
        <Input
          ref={finding}
          aria-label="Search exceptions"
          placeholder="update, host, reason"
          allowClear
          className={styles.find}
          value={asked.text ?? ''}
          onChange={(event) => set({ text: event.target.value })}
        />
        <Select
          aria-label="Owner"
          variant="borderless"
          allowClear
          placeholder="Every owner"
          popupMatchSelectWidth={false}
          value={asked.owner}
          onChange={(value) => set({ owner: value })}
          options={first?.owners.map((value) => ({ value }))}
        />
        <Select
          aria-label="Which exceptions"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={asked.show}
          onChange={(value) => set({ show: value === 'CURRENT' ? undefined : value })}
          options={SHOWS}
        />
        <a href={`/api/exceptions/exceptions.csv?${query}`} download>
          CSV
        </a>
      </div>
      <div className={`page ${styles.sheets}`}>
        {renewing.length > 0 && (
          <RenewSentence
            key={renewing.map((row) => row.number).join()}
            rows={renewing}
            now={now}
            close={() => {
              setRenewing([]);
              setChosen(new Set());
            }}
          />
        )}
        {handingOver !== undefined && <HandOver key={handingOver} person={handingOver} close={() => setHandingOver(undefined)} />}
        <ProposedExceptions now={now} />
      </div>
      {exceptions.isLoadingError && <Failed what="The exceptions" error={exceptions.error} again={exceptions.refetch} />}
      {exceptions.isPending && <Loading what="the exceptions" />}
      {first && rows.length === 0 && (
        <p className="empty">
          <strong>{asked.owner !== undefined || asked.text !== undefined ? 'No exception matches.' : 'There is no exception.'}</strong>
          {asked.owner !== undefined || asked.text !== undefined
            ? 'Take a filter away to see more.'
            : 'Hosts that cannot follow a verdict are excepted on its case, with E: each exception has an owner, a reason and a last day.'}
        </p>
      )}
      {rows.length > 0 && (
        <div className="page">
          <table className={`list ${styles.table}`} aria-label="Exceptions">
            <thead>
              <tr>
                <th scope="col" className={styles.first}>
                  {decides && 'Choose'}
                </th>
                <th scope="col">Last day</th>
                <th scope="col">
                  <Term name="exception">Exception</Term>
                </th>
                <th scope="col">Hosts, and what waiting costs</th>
                <th scope="col">Then</th>
                <th scope="col">Owner</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row, index) => (
                <Row key={row.number} what={`Exception ${row.number}`} columns={6}>
                  {() => (
                    <ExceptionLines
                      row={row}
                      weights={first?.tierWeights ?? []}
                      now={now}
                      current={index === at}
                      chosen={chosen.has(row.number)}
                      decides={decides}
                      point={() => set({ at: String(row.number) })}
                      choose={() => choose([row])}
                      renew={() => renew(row)}
                      handOver={() => setHandingOver(row.owner)}
                    />
                  )}
                </Row>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {exceptions.hasNextPage && (
        <p className="more">
          <button type="button" className="plain link" onClick={() => exceptions.fetchNextPage()}>
            Show more of {count(first?.matching ?? 0, 'exception')}
          </button>
        </p>
      )}
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">open its case</Key>
        {decides && <Key name="Space">choose</Key>}
        {decides && <Key name="O">all of its owner</Key>}
        {decides && <Key name="R">renew</Key>}
        {decides && <Key name="X">end it now</Key>}
        {decides && <Key name="H">hand over</Key>}
        {decides && <Key name="U">take back</Key>}
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}
