import { Button, Select } from 'antd';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Schemas } from '../api/client';
import { readsEverything, useCarrierHosts, useCarriersOf, useRuling, useSession } from '../api/queries';
import { FailureDialog } from '../case/EvidenceDialogs';
import { Row } from '../frame/Boundary';
import { Chain } from '../frame/Chain';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useNamed } from '../frame/useNamed';
import { useNow } from '../frame/useNow';
import { CarriageBar } from '../look/CarriageBar';
import { count, dayTime } from '../words/dates';
import { ruleMatchWords } from '../words/sentences';
import { STATES, type State, stateWord } from '../words/states';
import styles from './CarriersOf.module.css';

/** One update: its states by population, which add up, and the hosts by name. */
export default function CarriersOf() {
  const id = useNamed();
  const now = useNow();
  const [search, setSearch] = useSearchParams();
  const populations = search.get('population')?.split(',') ?? [];
  const state = (search.get('state') ?? undefined) as State | undefined;
  const carriers = useCarriersOf(id);
  const hosts = useCarrierHosts(id, populations, state);
  const role = useSession().data?.role;
  const tells = role === 'DESK' || role === 'ANALYST';
  const [telling, setTelling] = useState(false);
  const { takeBack } = useLastAct();
  useKeys({ Escape: () => window.history.back(), t: () => tells && setTelling(true), u: () => tells && takeBack() });

  const set = (name: string, value: string | undefined) =>
    setSearch((before) => {
      const next = new URLSearchParams(before);
      if (value === undefined) {
        next.delete(name);
      } else {
        next.set(name, value);
      }
      return next;
    });
  if (carriers.isLoadingError) {
    return <Failed what={`Who carries ${id}`} error={carriers.error} again={carriers.refetch} />;
  }
  if (!carriers.data) {
    return <Loading what={`who carries ${id}`} />;
  }
  const { row, columns } = carriers.data;
  const query = new URLSearchParams(
    Object.entries({ population: search.get('population'), state }).filter((e): e is [string, string] => !!e[1]),
  ).toString();
  const listed = hosts.data?.pages.flatMap((page) => page.hosts) ?? [];
  const total = hosts.data?.pages[0]?.count ?? 0;
  return (
    <main>
      <div className="head">
        <Heading>Who carries {row.title}</Heading>
        <span className="mid">{row.id}</span>
        <span className="space" />
        {tells && (
          <button type="button" className="plain link" onClick={() => setTelling(true)}>
            Report a failure
          </button>
        )}
        {role !== undefined && readsEverything(role) && <Link to={`/cases/${encodeURIComponent(id)}`}>Case</Link>}
        <Link to="/carriers">All updates</Link>
      </div>
      <div className="page">
        {row.notRead > 0 && (
          <p role="note">
            <Term name="products not read">{count(row.notRead, 'product')} not read</Term>: nobody knows which hosts have{' '}
            {row.notRead === 1 ? 'it' : 'them'}; the states below are without {row.notRead === 1 ? 'it' : 'them'}.
          </p>
        )}
        <table className="list" aria-label="States by population">
          <thead>
            <tr>
              <th scope="col">Population</th>
              <th scope="col" className={styles.bars} />
              {STATES.map((s) => (
                <th scope="col" key={s.value} className={styles.number}>
                  <Term name={s.term}>{s.label}</Term>
                </th>
              ))}
              <th scope="col" className={styles.number}>
                all hosts
              </th>
            </tr>
          </thead>
          <tbody>
            {columns.map((column, index) => {
              const cell = row.cells[index];
              return cell === undefined || column.hosts === 0 ? null : (
                <StateRow
                  key={column.id}
                  name={column.name}
                  cell={cell}
                  hosts={column.hosts}
                  current={populations.includes(column.id)}
                  pick={(s) => setSearch(s === undefined ? { population: column.id } : { population: column.id, state: s })}
                />
              );
            })}
            <StateRow
              name="All hosts"
              cell={row.fleet}
              hosts={columns.reduce((sum, column) => sum + column.hosts, 0)}
              current={populations.length === 0}
              pick={(s) => setSearch(s === undefined ? {} : { state: s })}
            />
          </tbody>
        </table>
        <div className={`head ${styles.hostsHead}`}>
          <h2>
            {count(total, 'host')}
            {state !== undefined ? `, ${stateWord(state)}` : ' that it is for'}
            {populations.length > 0 &&
              `, ${columns
                .filter((column) => populations.includes(column.id))
                .map((column) => column.name)
                .join(', ')}`}
          </h2>
          <Select
            aria-label="Populations"
            mode="multiple"
            allowClear
            placeholder="All populations"
            className={styles.populations}
            value={populations}
            onChange={(values: string[]) => set('population', values.join(',') || undefined)}
            options={columns.map((c) => ({ value: c.id, label: c.name }))}
          />
          <Select
            aria-label="State"
            allowClear
            placeholder="All it is for"
            className={styles.short}
            value={state}
            onChange={(value) => set('state', value)}
            options={STATES.map(({ value, label }) => ({ value, label }))}
          />
          <span className="space" />
          <a href={`/api/carriers/${encodeURIComponent(id)}/hosts.csv?${query}`} download>
            CSV of these hosts
          </a>
        </div>
        {hosts.isLoadingError && <Failed what="The hosts" error={hosts.error} again={hosts.refetch} />}
        {hosts.data && total === 0 && <p className="mid">No host is in this state.</p>}
        {total > 0 && (
          <table className="list" aria-label="Hosts">
            <thead>
              <tr>
                <th scope="col">Host</th>
                <th scope="col">Population</th>
                <th scope="col">State</th>
                <th scope="col">Found, and expected</th>
                <th scope="col">Last report</th>
                <th scope="col">In force</th>
              </tr>
            </thead>
            <tbody>
              {listed.map((host) => (
                <Row key={host.name} what={host.name} columns={6}>
                  {() => <HostRow update={id} host={host} now={now} />}
                </Row>
              ))}
            </tbody>
          </table>
        )}
        {hosts.hasNextPage && (
          <Button onClick={() => hosts.fetchNextPage()} loading={hosts.isFetchingNextPage} className={styles.more}>
            Show more; {listed.length} of {total} are shown
          </Button>
        )}
      </div>
      {telling && <FailureDialog update={id} close={() => setTelling(false)} />}
      <Legend>
        <Key name="Escape">back</Key>
        {tells && <Key name="T">tell a failure</Key>}
        <span>A count opens to its hosts. What is in force opens into its chain of reasons.</span>
      </Legend>
    </main>
  );
}

