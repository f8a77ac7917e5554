import { Dropdown } from 'antd';
import { type ReactNode, useState } from 'react';
import { NavLink, useNavigate } from 'react-router';
import { api, type Schemas } from '../api/client';
import {
  readsEverything,
  useAskingExceptions,
  useChange,
  useClock,
  useDocket,
  useDocuments,
  useOperatorWork,
  useProposedExceptions,
  useProposedRenewals,
  useUnreadProducts,
} from '../api/queries';
import { useEvents } from '../api/useEvents';
import { type Ground, setGround, useLook } from '../look/theme';
import { dayTime, time } from '../words/dates';
import { CautionLine } from './Caution';
import { FreezeDialog } from './FreezeDialog';
import { Frozen } from './Frozen';
import styles from './Journey.module.css';
import { useGoTo, useKeys, useTabLeavesLists } from './keys';
import { LastActProvider } from './lastAct';
import { firstPlaceOf, placesOf } from './placesOf';
import { Search } from './Search';

/** The line of words at the top, the place below it, and the keys that act there. */
export function Frame({ session, children }: { session: Schemas['Session']; children: ReactNode }) {
  const [searching, setSearching] = useState(false);
  const [freezing, setFreezing] = useState(false);
  const navigate = useNavigate();
  const judges = readsEverything(session.role);
  const decides = session.role === 'ANALYST';
  const operates = session.role === 'OPERATOR';
  useKeys({ '?': () => navigate('/help'), '/': () => setSearching(true), '.': () => decides && setFreezing(true) }, true);
  const docket = useDocket({ show: 'OPEN' }, judges);
  const refused = useDocuments('REJECTED', judges);
  useGoTo(Object.fromEntries(placesOf(session.role).map((place) => [place.key, () => navigate(place.to)])));
  useEvents();
  useTabLeavesLists();
  const open = docket.data?.pages[0]?.counts.open;
  const unread = useUnreadProducts(judges);
  // What is to be looked at there: refused or held documents, and vendors whose products nobody could read.
  const onIntake = (refused.data?.pages[0]?.refused ?? 0) + (unread.data?.length ?? 0);
  const approves = session.role === 'APPROVER';
  const proposed = [useProposedExceptions(approves).data ?? [], useProposedRenewals(approves).data ?? []].flat();
  // What asks for somebody, and for an approver what waits for their word.
  const asking = (useAskingExceptions(judges).data ?? 0) + proposed.filter(({ state }) => state === 'WAITING').length;
  const toInstall = useOperatorWork(undefined, operates).data?.length ?? 0;
  return (
    <LastActProvider person={session.login ?? ''}>
      <div className="frame">
        <a className="skip" href="#place">
          To the content
        </a>
        <header className="top">
          <NavLink to={firstPlaceOf(session.role)} className="brand">
            Lucid Verdict
          </NavLink>
          <nav aria-label="Places">
            {judges && <NavLink to="/docket">Docket {open !== undefined && open > 0 && <b>{open}</b>}</NavLink>}
            {judges && <NavLink to="/in-force">In force</NavLink>}
            {judges && <NavLink to="/pilots">Pilots</NavLink>}
            {judges && <NavLink to="/exceptions">Exceptions {asking > 0 && <b>{asking}</b>}</NavLink>}
            {operates && <NavLink to="/by-operator">To install {toInstall > 0 && <b>{toInstall}</b>}</NavLink>}
            <NavLink to="/carriers">Carriers</NavLink>
            <NavLink to="/populations">Populations</NavLink>
            <NavLink to="/hosts">Hosts</NavLink>
            {judges && <NavLink to="/intake">Intake {onIntake > 0 && <b>{onIntake}</b>}</NavLink>}
            {judges && <NavLink to="/record">Record</NavLink>}
            {session.role === 'ADMINISTRATOR' && <NavLink to="/access">Access</NavLink>}
          </nav>
          <span className="space" />
          <button type="button" className="plain link" onClick={() => setSearching(true)}>
            Search
          </button>
          {decides && (
            <button
              type="button"
              className="plain link"
              title="Stop everything, or freeze some populations"
              onClick={() => setFreezing(true)}
            >
              Stop all
            </button>
          )}
          <ServerClock mayMove={session.role === 'ANALYST'} />
          <UserMenu session={session} openHelp={() => navigate('/help')} signedOut={() => navigate('/docket')} />
          {judges && <CautionLine decides={decides} />}
          {judges && <Frozen decides={decides} />}
          <Unreached />
          <WritesNothing />
        </header>
        <div className="place" id="place">
          {children}
        </div>
        <footer className="legend" id="legend" />
      </div>
      {freezing && <FreezeDialog close={() => setFreezing(false)} />}
      <Search open={searching} close={() => setSearching(false)} judges={judges} />
    </LastActProvider>
  );
}

