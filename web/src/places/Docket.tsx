import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useDocket, useSession } from '../api/queries';
import { casesFor, casesIn } from '../decisions/several';
import { useLeaveToRule } from '../decisions/useLeaveToRule';
import { Filters, filtersOf, NO_FILTERS } from '../docket/Filters';
import { FirstRun } from '../docket/FirstRun';
import { NotObeyed } from '../docket/NotObeyed';
import { StripRow } from '../docket/StripRow';
import { useRoom } from '../docket/useRoom';
import { WaitsForApproval } from '../docket/WaitsForApproval';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { day, soon } from '../words/dates';
import { docketTitle, isRoutine } from '../words/sentences';
import { speaksAgainstTheRule } from '../words/weighing';

type Strip = Schemas['Strip'];
type Show = 'OPEN' | 'ROUTINE' | 'ANSWERED' | 'CONTENT';

/** As "today", "tomorrow", or the day. */
const soonDay = (instant: string, now: Date) => {
  const words = soon(instant, now);
  return /^(today|tomorrow)/.test(words) ? words : day(instant, now);
};

/** What needs judgement now, and why now. */
export function Docket() {
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const [chosen, setChosen] = useState<string[]>(() => casesIn(search.get('chosen')));
  const { takeBack } = useLastAct();
  const list = useRef<HTMLTableSectionElement>(null);
  const room = useRoom(list);

  const show = (
    ['ROUTINE', 'ANSWERED', 'CONTENT'].includes((search.get('show') ?? '').toUpperCase()) ? search.get('show')?.toUpperCase() : 'OPEN'
  ) as Show;
  const filters = filtersOf(search);
  const docket = useDocket({ show, ...filters });
  const page = docket.data?.pages[0];
  const cases = docket.data?.pages.flatMap((p) => p.cases) ?? [];
  const routine = cases.filter(isRoutine);
  /** All of the part that is routine, which opens for it; pressed again: none. */
  const chooseRoutine = () => {
    if (show !== 'ROUTINE') {
      set({ show: 'routine', at: undefined, choose: 'all' });
    } else {
      setChosen(chosen.length === routine.length ? [] : routine.map((strip) => strip.id));
    }
  };
  const complete = show === 'ROUTINE' && docket.data !== undefined && !docket.isPlaceholderData && !docket.hasNextPage;
  useEffect(() => {
    if (show === 'ROUTINE' && search.get('choose') === 'all') {
      if (complete) {
        setChosen(routine.map((strip) => strip.id));
        set({ choose: undefined });
      } else if (docket.hasNextPage && !docket.isFetchingNextPage) {
        void docket.fetchNextPage();
      }
    }
  });
  const at = Math.max(
    0,
    cases.findIndex((strip) => strip.id === search.get('at')),
  );

  const move = (to: number) => {
    const strip = cases[Math.min(Math.max(to, 0), cases.length - 1)];
    if (strip) {
      set({ at: strip.id });
    }
  };
  useEffect(() => {
    const row = list.current?.querySelectorAll<HTMLElement>('.strip')[at];
    row?.scrollIntoView({ block: 'nearest' });
    // Whoever moves by keys among the rows takes the focus along, so that it is read out.
    if (list.current?.contains(document.activeElement) && document.activeElement?.matches('.strip')) {
      row?.focus({ preventScroll: true });
    }
  }, [at]);
  const pointTo = useRef<(id: string) => void>(() => undefined);
  pointTo.current = (id) => set({ at: id });
  const point = useCallback((id: string) => pointTo.current(id), []);

  const current = cases[at];
  const meant = !analyst ? [] : chosen.length > 0 ? cases.filter((strip) => chosen.includes(strip.id)) : current ? [current] : [];
  const leaveToTheRule = useLeaveToRule({
    cases: meant,
    populations: [],
    against: meant
      .filter((strip) => speaksAgainstTheRule(strip.beam.suggestion?.type))
      .map((strip) => ({ name: strip.id, suggestion: strip.beam.suggestion })),
    said: meant.length === 1 ? `${meant[0]?.id} is left to the rule.` : `${meant.length} cases are left to the rule.`,
    close: () => setChosen([]),
  });
  const begin = (type: string) =>
    analyst &&
    current &&
    navigate(
      meant.length > 1
        ? `/decide?${new URLSearchParams({ cases: casesFor(meant.map((strip) => strip.id)), verdict: type, show: show.toLowerCase() })}`
        : `/cases/${encodeURIComponent((meant[0] ?? current).id)}?verdict=${type}&all=yes`,
    );
  const choose = () => {
    if (current) {
      setChosen((before) => (before.includes(current.id) ? before.filter((id) => id !== current.id) : [...before, current.id]));
      move(at + 1);
    }
  };
  useKeys({
    ArrowDown: () => move(at + 1),
    ArrowUp: () => move(at - 1),
    Home: () => move(0),
    End: () => move(cases.length - 1),
    Enter: () => current && navigate(`/cases/${encodeURIComponent(current.id)}`),
    ' ': choose,
    b: () => begin('BLOCK'),
    d: () => begin('DEFER'),
    p: () => begin('PILOT'),
    f: () => begin('FORCE'),
    l: leaveToTheRule,
    r: () => analyst && chooseRoutine(),
    n: () => analyst && current && navigate(`/cases/${encodeURIComponent(current.id)}?narrow=first`),
    u: takeBack,
    Escape: () => setChosen([]),
  });

  if (docket.isLoadingError) {
    return <Failed what="The docket" error={docket.error} again={docket.refetch} />;
  }
  if (!page) {
    return <Loading what="the docket" />;
  }
  const counted = { OPEN: page.counts.open, ROUTINE: page.counts.routine, ANSWERED: page.counts.answered, CONTENT: page.counts.content };
  const choice = (which: Show, words: string) => (
    <Link to={which === 'OPEN' ? '/docket' : `/docket?show=${which.toLowerCase()}`} aria-current={show === which}>
      {words} {counted[which]}
    </Link>
  );
  const fresh = page.lastLooked === undefined ? [] : cases.filter((strip) => isNewSince(strip, page.lastLooked));
  const filtered = Object.entries(filters).some(([name, value]) => name !== 'sort' && value !== undefined);
  const updates = page.counts.open + page.counts.routine + page.counts.answered + page.counts.content;
  const title = titleOf(show, page.matching, analyst, filtered);
  return (
    <main>
      <div className="head">
        <Heading>{title}</Heading>
        <span className="mid">
          {chosen.length > 0 ? (
            <strong role="status">
              {chosen.length} chosen: <kbd>L</kbd> leaves them to the rule
              {chosen.length > 1 && (
                <>
                  , <kbd>B</kbd> <kbd>D</kbd> <kbd>P</kbd> <kbd>F</kbd> decide them at once
                </>
              )}
            </strong>
          ) : (
            <>
              {page.lastLooked !== undefined && show === 'OPEN' && `${fresh.length} new since ${soon(page.lastLooked, now)}. `}
              {page.counts.routine > 0 && (show === 'OPEN' || show === 'ROUTINE') && (
                <>
                  <button type="button" className="plain link" onClick={chooseRoutine} disabled={!analyst && show === 'ROUTINE'}>
                    {page.counts.routine} routine
                  </button>{' '}
                  {analyst && <kbd>R</kbd>} nothing unusual is known
                  {page.routineOffered !== undefined && `; the rule offers the first ${soonDay(page.routineOffered, now)}`}
                </>
              )}
            </>
          )}
        </span>
        <span className="space" />
        <NotObeyed />
        <Link to="/digest" className="noprint">
          Digest
        </Link>
        <span className="choices">
          {choice('OPEN', 'To judge')}
          {choice('ROUTINE', 'Routine')}
          {choice('ANSWERED', 'Answered')}
          {choice('CONTENT', 'Content')}
        </span>
      </div>
      {page.asOf !== undefined && (
        <p className="mid" role="status">
          As of {soon(page.asOf, now)}: so many hosts report that the next one is still being made.
        </p>
      )}
      <WaitsForApproval now={now} />
      {updates > 0 && <Filters page={page} filters={filters} set={(changes) => set({ ...changes, at: undefined })} />}
      <table className="strips" aria-label="Cases">
        <thead>
          <tr className="strip-head">
            <th scope="col">
              Update, and <Term name="why now" />; <Term name="order">in the order of what is at stake now</Term>
            </th>
            <th scope="col" className="beamhead">
              <Term name="hazard">
                <span className="violet">installing costs</span>
              </Term>
              <Link to="/weights" title="The weights by which the points are worked out">
                points
              </Link>
              <Term name="exposure">
                <span className="ember">waiting costs</span>
              </Term>
            </th>
            <th scope="col" className="marks">
              {page.populations.map((p) => (
                <span key={p.id} className="headcell">
                  {p.name}
                </span>
              ))}
            </th>
          </tr>
        </thead>
        <tbody ref={list}>
          {cases.map((strip, index) => (
            <Row key={strip.id} what={strip.id} columns={3}>
              {() => (
                <StripRow
                  strip={strip}
                  populations={page.populations}
                  now={now}
                  current={index === at}
                  chosen={chosen.includes(strip.id)}
                  fresh={isNewSince(strip, page.lastLooked)}
                  room={room}
                  point={point}
                />
              )}
            </Row>
          ))}
        </tbody>
      </table>
      {cases.length === 0 &&
        (show === 'OPEN' && !filtered && (updates === 0 || page.hosts === 0) ? (
          <FirstRun page={page} updates={updates} />
        ) : (
          <Empty show={show} filtered={filtered} clear={() => set(NO_FILTERS)} />
        ))}
      {docket.hasNextPage && (
        <p className="more">
          <button type="button" className="plain link" onClick={() => docket.fetchNextPage()}>
            Show more of {page.matching}
          </button>
        </p>
      )}
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">open</Key>
        {analyst && (
          <>
            <Key name="B D P F">block, defer, pilot, force</Key>
            <Key name="N">narrow</Key>
            <Key name="L">leave to the rule</Key>
            <Key name="R">routine</Key>
            <Key name="Space">choose</Key>
            <Key name="U">take back</Key>
          </>
        )}
        <span className="key">
          <Mark name="RULE_WAITS" /> rule withholds <Mark name="RULE" /> rule offers
        </span>
        <Key name="?">help</Key>
      </Legend>
    </main>
  );
}

function titleOf(show: Show, matching: number, judges: boolean, filtered: boolean): string {
  switch (show) {
    case 'OPEN':
      return docketTitle(matching, judges, filtered);
    case 'ROUTINE':
      return matching === 1 ? 'One routine case' : `${matching} routine cases`;
    case 'ANSWERED':
      return 'Answered cases';
    default:
      return 'Content that changes daily';
  }
}

function Empty({ show, filtered, clear }: { show: Show; filtered: boolean; clear: () => void }) {
  if (filtered) {
    return (
      <p className="empty">
        <strong>No case here is as you asked.</strong>
        <button type="button" className="plain link" onClick={clear}>
          Show them all
        </button>
      </p>
    );
  }
  return (
    <p className="empty">
      <strong>{show === 'OPEN' ? 'Nothing needs your judgement.' : 'Nothing here.'}</strong>
      {show === 'OPEN' && 'A case comes back when something about it changes. What was answered is one filter away.'}
    </p>
  );
}

/** True if one of its cues came after {@code lastLooked}. */
function isNewSince(strip: Strip, lastLooked: string | undefined): boolean {
  return lastLooked !== undefined && strip.cues.some((cue) => cue.raised > lastLooked);
}
