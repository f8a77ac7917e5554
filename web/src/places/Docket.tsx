import { Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useDocket, useSession } from '../api/queries';
import { useLeaveToRule } from '../decisions/useLeaveToRule';
import { Row } from '../frame/Boundary';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Beam } from '../look/Beam';
import { Mark } from '../look/Mark';
import { count, soon } from '../words/dates';
import {
  decidedWords,
  docketTitle,
  isRoutine,
  kindWord,
  markOf,
  needsJudgement,
  ratingWords,
  ruleMatchWords,
  whyNow,
} from '../words/sentences';
import { briefSuggestion, points, speaksAgainstTheRule, suggestionWords } from '../words/weighing';

type Strip = Schemas['Strip'];
type Show = 'OPEN' | 'ROUTINE' | 'ANSWERED' | 'CONTENT';

/** What needs judgement now, and why now. */
export function Docket() {
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const [chosen, setChosen] = useState<string[]>([]);
  const { takeBack } = useLastAct();
  const list = useRef<HTMLTableSectionElement>(null);

  const show = (
    ['ROUTINE', 'ANSWERED', 'CONTENT'].includes((search.get('show') ?? '').toUpperCase()) ? search.get('show')?.toUpperCase() : 'OPEN'
  ) as Show;
  const population = search.get('population') ?? undefined;
  const kind = (search.get('kind') ?? undefined) as Strip['kind'] | undefined;
  const docket = useDocket({ show, population, kind });
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
    list.current?.querySelectorAll('.strip')[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);

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
  const begin = (type: string) => analyst && current && navigate(`/cases/${encodeURIComponent(current.id)}?verdict=${type}&all=yes`);
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
  return (
    <main>
      <div className="head">
        <h1>{titleOf(show, page.matching)}</h1>
        <span className="mid">
          {chosen.length > 0 ? (
            <strong>
              {chosen.length} chosen: <kbd>L</kbd> leaves them to the rule
            </strong>
          ) : (
            <>
              {page.lastLooked !== undefined && show === 'OPEN' && `${fresh.length} new since ${soon(page.lastLooked, now)}`}{' '}
              {show === 'ROUTINE' && 'Nothing speaks for anything but the rule. '}
              {analyst && page.counts.routine > 0 && (show === 'OPEN' || show === 'ROUTINE') && (
                <>
                  <button type="button" className="plain link" onClick={chooseRoutine}>
                    Choose {page.counts.routine} routine
                  </button>{' '}
                  <kbd>R</kbd>
                </>
              )}
            </>
          )}
        </span>
        <span className="space" />
        <Select
          aria-label="Population"
          variant="borderless"
          allowClear
          placeholder="All populations"
          popupMatchSelectWidth={false}
          value={population}
          onChange={(value) => set({ population: value })}
          options={page.populations.map((p) => ({ value: p.id, label: p.name }))}
        />
        <Select
          aria-label="Kind"
          variant="borderless"
          allowClear
          placeholder="All kinds"
          popupMatchSelectWidth={false}
          value={kind}
          onChange={(value) => set({ kind: value })}
          options={page.kinds.map((k) => ({ value: k, label: kindWord(k) }))}
        />
        <span className="choices">
          {choice('OPEN', 'To judge')}
          {choice('ROUTINE', 'Routine')}
          {choice('ANSWERED', 'Answered')}
          {choice('CONTENT', 'Content')}
        </span>
      </div>
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
                  page={page}
                  now={now}
                  current={index === at}
                  chosen={chosen.includes(strip.id)}
                  fresh={isNewSince(strip, page.lastLooked)}
                  point={() => set({ at: strip.id })}
                />
              )}
            </Row>
          ))}
        </tbody>
      </table>
      {cases.length === 0 && (
        <Empty show={show} total={page.counts.open + page.counts.routine + page.counts.answered + page.counts.content} />
      )}
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
            <Key name="B">
              <Mark name="BLOCK" /> block
            </Key>
            <Key name="D">
              <Mark name="DEFER" /> defer
            </Key>
            <Key name="F">
              <Mark name="FORCE" /> force
            </Key>
            <Key name="N">narrow</Key>
            <Key name="L">leave to the rule</Key>
            <Key name="R">choose routine</Key>
            <Key name="Space">choose several</Key>
            <Key name="U">take back</Key>
          </>
        )}
        <span className="key">
          <Mark name="RULE_WAITS" /> rule withholds <Mark name="RULE" /> rule offers
        </span>
        <span className="key">
          <Mark name="EXCEPTION" /> exception
        </span>
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}

function titleOf(show: Show, matching: number): string {
  switch (show) {
    case 'OPEN':
      return docketTitle(matching);
    case 'ROUTINE':
      return matching === 1 ? 'One routine case' : `${matching} routine cases`;
    case 'ANSWERED':
      return 'Answered cases';
    default:
      return 'Content that changes daily';
  }
}

