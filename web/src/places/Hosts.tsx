import { Button, Input, Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Refusal, type Schemas } from '../api/client';
import { useHosts, usePopulations, useSession } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { decoded } from '../frame/useNamed';
import { useNow } from '../frame/useNow';
import { useSettled } from '../frame/useSettled';
import { WhereFault, WherePart } from '../frame/WherePart';
import { Asked } from '../hosts/Asked';
import { Chosen, useAskNow, useExceptThese } from '../hosts/Chosen';
import { SavedFilters } from '../hosts/SavedFilters';
import { differenceWords, WAYS, type Way } from '../hosts/words';
import { count, dayTime } from '../words/dates';
import { ruleMatchWords } from '../words/sentences';
import { stateWord } from '../words/states';
import styles from './Hosts.module.css';

const ASKING = ['ANALYST', 'DESK', 'OPERATOR'];

const CRITERIA = ['show', 'population', 'where', 'find', 'lacks', 'has'];

/** The hosts: those that differ, or any that are looked for. */
export default function Hosts() {
  const now = useNow();
  const navigate = useNavigate();
  const [search, set] = useAddress();
  const list = useRef<HTMLTableSectionElement>(null);
  const show = search.get('show') ?? undefined;
  const asked = {
    differing: show === undefined ? true : undefined,
    way: show === undefined || show === 'ALL' ? undefined : (show as Way),
    population: search.get('population') ?? undefined,
    where: search.get('where') ?? undefined,
    find: search.get('find') ?? undefined,
    lacks: search.get('lacks') ?? undefined,
    has: search.get('has') ?? undefined,
  };
  const settled = useSettled(JSON.stringify(asked));
  const hosts = useHosts(JSON.parse(settled) as typeof asked);
  const populations = usePopulations();
  const fault = hosts.error instanceof Refusal ? hosts.error : undefined;
  const first = hosts.data?.pages[0];
  const rows = hosts.data?.pages.flatMap((page) => page.hosts) ?? [];
  const at = Math.max(
    0,
    rows.findIndex((row) => row.name === search.get('at')),
  );
  const [chosen, setChosen] = useState<string[]>([]);
  const role = useSession().data?.role;
  const mayAsk = ASKING.includes(role ?? '');
  const exceptThese = useExceptThese();
  const ask = useAskNow(() => {
    setChosen([]);
    set({ asked: 'yes' });
  });
  const choose = (name: string) =>
    setChosen((before) => (before.includes(name) ? before.filter((other) => other !== name) : [...before, name]));
  const askNow = () => {
    const hosts = chosen.length > 0 ? chosen : rows[at] ? [rows[at].name] : [];
    if (mayAsk && hosts.length > 0 && !ask.isPending) {
      ask.now(hosts);
    }
  };
  const lacking = first?.lacked.length === 1 ? first.lacked[0] : undefined;
  const exceptNow = role === 'ANALYST' && lacking !== undefined && chosen.length > 0 ? () => exceptThese(chosen, lacking.id) : undefined;
  const move = (to: number) => set({ at: rows[Math.min(Math.max(to, 0), rows.length - 1)]?.name });
  useEffect(() => {
    list.current?.querySelectorAll('tr')[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  useKeys({
    ArrowDown: () => move(at + 1),
    ArrowUp: () => move(at - 1),
    Home: () => move(0),
    End: () => move(rows.length - 1),
    ' ': () => rows[at] && choose(rows[at].name),
    a: askNow,
    e: () => exceptNow?.(),
    Enter: () => rows[at] && navigate(`/hosts/${encodeURIComponent(rows[at].name)}`),
    Escape: () => {
      // The first one only leaves the field in which somebody types.
      if (document.activeElement instanceof HTMLInputElement) {
        document.activeElement.blur();
      } else {
        set({ lacks: undefined, has: undefined, where: undefined, find: undefined, population: undefined });
      }
    },
  });
  if (hosts.isLoadingError && !fault) {
    return <Failed what="The hosts" error={hosts.error} again={hosts.refetch} />;
  }
  if (!first && !fault) {
    return <Loading what="the hosts" />;
  }
  const query = new URLSearchParams(CRITERIA.flatMap((name) => (search.has(name) ? [[name, search.get(name) ?? '']] : [])));
  const csv = new URLSearchParams(Object.entries(asked).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])));
  const choice = (which: string | undefined, words: string, number: number | undefined) => (
    <button type="button" className="plain" aria-current={show === which} onClick={() => set({ show: which, at: undefined })}>
      {words} {number}
    </button>
  );
  const traits = first?.traits ?? [];
  const lacked = first?.lacked ?? [];
  return (
    <main>
      <div className="head">
        <Heading>{title(show, asked, first?.count ?? 0, lacked)}</Heading>
        <span className="space" />
        <SavedFilters query={query.toString()} />
        <a href={`/api/hosts/hosts.csv?${csv}`} download>
          CSV of these hosts
        </a>
      </div>
      <div className={`head tight ${styles.filters}`}>
        <span className="choices">
          {choice(undefined, 'Differ', first?.differing)}
          {WAYS.map(({ way, label }) => (
            <span key={way}>{choice(way, label, first?.ways[way])}</span>
          ))}
          {choice('ALL', 'All', first?.all)}
        </span>
      </div>
      <div className="head tight filters">
        <Input
          aria-label="Part of the name"
          placeholder="Part of the name"
          allowClear
          className={styles.short}
          value={asked.find ?? ''}
          onChange={(event) => set({ find: event.target.value })}
        />
        <span className="where">
          where{' '}
          <WherePart
            label="Hosts where"
            placeholder="any"
            value={asked.where ?? ''}
            traits={traits}
            fault={fault?.field === 'where'}
            change={(where) => set({ where })}
          />
        </span>
        <Select
          aria-label="Population"
          allowClear
          placeholder="Any population"
          popupMatchSelectWidth={false}
          className={styles.population}
          value={asked.population}
          onChange={(population) => set({ population })}
          options={[
            ...(populations.data?.populations ?? []).map((p) => ({ value: p.id, label: p.name })),
            { value: 'none', label: 'In no population' },
          ]}
        />
        {asked.lacks !== undefined && (
          <span className="mid">
            lacks <b>{asked.lacks}</b>{' '}
            <button type="button" className="plain link" onClick={() => set({ lacks: undefined })}>
              any
            </button>
          </span>
        )}
        {asked.has !== undefined && (
          <span className="mid">
            has <b>{decoded(asked.has)}</b>{' '}
            <button type="button" className="plain link" onClick={() => set({ has: undefined })}>
              any
            </button>
          </span>
        )}
      </div>
      {chosen.length > 0 && (
        <Chosen
          names={chosen}
          askNow={mayAsk ? askNow : undefined}
          except={exceptNow && lacking && { update: lacking.id, word: exceptNow }}
          none={() => setChosen([])}
        />
      )}
      <div className="page">
        <Asked open={search.get('asked') === 'yes'} turn={(open) => set({ asked: open ? 'yes' : undefined })} now={now} />
        {fault && (
          <WhereFault text={fault.field === 'where' ? (asked.where ?? '') : ''} message={fault.message} position={fault.position} />
        )}
        {(first?.retired.length ?? 0) > 0 && show === 'ALL' && (
          <p className="mid flat">
            {count(first?.retired.length ?? 0, 'host is', 'hosts are')} retired and counted nowhere:{' '}
            {first?.retired.map((name, place) => (
              <span key={name}>
                {place > 0 && ', '}
                <Link to={`/hosts/${encodeURIComponent(name)}`}>{name}</Link>
              </span>
            ))}
          </p>
        )}
        {!fault && rows.length === 0 && <NoHosts show={show} all={first?.all ?? 0} />}
        {rows.length > 0 && (
          <table className="list" aria-label="Hosts">
            <thead>
              <tr>
                <th scope="col" aria-label="Chosen" />
                <th scope="col" className={styles.host}>
                  Host
                </th>
                <th scope="col">Population</th>
                {lacked.length > 0 && <th scope="col">Lacks, and what is in force</th>}
                {asked.has !== undefined && <th scope="col">Version</th>}
                <th scope="col">How it differs</th>
                <th scope="col">Last report</th>
                <th scope="col">
                  <Term name="supply">Takes from</Term>
                </th>
              </tr>
            </thead>
            <tbody ref={list}>
              {rows.map((row, index) => (
                <Row key={row.name} what={row.name} columns={8}>
                  {() => (
                    <tr aria-current={index === at} className={index === at ? 'current' : ''}>
                      <td className={styles.choose}>
                        <input
                          type="checkbox"
                          aria-label={`Choose ${row.name}`}
                          checked={chosen.includes(row.name)}
                          onChange={() => choose(row.name)}
                        />
                      </td>
                      <td className="name nowrap">
                        <Link className="name" to={`/hosts/${encodeURIComponent(row.name)}`}>
                          {row.name}
                        </Link>
                        <span className="mid small">&ensp;{row.platform}</span>
                      </td>
                      <td className="nowrap">{row.population}</td>
                      {lacked.length > 0 && (
                        <td>
                          {row.lacks.map((update) => (
                            <div key={update.id}>
                              <Link to={`/carriers/${encodeURIComponent(update.id)}`}>{update.id}</Link> {stateWord(update.state)};{' '}
                              {ruleMatchWords(update.holds, now)}
                            </div>
                          ))}
                        </td>
                      )}
                      {asked.has !== undefined && <td>{row.versions.join(', ')}</td>}
                      <td>
                        {row.differences.map((difference) => (
                          <div key={difference.way}>{differenceWords(difference, row, now)}</div>
                        ))}
                      </td>
                      <td className="nowrap">{dayTime(row.lastReport, now)}</td>
                      <td>{row.supply ?? <span className="mid">unknown</span>}</td>
                    </tr>
                  )}
                </Row>
              ))}
            </tbody>
          </table>
        )}
        {hosts.hasNextPage && (
          <Button onClick={() => hosts.fetchNextPage()} loading={hosts.isFetchingNextPage} className={styles.more}>
            Show more; {rows.length} of {first?.count} are shown
          </Button>
        )}
      </div>
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">open</Key>
        <Key name="Space">choose</Key>
        {mayAsk && <Key name="A">ask to report now</Key>}
        <Key name="/">search everything</Key>
        <Key name="Escape">drop the filters</Key>
      </Legend>
    </main>
  );
}