function StateRow({
  name,
  cell,
  hosts,
  current,
  pick,
}: {
  name: string;
  cell: Schemas['StateCounts'];
  hosts: number;
  current: boolean;
  pick: (state?: State) => void;
}) {
  const counts: [State, number][] = STATES.map((s) => [s.value, cell[s.count]]);
  return (
    <tr aria-current={current}>
      <td className="name" style={current ? { boxShadow: 'inset 4px 0 0 var(--ink)', paddingLeft: 10 } : { paddingLeft: 10 }}>
        <button type="button" className="plain" onClick={() => pick()}>
          {name}
        </button>
      </td>
      <td className={styles.bar}>
        <CarriageBar counts={cell} width={200} height={12} />
      </td>
      {counts.map(([state, number]) => (
        <td key={state} className={styles.number}>
          {number === 0 ? (
            <span className="faint">0</span>
          ) : (
            <button
              type="button"
              className="plain link strong"
              aria-label={`${name}: ${number} ${stateWord(state)}`}
              onClick={() => pick(state)}
            >
              {number}
            </button>
          )}
        </td>
      ))}
      <td className={styles.number}>{hosts}</td>
    </tr>
  );
}

function HostRow({ update, host, now }: { update: string; host: Schemas['CarrierHost']; now: Date }) {
  const [open, setOpen] = useState(false);
  const ruling = useRuling(update, open ? host.name : undefined);
  return (
    <tr>
      <td className="strong nowrap">{host.name}</td>
      <td className="nowrap">{host.population}</td>
      <td>
        {stateWord(host.state)}
        {host.state === 'UNKNOWN' && <span className="mid">, last known: {stateWord(host.lastKnown)}</span>}
        {host.viaSuccessor && <span className="mid"> via successor</span>}
        {host.told !== undefined && (host.state === 'FAILED' || host.state === 'CLAIMED') && (
          <div className="mid">
            {host.told.code !== undefined && `${host.told.code}, `}
            {dayTime(host.told.at, now)}
          </div>
        )}
      </td>
      <td>
        {host.versions.map((version) => (
          <div key={version.product} className="nowrap">
            {version.product} {version.found}
            {version.expected !== undefined && version.expected !== version.found && (
              <span className="mid">, fixed in {version.expected}</span>
            )}
            {version.running !== undefined && <span>, {version.running} still runs</span>}
            {version.level !== undefined && (
              <div className="mid">
                <Term name="level">level</Term> {version.level}
                {version.track !== undefined && `, track from ${version.track}`}
              </div>
            )}
          </div>
        ))}
      </td>
      <td className="nowrap">{dayTime(host.lastReport, now)}</td>
      <td>
        <button type="button" className="plain link" aria-expanded={open} onClick={() => setOpen(!open)}>
          {ruleMatchWords(host.holds, now)}
        </button>
        {host.until !== undefined && host.until !== host.holds.end && <span className="mid">; changes {dayTime(host.until, now)}</span>}
        {open && ruling.isError && <div className="mid">The chain of reasons cannot be shown: {ruling.error.message}</div>}
        {open && ruling.data && <Chain chain={ruling.data.chain} now={now} />}
      </td>
    </tr>
  );
}