/** Says so while the server is away: what is on screen stays, but is no longer new. */
function Unreached() {
  const clock = useClock();
  if (!clock.isRefetchError || clock.data === undefined) {
    return null;
  }
  return (
    <p className="unreached" role="alert">
      The server cannot be reached. What stands here was read at {time(clock.data.now)}; what you word is kept. It is tried again every few
      seconds.{' '}
      <button type="button" className="plain link" onClick={() => clock.refetch()}>
        Try now
      </button>
    </p>
  );
}

/** Says so while the server keeps nothing, before somebody words what would be refused. */
function WritesNothing() {
  const clock = useClock();
  return clock.data?.refusal === undefined ? null : (
    <p className="unreached" role="alert">
      {clock.data.refusal} What stands here can be read.
    </p>
  );
}

/** What time it is for the server; in the demo it can be moved forward. */
function ServerClock({ mayMove }: { mayMove: boolean }) {
  const clock = useClock();
  const advance = useChange((hours: number) => api.POST('/api/clock/advances', { body: { hours } }), 'The clock was not advanced');
  const stop = useChange(() => api.DELETE('/api/clock/advances'), 'The clock was not stopped');
  if (!clock.data?.movable) {
    return null;
  }
  const now = new Date(clock.data.now);
  const { journey } = clock.data;
  const items = [
    { key: 1, label: 'by an hour' },
    { key: 24, label: 'by a day' },
    { key: 168, label: 'by a week' },
  ];
  return (
    <span className="mid nowrap">
      Demo, {dayTime(now, now)} {journey !== undefined && <Journey journey={journey} now={now} />}{' '}
      {mayMove && journey !== undefined && (
        <button type="button" className="plain link" onClick={() => stop.mutate(undefined)}>
          Stop here
        </button>
      )}
      {mayMove && journey === undefined && (
        <Dropdown trigger={['click']} menu={{ items, onClick: ({ key }) => advance.mutate(Number(key)) }}>
          <button type="button" className="plain link">
            Advance
          </button>
        </Dropdown>
      )}
    </span>
  );
}

/** The hosts of the demo live through each step: that takes a while. */
function Journey({ journey, now }: { journey: Schemas['Journey']; now: Date }) {
  const from = new Date(journey.from);
  const to = new Date(journey.to);
  return (
    <progress
      className={styles.journey}
      aria-label={`The demo goes on to ${dayTime(to, now)}`}
      title={`The demo goes on to ${dayTime(to, now)}`}
      max={to.getTime() - from.getTime()}
      value={now.getTime() - from.getTime()}
    />
  );
}

function UserMenu({ session, openHelp, signedOut }: { session: Schemas['Session']; openHelp: () => void; signedOut: () => void }) {
  const { ground } = useLook();
  const navigate = useNavigate();
  const signOut = useChange(() => api.DELETE('/api/sessions/current'), 'Not signed out');
  const grounds: { key: Ground; label: string }[] = [
    { key: 'system', label: 'Theme: as the device' },
    { key: 'light', label: 'Theme: light' },
    { key: 'dark', label: 'Theme: dark' },
  ];
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        selectedKeys: [ground],
        items: [
          ...grounds,
          { type: 'divider' },
          { key: 'keys', label: 'Help: terms and keys' },
          { key: 'account', label: 'Your account' },
          { key: 'out', label: 'Sign out' },
        ],
        onClick: ({ key }) => {
          if (key === 'out') {
            signOut.mutate(undefined, { onSuccess: signedOut });
          } else if (key === 'keys') {
            openHelp();
          } else if (key === 'account') {
            navigate('/account');
          } else {
            setGround(key as Ground);
          }
        },
      }}
    >
      <button type="button" className="plain nowrap">
        {session.displayName} <span className="mid role">({session.role?.toLowerCase()})</span> ▾
      </button>
    </Dropdown>
  );
}
