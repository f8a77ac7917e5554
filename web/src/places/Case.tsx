import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, body } from '../api/client';
import { useCase, useChange, useDocket, useSession } from '../api/queries';
import type { Dialog } from '../case/Evidence';
import { ExceptionSentence } from '../case/ExceptionSentence';
import { Facts } from '../case/Facts';
import { PopulationRows } from '../case/PopulationRows';
import { VerdictSentence, type VerdictType } from '../case/VerdictSentence';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { day, isoDay } from '../words/dates';
import { bytes, kindWord, ratingWords } from '../words/sentences';

/** One update under judgement. What is being worded stands in the address, so that back and reload lose nothing. */
export default function Case() {
  const { id = '' } = useParams();
  const page = useCase(id);
  const docket = useDocket();
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const [pointed, setAt] = useState<number | undefined>();
  const { done, takeBack } = useLastAct();
  const leave = useChange(() => body(api.POST('/api/rule-answers', { body: { updates: [id] } })));

  const rows = page.data?.populations.filter((row) => row.id !== undefined && row.hosts > row.states.notApplicable) ?? [];
  // Where most hosts lack it, a verdict says most.
  const most = rows.filter((row) => row.lacking > 0).sort((a, b) => b.lacking - a.lacking)[0];
  // A dash stands for none, chosen so; without the parameter nothing was chosen yet.
  const chosen =
    search
      .get('for')
      ?.split(',')
      .filter((part) => part !== '' && part !== '-') ?? [];
  const at = Math.max(0, pointed ?? rows.findIndex((row) => row.id === (chosen[0] ?? most?.id)));
  const verdict = (search.get('verdict') ?? undefined) as VerdictType | undefined;
  const excepting = search.get('except') === 'yes';
  const wording = verdict !== undefined || excepting;
  useEffect(() => setAt(undefined), [id]);

  const begin = (type: VerdictType) => {
    if (!analyst) {
      return;
    }
    const currentRow = rows[at];
    const populations = chosen.length > 0 ? chosen : [currentRow !== undefined && currentRow.lacking > 0 ? currentRow.id : most?.id];
    set({ verdict: type, for: populations.join(','), except: undefined, until: undefined, because: undefined, over: undefined });
  };
  /** A block narrowed to a suspected cause, for the populations with hosts in it. */
  const narrow = (where: string) => {
    const cause = page.data?.evidence.causes.find((one) => one.where === where);
    const inCause = rows.filter((row) => row.weighing?.cells.some((cell) => cell.where === where && cell.lacking > 0));
    if (analyst && cause !== undefined) {
      set({
        verdict: 'BLOCK',
        for: inCause.map((row) => row.id).join(',') || most?.id,
        where,
        because: 'FAILURES_SEEN',
        words: `${cause.inside.count} of ${cause.inside.of} failed there${cause.code === undefined ? '' : ` with ${cause.code}`}, ${cause.outside.count} of ${cause.outside.of} elsewhere`,
        narrow: undefined,
        except: undefined,
        until: undefined,
        over: undefined,
      });
    }
  };
  const firstCause = page.data?.evidence.causes[0]?.where;
  useEffect(() => {
    if (search.get('narrow') === 'first' && page.data !== undefined) {
      if (firstCause === undefined) {
        set({ narrow: undefined });
      } else {
        narrow(firstCause);
      }
    }
  });
  // Begun on the docket: the populations are those that lack it.
  useEffect(() => {
    if (verdict !== undefined && !search.has('for') && most !== undefined) {
      set({ for: most?.id });
    }
  });
  const toggle = (population: string | undefined) => {
    if (population !== undefined) {
      set({ for: (chosen.includes(population) ? chosen.filter((c) => c !== population) : [...chosen, population]).join(',') || '-' });
    }
  };
  const stop = () => set(Object.fromEntries([...search.keys()].map((name) => [name, undefined])));
  const open = docket.data?.pages.flatMap((p) => p.cases) ?? [];
  const place = open.findIndex((c) => c.id === id);
  const go = (to: number) => {
    const next = open[to];
    if (next) {
      navigate(`/cases/${encodeURIComponent(next.id)}`);
    }
  };
  useKeys({
    ArrowDown: () => setAt(Math.min(at + 1, rows.length - 1)),
    ArrowUp: () => setAt(Math.max(at - 1, 0)),
    ' ': () => toggle(rows[at]?.id),
    Enter: () => rows[at] && navigate(`/carriers/${encodeURIComponent(id)}?population=${rows[at].id}`),
    b: () => begin('BLOCK'),
    d: () => begin('DEFER'),
    f: () => begin('FORCE'),
    e: () => analyst && set({ except: 'yes', verdict: undefined, where: undefined, until: undefined }),
    l: () =>
      analyst &&
      leave.mutate(undefined, { onSuccess: (given) => done({ words: `${id} is left to the rule.`, answers: given.map((a) => a.number) }) }),
    n: () => firstCause !== undefined && narrow(firstCause),
    w: () => set({ weigh: search.get('weigh') === rows[at]?.id ? undefined : rows[at]?.id }),
    t: () => analyst && set({ tell: 'failure' }),
    u: takeBack,
    '[': () => go(place - 1),
    ']': () => go(place + 1),
    Escape: () => (wording ? stop() : navigate(`/docket?at=${encodeURIComponent(id)}`)),
  });

  if (page.isError) {
    return <Failed what={`The case ${id}`} error={page.error} again={page.refetch} />;
  }
  if (!page.data) {
    return <Loading what={`the case ${id}`} />;
  }
  const { update } = page.data;
  return (
    <main className="casepage">
      <div className="head tight">
        <h1>{update.title}</h1>
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
          {update.restart !== 'NONE' && ` · ${update.restart.toLowerCase()} restart`}
          {update.removableUntil !== undefined &&
            ` · ${update.removableUntil < isoDay(now, 0) ? 'no longer removable' : `removable until ${day(update.removableUntil, now)}`}`}
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
        <Facts
          page={page.data}
          now={now}
          analyst={analyst}
          dialog={(search.get('tell') ?? undefined) as Dialog}
          open={(dialog) => set({ tell: dialog })}
          narrow={narrow}
        />
        <main>
          <PopulationRows
            page={page.data}
            rows={rows}
            at={at}
            chosen={chosen}
            now={now}
            point={setAt}
            toggle={toggle}
            weighed={search.get('weigh') ?? undefined}
            weigh={(population) => set({ weigh: population })}
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
          {!wording && analyst && (
            <div className="actions noprint">
              <button type="button" className="plain link" onClick={() => begin('BLOCK')}>
                <Mark name="BLOCK" /> Block <kbd>B</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => begin('DEFER')}>
                <Mark name="DEFER" /> Defer or let go <kbd>D</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => begin('FORCE')}>
                <Mark name="FORCE" /> Force <kbd>F</kbd>
              </button>
              <button type="button" className="plain link" onClick={() => set({ except: 'yes' })}>
                <Mark name="EXCEPTION" /> Except some hosts <kbd>E</kbd>
              </button>
              <button
                type="button"
                className="plain link"
                onClick={() =>
                  leave.mutate(undefined, {
                    onSuccess: (given) => done({ words: `${id} is left to the rule.`, answers: given.map((a) => a.number) }),
                  })
                }
              >
                <Mark name="RULE" /> Leave to the rule <kbd>L</kbd>
              </button>
              <span className="mid">
                for {chosen.length > 0 ? 'the chosen populations' : 'the population at the bar'}; Space chooses several
              </span>
            </div>
          )}
        </main>
      </div>
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">show the hosts</Key>
        <Key name="W">what the weighing is made of</Key>
        {analyst && (
          <>
            <Key name="Space">choose several</Key>
            <Key name="N">narrow to the cause</Key>
            <Key name="Ctrl Enter">hand down</Key>
            <Key name="U">take back</Key>
          </>
        )}
        <Key name="Escape">{wording ? 'stop wording' : 'to the docket'}</Key>
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}
