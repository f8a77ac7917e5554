import { Link, useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { usePilots, useSession } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { count, day, lastDay } from '../words/dates';
import { outlook, PILOT_STATES } from '../words/pilots';
import { reasonWords } from '../words/sentences';
import styles from './Pilots.module.css';

type PilotView = Schemas['PilotView'];

/** All pilots: what runs, with what would decide it, and what came of the others. */
export default function Pilots() {
  const now = useNow();
  const navigate = useNavigate();
  const pilots = usePilots();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const all = pilots.data ?? [];
  const running = all.filter((one) => one.ended === undefined);
  const over = all.filter((one) => one.ended !== undefined);
  const at = Math.max(
    0,
    all.findIndex((one) => String(one.number) === search.get('at')),
  );
  const move = (to: number) => {
    const one = all[Math.min(Math.max(to, 0), all.length - 1)];
    if (one !== undefined) {
      set({ at: String(one.number) });
    }
  };
  const current = all[at];
  useKeys({
    ArrowDown: () => move(at + 1),
    ArrowUp: () => move(at - 1),
    Enter: () => current && navigate(`/pilots/${current.number}`),
    c: () => current && navigate(`/cases/${encodeURIComponent(current.update)}`),
  });
  const rows = (some: PilotView[]) =>
    some.map((one) => (
      <Row key={one.number} what={`Pilot ${one.number}`} columns={5}>
        {() => <PilotRow pilot={one} now={now} current={one === current} point={() => set({ at: String(one.number) })} />}
      </Row>
    ));
  const head = (
    <thead>
      <tr>
        <th scope="col" className={styles.first}>
          Answer by
        </th>
        <th scope="col">What, and for whom</th>
        <th scope="col">State</th>
        <th scope="col">Sample</th>
        <th scope="col">Begun</th>
      </tr>
    </thead>
  );
  return (
    <main>
      <div className="head">
        <Heading>Pilots</Heading>
        <span className="mid">{pilots.data && `${running.length} running, what is to answer first in front`}</span>
      </div>
      {pilots.isLoadingError && <Failed what="The pilots" error={pilots.error} again={pilots.refetch} />}
      {pilots.isPending && <Loading what="the pilots" />}
      {pilots.data && all.length === 0 && (
        <p className="empty">
          <strong>No update is tried by a few before the others.</strong>
          {analyst ? 'Press P on a case to let some hosts try it first; ' : 'When an analyst lets some hosts try an update first, '}
          what they show stands here until it is enough.
        </p>
      )}
      {running.length > 0 && (
        <div className="page">
          <table className="list" aria-label="Pilots that run">
            {head}
            <tbody>{rows(running)}</tbody>
          </table>
        </div>
      )}
      {over.length > 0 && (
        <div className="page">
          <h2>Over</h2>
          <table className="list" aria-label="Pilots that are over">
            {head}
            <tbody>{rows(over)}</tbody>
          </table>
        </div>
      )}
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">open it</Key>
        <Key name="C">its case</Key>
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}

function PilotRow({ pilot, now, current, point }: { pilot: PilotView; now: Date; current: boolean; point: () => void }) {
  const populations = pilot.populations.map((one) => one.name).join(', ');
  const { tally } = pilot;
  return (
    <tr aria-current={current} className={current ? 'current' : undefined} onClick={point}>
      <td className={`nowrap ${styles.first}`}>{lastDay(pilot.answerDay, now)}</td>
      <td>
        <Mark name="PILOT" /> <Link to={`/pilots/${pilot.number}`}>{pilot.title || pilot.update}</Link>{' '}
        <span className="mid">{pilot.title !== '' && pilot.update}</span>
        <div className="mid">
          {populations}
          {pilot.where !== undefined && ` where ${pilot.where}`}
        </div>
      </td>
      <td className={styles.state}>
        <span className="strong">{PILOT_STATES[pilot.state]}</span>
        {pilot.ended === undefined && <div>{outlook(pilot)}</div>}
      </td>
      <td className="nowrap">
        {tally.soaked} clean, {tally.failed} failed
        <div className="mid">
          {pilot.ended === undefined ? `${tally.soaking} soaking, ${tally.notTried} not tried; ${count(pilot.withheld, 'host')} wait` : ''}
        </div>
      </td>
      <td>
        {pilot.author}, {day(pilot.startedAt, now)}
        <div className="mid">{reasonWords(pilot.reasons, pilot.words)}</div>
      </td>
    </tr>
  );
}