function Empty({ show, total }: { show: Show; total: number }) {
  if (total === 0) {
    return (
      <p className="empty">
        <strong>Nothing has been released yet.</strong>
        Cases appear here when an advisory or an update notice comes in and hosts lack what it fixes.{' '}
        <Link to="/intake">Bring documents and host inventories in</Link>, or use ./lucid import.
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

function StripRow({
  strip,
  page,
  now,
  current,
  chosen,
  fresh,
  point,
}: {
  strip: Strip;
  page: Schemas['DocketPage'];
  now: Date;
  current: boolean;
  chosen: boolean;
  fresh: boolean;
  point: () => void;
}) {
  const zoneless = (population: string) => page.populations.find((p) => p.id === population)?.name ?? population;
  return (
    <tr
      className={`strip${current ? ' current' : ''}${chosen ? ' chosen' : ''}${strip.groupedWith === undefined ? '' : ' grouped'}`}
      aria-current={current}
      onClick={point}
    >
      <td>
        <div className="title">
          {fresh && <span className="fresh" role="img" aria-label="New since you last looked" title="New since you last looked" />}
          <Link className="name" to={`/cases/${encodeURIComponent(strip.id)}`}>
            {strip.title}
          </Link>
          {chosen && <span className="strong">chosen</span>}
          <span className="mid nowrap">
            {strip.id} · {kindWord(strip.kind)} ·{' '}
            <span className={strip.rating === 'CRITICAL' || strip.rating === 'HIGH' ? 'strong' : ''}>
              {ratingWords(strip.rating, strip.baseScore)}
            </span>
          </span>
        </div>
        <div className="why" title={needsJudgement(strip) ? whyNow(strip, now) : undefined}>
          {strip.groupedWith !== undefined && `Closes the same vulnerability as ${strip.groupedWith}. `}
          {needsJudgement(strip) ? whyNow(strip, now) : answeredWords(strip, now)}
          {strip.contains.length > 0 && (
            <>
              {' '}
              <Term name="newest only">Contains {strip.contains.length} earlier</Term>: {strip.contains.slice(0, 3).join(', ')}
              {strip.contains.length > 3 && ' …'}.
            </>
          )}
        </div>
      </td>
      <td className="beamcell">
        {(strip.beam.exposure > 0 || strip.beam.hazard.middle > 0) && (
          <Beam exposure={strip.beam.exposure} hazard={strip.beam.hazard} usual={strip.beam.usual} tilt={strip.beam.tilt} />
        )}
        {strip.beam.suggestion !== undefined && (
          <span className="suggests" title={suggestionFor(strip, page)}>
            suggests: <b>{briefSuggestion(strip.beam.suggestion)}</b>
          </span>
        )}
      </td>
      <td className="marks">
        {strip.marks.map((mark) => (
          <span className="cell" key={mark.population}>
            {mark.holds && mark.lacking > 0 && (
              <>
                <Mark
                  name={markOf(mark.holds)}
                  label={`${zoneless(mark.population)}: ${ruleMatchWords(mark.holds, now)}${mark.differently > 0 ? `; otherwise for ${mark.differently} of them` : ''}`}
                />
                <span className="count">
                  {mark.lacking}
                  {mark.differently > 0 && '*'}
                </span>
              </>
            )}
          </span>
        ))}
      </td>
    </tr>
  );
}

/** True if one of its cues came after {@code lastLooked}. */
function isNewSince(strip: Strip, lastLooked: string | undefined): boolean {
  return lastLooked !== undefined && strip.cues.some((cue) => cue.raised > lastLooked);
}

function suggestionFor(strip: Strip, page: Schemas['DocketPage']): string {
  const name = page.populations.find((p) => p.id === strip.beam.population)?.name ?? 'hosts in no population';
  const suggestion = strip.beam.suggestion === undefined ? '' : ` (${suggestionWords(strip.beam.suggestion)})`;
  return `What the numbers speak for on ${name}, where most is at stake${suggestion}. Stands here by ${points(strip.worth)} points: the larger side plus 1${strip.freshness > 1 ? `, times ${strip.freshness} for a fresh cue` : ''}.`;
}

function answeredWords(strip: Strip, now: Date): string {
  if (strip.foldedUnder !== undefined) {
    return `Stands under ${strip.foldedUnder}, which is released for the same hosts and brings it; ${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'lacks' : 'lack'} it.`;
  }
  if (strip.lacking === 0) {
    return 'Every host that it is for carries it.';
  }
  const decided = strip.decided.map((one) => decidedWords(one, now)).join(' ');
  return `${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'lacks' : 'lack'} it. ${decided === '' ? 'Answered.' : decided}`;
}