function title(show: string | undefined, asked: { lacks?: string; has?: string }, hosts: number, lacked: Schemas['UpdateName'][]): string {
  const of = count(hosts, 'host');
  if (asked.lacks !== undefined) {
    return lacked.length === 1 && lacked[0]?.id === asked.lacks
      ? `${of} ${hosts === 1 ? 'lacks' : 'lack'} ${lacked[0].title}`
      : `${of} ${hosts === 1 ? 'lacks' : 'lack'} what closes ${asked.lacks}`;
  }
  if (asked.has !== undefined) {
    return `${of} ${hosts === 1 ? 'has' : 'have'} ${productWords(asked.has)}`;
  }
  if (show === undefined) {
    return `${of} ${hosts === 1 ? 'differs' : 'differ'}`;
  }
  const way = WAYS.find((w) => w.way === show);
  return way === undefined ? of : `${of}: ${way.label.toLowerCase()}`;
}

/** Name and version of a package URL, which encodes what is unusual in them; as it stands if it is none. */
const productWords = (purl: string) => decoded(purl).replace(/^.*\//, '').replace('@', ' ');

function NoHosts({ show, all }: { show: string | undefined; all: number }) {
  if (all === 0) {
    return (
      <p className="empty">
        <strong>No host has reported yet.</strong>Each host that reports itself, or that a table names, stands here.{' '}
        <Link to="/intake">Bring an inventory in</Link>.
      </p>
    );
  }
  return (
    <p className="empty">
      <strong>{show === undefined ? 'No host differs.' : 'No host is like that.'}</strong>
      {show === undefined
        ? 'Hosts that are silent, lack what is forced, wait for a restart, take updates from elsewhere or are in no population stand here.'
        : 'Escape drops the filters.'}
    </p>
  );
}
