import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useCase, useDocket, useSession, useWeights } from '../api/queries';
import { narrowings } from '../case/Causes';
import { changing } from '../case/changing';
import type { Dialog } from '../case/Evidence';
import { ExceptionSentence } from '../case/ExceptionSentence';
import { Facts } from '../case/Facts';
import { Heard } from '../case/Heard';
import { NotRead } from '../case/NotRead';
import { OnSources } from '../case/OnSources';
import { PopulationRows } from '../case/PopulationRows';
import { Proposals } from '../case/Proposals';
import { type CaseRow, heaviest, idsOf, rowsOf } from '../case/rows';
import { Suggested } from '../case/Suggested';
import { VerdictSentence } from '../case/VerdictSentence';
import { suggestedClauses, wordingOf } from '../decisions/suggested';
import { useLeaveToRule } from '../decisions/useLeaveToRule';
import { type VerdictType, verdictTypeOf } from '../decisions/useVerdictDraft';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { useAddress } from '../frame/useAddress';
import { useNamed } from '../frame/useNamed';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { count, day, isoDay } from '../words/dates';
import { bytes, kindWord, ratingWords, restartWords } from '../words/sentences';
import { speaksAgainstTheRule } from '../words/weighing';

/** One update under judgement. What is being worded stands in the address, so that back and reload lose nothing. */
export default function Case() {
  const id = useNamed();
  const page = useCase(id);
  const docket = useDocket();
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const [pointed, setPointed] = useState<string | undefined>();
  const { takeBack } = useLastAct();
  const weights = useWeights().data?.weights.tiers ?? [];

  const each = search.get('each') === 'yes';
  const rows = page.data === undefined ? [] : rowsOf(page.data, each);
  // A dash stands for none, chosen so; without the parameter nothing was chosen yet.
  const chosen =
    search
      .get('for')
      ?.split(',')
      .filter((part) => part !== '' && part !== '-') ?? [];
  const heavy = page.data === undefined ? 0 : heaviest(page.data, rows);
  // The bar stays at its population, however the rows stand together now; it begins at what was chosen, or where most hangs.
  const places = [pointed ?? '', ...chosen].map((wanted) => rows.findIndex((row) => idsOf(row).includes(wanted)));
  const at = places.find((place) => place >= 0) ?? heavy;
  const current = rows[at];
  const point = (place: number) => setPointed(rows[place]?.populations[0]?.id);
  // Without a choice a verdict is for the row at the bar, or where most hangs if nothing can be decided at the bar.
  const meant = current !== undefined && current.lacking > 0 ? current : rows[heavy];
  const verdict = verdictTypeOf(search.get('verdict'));
  const excepting = search.get('except') === 'yes';
  const wording = verdict !== undefined || excepting;
  useEffect(() => {
    setPointed(undefined);
  }, [id]);

  /** For the chosen populations, or all that lack it. */
  const left = (page.data?.populations ?? []).filter((one) => one.lacking > 0 && (chosen.length === 0 || chosen.includes(one.id)));
  const leaveToTheRule = useLeaveToRule({
    cases: analyst && page.data !== undefined ? [{ id, version: page.data.version }] : [],
    populations: chosen,
    against: left
      .filter((one) => speaksAgainstTheRule(one.weighing?.suggestion.type))
      .map((one) => ({ name: one.name, suggestion: one.weighing?.suggestion })),
    said: `${id} is left to the rule${chosen.length > 0 ? ` for ${left.map((one) => one.name).join(', ')}` : ''}.`,
    close: () => {},
  });
  const begin = (type: VerdictType) => {
    if (!analyst) {
      return;
    }
    set({
      verdict: type,
      for: chosen.length > 0 ? chosen.join(',') : meant?.id,
      except: undefined,
      until: undefined,
      because: undefined,
      over: undefined,
      also: undefined,
    });
  };
  const suggested = page.data === undefined ? [] : suggestedClauses(page.data, now);
  /** What the numbers suggest, to be looked at, changed and handed down. */
  const asSuggested = () => analyst && suggested.length > 0 && set(wordingOf(suggested));
  /** A block narrowed to a suspected cause, for the populations with hosts in it. */
  const narrow = (where: string) => {
    const causes = page.data?.evidence.causes ?? [];
    const cause = causes.find((one) => [one, ...one.alike].some(({ shared }) => shared.where === where));
    // What cannot be told apart from a cause is shared by nearly the same hosts.
    const inCause =
      page.data?.populations.filter((one) =>
        one.weighing?.cells.some((cell) => cell.shared?.where === cause?.shared.where && cell.lacking > 0),
      ) ?? [];
    const counted = [cause, ...(cause?.alike ?? [])].find((one) => one?.shared.where === where);
    if (analyst && cause !== undefined && counted !== undefined) {
      set({
        verdict: 'BLOCK',
        for: inCause.map((one) => one.id).join(',') || meant?.id,
        where,
        because: 'FAILURES_SEEN',
        words: `${counted.inside.count} of ${counted.inside.of} failed there${cause.code === undefined ? '' : ` with ${cause.code}`}, ${counted.outside.count} of ${counted.outside.of} elsewhere`,
        narrow: undefined,
        except: undefined,
        until: undefined,
        over: undefined,
      });
    }
  };
  /** Conditions that a block can be narrowed to: of the first cause that hosts still meet, and what cannot be told apart from it. */
  const conditions = narrowings(page.data?.evidence.causes ?? []);
  const firstCause = conditions[0];
  useEffect(() => {
    if (search.get('narrow') === 'first' && page.data !== undefined) {
      if (firstCause === undefined) {
        set({ narrow: undefined });
      } else {
        narrow(firstCause);
      }
    }
  });
  // Begun on the docket: for all that lack it.
  useEffect(() => {
    if (verdict !== undefined && !search.has('for') && meant !== undefined && page.data !== undefined) {
      const lacking = page.data.populations.filter((one) => one.lacking > 0).map((one) => one.id);
      set({ for: search.get('all') === 'yes' ? lacking.join(',') : meant.id, all: undefined });
    }
  });
  // What stands is worded anew, to be put in its place.
  const change = search.get('change');
  useEffect(() => {
    if (change !== null && page.data !== undefined) {
      set(changing(page.data, Number(change), search.get('until')));
    }
  });
  const toggle = (row: CaseRow | undefined) => {
    if (row !== undefined) {
      const others = chosen.filter((one) => !idsOf(row).includes(one));
      set({ for: (others.length + idsOf(row).length === chosen.length ? others : [...others, ...idsOf(row)]).join(',') || '-' });
    }
  };
  const showEach = (wanted: boolean) => set({ each: wanted ? 'yes' : undefined, weigh: undefined });
  const stop = () => set(Object.fromEntries([...search.keys()].filter((name) => name !== 'each').map((name) => [name, undefined])));
  const open = docket.data?.pages.flatMap((p) => p.cases) ?? [];
  const place = open.findIndex((c) => c.id === id);
  const go = (to: number) => {
    const next = open[to];
    if (next) {
      navigate(`/cases/${encodeURIComponent(next.id)}`);
    }
  };
  useKeys({
    ArrowDown: () => point(Math.min(at + 1, rows.length - 1)),
    ArrowUp: () => point(Math.max(at - 1, 0)),
    ArrowRight: () => showEach(true),
    ArrowLeft: () => showEach(false),
    ' ': () => toggle(current),
    Enter: () => current && navigate(`/carriers/${encodeURIComponent(id)}?population=${current.id}`),
    b: () => begin('BLOCK'),
    d: () => begin('DEFER'),
    p: () => begin('PILOT'),
    f: () => begin('FORCE'),
    e: () => analyst && set({ except: 'yes', verdict: undefined, where: undefined, until: undefined }),
    a: asSuggested,
    l: leaveToTheRule,
    n: () => firstCause !== undefined && narrow(firstCause),
    ...Object.fromEntries(conditions.slice(1, 9).map((where, index) => [String(index + 2), () => narrow(where)])),
    w: () => set({ weigh: search.get('weigh') === current?.id ? undefined : current?.id }),
    t: () => analyst && set({ tell: 'failure' }),
    m: () => analyst && set({ tell: 'words' }),
    u: takeBack,
    '[': () => go(place - 1),
    ']': () => go(place + 1),
    Escape: () => (wording ? stop() : navigate(`/docket?at=${encodeURIComponent(id)}`)),
  });

  if (page.isLoadingError) {
    return <Failed what={`The case ${id}`} error={page.error} again={page.refetch} />;
  }
  if (!page.data) {
    return <Loading what={`the case ${id}`} />;
  }
  const { update } = page.data;
  return (
    <main className="casepage">
      <div className="head tight">
        <Heading>{update.title}</Heading>
        <span className="mid">
          {update.id} · {update.retraction?.type === 'WITHDRAWN' && <span className="strong">withdrawn · </span>}
          {kindWord(update.kind)} · revision {update.revision}, {day(update.revised, now)} ·{' '}
          <span className="strong">
            {ratingWords(
              update.rating,
              page.data.update.vulnerabilities.length > 0
                ? Math.max(...update.vulnerabilities.map((v) => v.baseScore ?? 0)) || undefined
                : undefined,
            )}
          </span>
          {update.sizeBytes !== undefined && ` · ${bytes(update.sizeBytes)}`}
          {update.restart !== 'NONE' && ` · ${restartWords(update.restart)}`}
          {update.removableUntil !== undefined && ` · ${removableWords(update.removableUntil, update.published, now)}`}
          {update.removableDays !== undefined && ` · removable for ${count(update.removableDays, 'day')} after its install`}
        </span>
        <span className="space" />
        <Link to={`/carriers/${encodeURIComponent(id)}`}>Carriers</Link>
        <Link to={`/record?subject=${encodeURIComponent(id)}`}>Record</Link>
        {place >= 0 && (
          <span className="mid nowrap">
            {place + 1} of {open.length} <kbd>[</kbd> <kbd>]</kbd>
          </span>
        )}
      </div>
      <div className="case">
        <Row what="What is known of the update">
          {() => (
            <Facts
              page={page.data}
              now={now}
              analyst={analyst}
              dialog={(search.get('tell') ?? undefined) as Dialog}
              open={(dialog) => set({ tell: dialog })}
              narrow={narrow}
            />
          )}
        </Row>
        <div className="judging">
          {update.unread.length > 0 && <NotRead update={update} analyst={analyst} />}
          <Proposals page={page.data} search={search} set={set} stop={stop} now={now} />
          <PopulationRows
            page={page.data}
            rows={rows}
            at={at}
            chosen={chosen}
            now={now}
            point={point}
            toggle={toggle}
            each={each}
            showEach={showEach}
            weights={weights}
            weighed={search.get('weigh') ?? undefined}
            weigh={(row) => set({ weigh: row })}
          />
          {verdict !== undefined && (
            <VerdictSentence
              key={`${id} ${verdict}`}
              page={page.data}
              type={verdict}
              populations={chosen}
              search={search}
              set={set}
              stop={stop}
              now={now}
            />
          )}
          {excepting && <ExceptionSentence key={id} page={page.data} search={search} set={set} stop={stop} now={now} />}
          {!wording && analyst && rows.length > 0 && (
            <div className="actions noprint">
              <button type="button" className="plain link" onClick={() => begin('BLOCK')}>
                <Mark name="BLOCK" /> Block <kbd>B</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => begin('DEFER')}>
                <Mark name="DEFER" /> Defer or let go <kbd>D</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => begin('PILOT')}>
                <Mark name="PILOT" /> Pilot <kbd>P</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => begin('FORCE')}>
                <Mark name="FORCE" /> Force <kbd>F</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => set({ except: 'yes' })}>
                <Mark name="EXCEPTION" /> Except some hosts <kbd>E</kbd>
              </button>
              {suggested.length > 0 && (
                <button type="button" className="plain link" onClick={asSuggested}>
                  As suggested <kbd>A</kbd>
                </button>
              )}
              <button type="button" className="plain link" onClick={leaveToTheRule}>
                <Mark name="RULE" /> Leave to the rule <kbd>L</kbd>
              </button>
              <span className="mid">for {meantWords(page.data, chosen.length > 0 ? chosen : meant === undefined ? [] : idsOf(meant))}</span>
            </div>
          )}
          {!wording && current !== undefined && <Suggested row={current} weights={weights} />}
          {!wording && <Heard id={id} now={now} />}
          {!wording && <OnSources id={id} />}
        </div>
      </div>
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">show the hosts</Key>
        {page.data.alike.length > 0 && <Key name={each ? '←' : '→'}>{each ? 'together' : 'show separately'}</Key>}
        <Key name="W">factors</Key>
        {analyst && (
          <>
            <Key name="Space">choose several</Key>
            {firstCause !== undefined && <Key name="N">narrow to the cause</Key>}
            {wording && <Key name="Ctrl Enter">hand down</Key>}
            <Key name="U">take back</Key>
          </>
        )}
        <Key name="Escape">{wording ? 'cancel' : 'to the docket'}</Key>
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}

/** A last day before it was released says that it never can be removed. */
function removableWords(until: string, published: string, now: Date): string {
  if (until < published.slice(0, 10)) {
    return 'cannot be removed';
  }
  return until < isoDay(now, 0) ? 'no longer removable' : `removable until ${day(until, now)}`;
}

/** "Ticket kiosks, Crew tablets". */
function meantWords(page: Schemas['CaseView'], ids: string[]): string {
  return page.populations
    .filter((one) => ids.includes(one.id))
    .map((one) => one.name)
    .join(', ');
}
