import { Input, type InputRef } from 'antd';
import { useRef } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { type MatrixAsked, readsEverything, useMatrix, useSession } from '../api/queries';
import { DaySlider } from '../carriers/DaySlider';
import styles from '../carriers/Matrix.module.css';
import { InForceCell, StateCell } from '../carriers/MatrixCells';
import { MatrixFilters } from '../carriers/MatrixFilters';
import { fileQuery, isNarrowed, matrixAsked, NOTHING_NARROWED } from '../carriers/matrix';
import { ReportFaces } from '../carriers/ReportFaces';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { CarriageBar } from '../look/CarriageBar';
import { count, dayTime, isoDay, lastDay } from '../words/dates';
import { ratingWords } from '../words/sentences';
import { NO_HOSTS } from '../words/states';
import CarrierChanges from './CarrierChanges';

/** Which hosts carry what, and what became of that between two days. */
export default function Carriers() {
  const [search] = useAddress();
  return search.get('face') === 'changes' ? <CarrierChanges /> : <OnOneDay />;
}

/** Updates by populations, now or on a past day; and what is in force for those that lack them. */
function OnOneDay() {
  const now = useNow();
  const [search, set] = useAddress();
  const asked = matrixAsked(search, isoDay(now, 0));
  const matrix = useMatrix(asked);
  const judges = readsEverything(useSession().data?.role);
  const finding = useRef<InputRef>(null);
  const page = matrix.data?.pages[0];
  const days = page?.keptDays ?? [];
  const step = (by: number) => {
    const at = asked.on === undefined ? days.length : days.filter((day) => day <= (asked.on ?? '')).length - 1;
    set({ on: days[Math.max(0, at + by)] });
  };
  const inForce = asked.face === 'IN_FORCE' && asked.on === undefined;
  useKeys({
    s: () => finding.current?.focus(),
    f: () => set({ face: inForce ? undefined : 'in-force', on: undefined }),
    x: () => set(NOTHING_NARROWED),
    '[': () => days.length > 0 && step(-1),
    ']': () => days.length > 0 && asked.on !== undefined && step(1),
  });
  if (matrix.isLoadingError) {
    return <Failed what="The matrix" error={matrix.error} again={matrix.refetch} />;
  }
  if (!page) {
    return <Loading what="which hosts carry what" />;
  }
  const rows = matrix.data?.pages.flatMap((one) => one.rows) ?? [];
  const file = fileQuery(asked);
  const content = asked.content === true;
  return (
    <main>
      <div className="head">
        <Heading>Which hosts {asked.on === undefined ? 'carry' : 'carried'} what</Heading>
        <ReportFaces face={inForce ? '/carriers?face=in-force' : '/carriers'} judges={judges} />
        <span className="space" />
        <span className="choices">
          <Link to="/carriers" aria-current={!content}>
            Updates {page.updates}
          </Link>
          <Link to="/carriers?show=content" aria-current={content}>
            Content {page.content}
          </Link>
        </span>
      </div>
      <div className={styles.second}>
        {!content && !inForce && <DaySlider days={days} on={asked.on} now={now} change={(on) => set({ on })} />}
        <span className="mid">
          {count(page.hosts, 'host')}
          {page.lastReport !== undefined && `, reports read up to ${dayTime(page.lastReport, now)}`}
          {page.unknownHosts !== undefined && `; ${page.unknownHosts} unknown`}
        </span>
        <span className="noprint">
          Export:{' '}
          <a href={`/api/carriers/matrix.csv?${file}`} download>
            CSV
          </a>{' '}
          <a href={`/api/carriers/matrix.json?${file}`} download>
            JSON
          </a>
          {asked.on === undefined && (
            <>
              {' '}
              <a href={`/api/carriers/missing.csv?${file}`} download title="A line for each host and update that it lacks, with versions">
                by host
              </a>
            </>
          )}{' '}
          <button type="button" className="plain link" onClick={() => window.print()}>
            Print
          </button>
        </span>
      </div>
      {page.updates + page.content === 0 ? (
        <p className="empty">
          <strong>No updates yet.</strong>Each update that comes in is a row here, each population a column.{' '}
          <Link to="/intake">Bring documents in</Link>.
        </p>
      ) : (
        <>
          <MatrixFilters page={page} asked={asked} judges={judges} set={set}>
            <Input
              ref={finding}
              aria-label="Find an update"
              placeholder="Find an update or CVE"
              allowClear
              size="small"
              className={styles.find}
              value={search.get('find') ?? ''}
              onChange={(e) => set({ find: e.target.value })}
            />
          </MatrixFilters>
          <div className="page">
            <MatrixTable page={page} rows={rows} asked={asked} now={now} />
            {rows.length === 0 && <Nothing asked={asked} clear={() => set({ ...NOTHING_NARROWED, find: undefined })} />}
            {matrix.hasNextPage && (
              <p className="more">
                <button type="button" className="plain link" onClick={() => matrix.fetchNextPage()}>
                  Show more; {rows.length} of {page.matching} are shown
                </button>
              </p>
            )}
          </div>
        </>
      )}
      <Legend>
        {inForce ? <span>What is in force for the hosts that lack it; a cell opens to them.</span> : <StateKey />}
        <Key name="F">{inForce ? 'state on hosts' : 'what is in force'}</Key>
        <Key name="[ ]">a day earlier, later</Key>
        <Key name="S">find an update</Key>
        <Key name="X">all filters off</Key>
      </Legend>
    </main>
  );
}

