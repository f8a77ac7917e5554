import { Select } from 'antd';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { readsEverything, useCarrierHosts, useCarriersOf, useSession } from '../api/queries';
import { CarriedCurve } from '../carriers/CarriedCurve';
import styles from '../carriers/carriers.module.css';
import { DifferenceSince } from '../carriers/DifferenceSince';
import { PastHosts } from '../carriers/PastHosts';
import { PresentHosts } from '../carriers/PresentHosts';
import { StateTable } from '../carriers/StateTable';
import { useDifference, usePast, usePastHosts } from '../carriers/usePast';
import { FailureDialog } from '../case/EvidenceDialogs';
import { DayPart } from '../frame/DayPart';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useNamed } from '../frame/useNamed';
import { useNow } from '../frame/useNow';
import { count, dayOf, dayTime, isoDay } from '../words/dates';
import { STATES, type State, stateWord } from '../words/states';

/** How far back a comparison reaches at first, in days. */
const USUAL_DAYS = 14;

/** One update: its states by population, which add up, and the hosts by name; now, or on a past day, or between two. */
export default function CarriersOf() {
  const id = useNamed();
  const now = useNow();
  const [search, setSearch] = useSearchParams();
  const populations = search.get('population')?.split(',') ?? [];
  const state = (search.get('state') ?? undefined) as State | undefined;
  const today = isoDay(now, 0);
  const asked = search.get('on') ?? undefined;
  const on = asked === undefined || asked === today ? undefined : asked;
  const since = search.get('since') ?? undefined;
  const readable = (day: string | undefined) => (day !== undefined && dayOf(day, now) !== undefined ? day : undefined);
  const carriers = useCarriersOf(id);
  const hosts = useCarrierHosts(id, populations, state);
  const past = usePast(id, readable(on));
  const pastHosts = usePastHosts(id, readable(on), populations, state);
  const difference = useDifference(id, readable(since), readable(on));
  const role = useSession().data?.role;
  const tells = role === 'DESK' || role === 'ANALYST';
  const [telling, setTelling] = useState(false);
  const { takeBack } = useLastAct();

  const change = (changes: Record<string, string | undefined>) =>
    setSearch((before) => {
      const next = new URLSearchParams(before);
      for (const [name, value] of Object.entries(changes)) {
        value === undefined ? next.delete(name) : next.set(name, value);
      }
      return next;
    });
  const compare = () => change({ since: since === undefined ? isoDay(new Date(`${on ?? today}T00:00:00Z`), -USUAL_DAYS) : undefined });
  useKeys({
    Escape: () => window.history.back(),
    t: () => tells && setTelling(true),
    u: () => tells && takeBack(),
    d: compare,
    '[': () => change({ on: isoDay(new Date(`${on ?? today}T00:00:00Z`), -1) }),
    ']': () =>
      on !== undefined &&
      change({ on: isoDay(new Date(`${on}T00:00:00Z`), 1) === today ? undefined : isoDay(new Date(`${on}T00:00:00Z`), 1) }),
  });
  if (carriers.isLoadingError) {
    return <Failed what={`Who carries ${id}`} error={carriers.error} again={carriers.refetch} />;
  }
  if (!carriers.data) {
    return <Loading what={`who carries ${id}`} />;
  }
  const shown = on === undefined ? carriers.data : past.data;
  const { row } = carriers.data;
  const columns = shown?.columns ?? carriers.data.columns;
  const total = (on === undefined ? hosts.data : pastHosts.data)?.pages[0]?.count ?? 0;
  const address = `/api/carriers/${encodeURIComponent(id)}`;
  const query = (fields: Record<string, string | undefined>) =>
    new URLSearchParams(Object.entries(fields).filter((e): e is [string, string] => !!e[1])).toString();
  const ofHosts = { population: search.get('population') ?? undefined, state };
  return (
    <main>
      <div className="head">
        <Heading>
          Who {on === undefined ? 'carries' : 'carried'} {row.title}
        </Heading>
        <span className="mid">{row.id}</span>
        <span>
          {on === undefined ? 'now; or at the end of' : 'at the end of'}{' '}
          <DayPart
            label="As of the end of"
            value={asked ?? today}
            now={now}
            change={(day) => change({ on: day === today ? undefined : day })}
          />
        </span>
        <button type="button" className="plain link" aria-pressed={since !== undefined} onClick={compare}>
          {since === undefined ? 'Compare with an earlier day' : 'Do not compare'}
        </button>
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
        {on !== undefined && (
          <p role="note" className="mid">
            Versions, silence and which hosts there were are those of that day; populations and fixed versions are those of today. Which
            restarts were outstanding then is not kept: who waited for one counts as carrying it.
            {past.data !== undefined &&
              past.data.firstRead > past.data.at &&
              ` Nobody here knew of the update then: it was first read ${dayTime(past.data.firstRead, now)}.`}
          </p>
        )}
        {since !== undefined && (
          <>
            <div className={styles.since}>
              Compared with the end of{' '}
              <DayPart label="Compared with the end of" value={since} now={now} change={(day) => change({ since: day })} />
            </div>
            <DifferenceSince
              difference={difference}
              now={now}
              csv={`${address}/difference.csv?${query({ from: since, to: on })}`}
              close={() => change({ since: undefined })}
            />
          </>
        )}
        {on !== undefined && past.isError && <Failed what="That day" error={past.error} again={past.refetch} />}
        {on !== undefined && past.isPending && readable(on) !== undefined && <Loading what="that day" />}
        {shown && (
          <StateTable
            columns={columns}
            row={shown.row}
            populations={populations}
            pick={(population, picked) => change({ population, state: picked })}
          />
        )}
        {on === undefined && <CarriedCurve update={id} populations={populations} now={now} />}
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
            onChange={(values: string[]) => change({ population: values.join(',') || undefined })}
            options={columns.map((c) => ({ value: c.id, label: c.name }))}
          />
          <Select
            aria-label="State"
            allowClear
            placeholder="All it is for"
            className={styles.short}
            value={state}
            onChange={(value) => change({ state: value })}
            options={STATES.map(({ value, label }) => ({ value, label }))}
          />
          <span className="space" />
          <a
            href={on === undefined ? `${address}/hosts.csv?${query(ofHosts)}` : `${address}/past/hosts.csv?${query({ ...ofHosts, on })}`}
            download
          >
            CSV of these hosts
          </a>
        </div>
        {on === undefined ? <PresentHosts update={id} hosts={hosts} now={now} /> : readable(on) && <PastHosts hosts={pastHosts} />}
      </div>
      {telling && <FailureDialog update={id} close={() => setTelling(false)} />}
      <Legend>
        <Key name="Escape">back</Key>
        <Key name="[ ]">a day earlier, later</Key>
        <Key name="D">compare with an earlier day</Key>
        {tells && <Key name="T">report a failure</Key>}
        <span>A count opens to its hosts. What is in force opens into its chain of reasons.</span>
      </Legend>
    </main>
  );
}