interface TableProps {
  page: Schemas['Matrix'];
  rows: Schemas['MatrixRow'][];
  asked: MatrixAsked;
  now: Date;
}

function MatrixTable({ page, rows, asked, now }: TableProps) {
  const past = page.day === undefined ? '' : `&on=${page.day.day}`;
  return (
    <table className={`list matrix ${styles.matrix}`}>
      <thead>
        <tr>
          <th scope="col">Update</th>
          {page.columns.map((column) => (
            <th scope="col" key={column.id}>
              {column.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => {
          const { states } = row;
          const address = `/carriers/${encodeURIComponent(states.id)}`;
          return (
            <Row key={states.id} what={states.id} columns={page.columns.length + 1}>
              {() => (
                <tr>
                  <td>
                    <Link className={`serif strong ${styles.name}`} to={past === '' ? address : `${address}?on=${page.day?.day}`}>
                      {states.title}
                    </Link>
                    <div className="mid">
                      {states.id} · {ratingWords(states.rating)}
                      {row.exploited && ' · known exploited'}
                      {row.nextDue !== undefined &&
                        ` · ${new Date(row.nextDue) <= now ? 'overdue since' : 'due'} ${lastDay(row.nextDue, now)}`}
                      {states.notRead > 0 && ` · ${count(states.notRead, 'product')} not read`}
                    </div>
                  </td>
                  {states.cells.map((counts, index) => {
                    const column = page.columns[index];
                    const to = `${address}?population=${column?.id}${past}`;
                    const cell = row.inForce[index];
                    return (
                      <td key={column?.id}>
                        {asked.face === 'IN_FORCE' && cell !== undefined ? (
                          <InForceCell cell={cell} notRead={states.notRead > 0} counts={counts} now={now} to={to} />
                        ) : (
                          <StateCell counts={counts} notRead={states.notRead > 0} to={to} />
                        )}
                      </td>
                    );
                  })}
                </tr>
              )}
            </Row>
          );
        })}
      </tbody>
    </table>
  );
}

function Nothing({ asked, clear }: { asked: MatrixAsked; clear: () => void }) {
  return (
    <p className="empty">
      <strong>{isNarrowed(asked) ? 'Nothing matches all of this.' : 'Nothing here.'}</strong>
      {isNarrowed(asked) && (
        <button type="button" className="plain link" onClick={clear}>
          Take all filters off
        </button>
      )}
    </p>
  );
}

function StateKey() {
  return (
    <>
      <span className="key">
        <CarriageBar counts={{ ...NO_HOSTS, carries: 1 }} width={22} height={11} /> carries
      </span>
      <span className="key">
        <CarriageBar counts={{ ...NO_HOSTS, restartOutstanding: 1 }} width={22} height={11} /> restart outstanding, or not re-checked
      </span>
      <span className="key">
        <CarriageBar counts={{ ...NO_HOSTS, partly: 1 }} width={22} height={11} /> in part
      </span>
      <span className="key">
        <CarriageBar counts={{ ...NO_HOSTS, missing: 1 }} width={22} height={11} /> lacks
      </span>
      <span className="key">
        <CarriageBar counts={{ ...NO_HOSTS, unknown: 1 }} width={22} height={11} /> unknown: not heard from for three check-in intervals and
        three days
      </span>
      <span className="key">· not applicable; ? products not read: nobody knows</span>
    </>
  );
}
