import { Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { useChange, useDocket, useSession } from '../api/queries';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { CarriageBar } from '../look/CarriageBar';
import { Mark } from '../look/Mark';
import { count } from '../words/dates';
import { docketTitle, findingWords, kindWord, markOf, needsJudgement, ratingWords, whyNow } from '../words/sentences';
import { NO_HOSTS } from '../words/states';

type Strip = Schemas['Strip'];
type Show = 'open' | 'answered' | 'content';

const BELONGS: Record<Show, (strip: Strip) => boolean> = {
  open: needsJudgement,
  answered: (strip) => !needsJudgement(strip) && !strip.noise,
  content: (strip) => strip.noise,
};

/** What needs judgement now, and why now. */
export function Docket() {
  const docket = useDocket();
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const [chosen, setChosen] = useState<string[]>([]);
  const { done, takeBack } = useLastAct();
  const leave = useChange((updates: string[]) => body(api.POST('/api/rule-answers', { body: { updates } })));
  const list = useRef<HTMLTableSectionElement>(null);

  const show = (search.get('show') ?? 'open') as Show;
  const population = search.get('population') ?? undefined;
  const kind = search.get('kind') ?? undefined;
  const all = docket.data?.cases ?? [];
  const cases = all
    .filter(BELONGS[show] ?? BELONGS.open)
    .filter((strip) => kind === undefined || strip.kind === kind)
    .filter((strip) => population === undefined || strip.marks.some((mark) => mark.population === population && mark.lacking > 0));
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
  const leaveToTheRule = () => {
    const updates = chosen.length > 0 ? chosen : current ? [current.id] : [];
    if (analyst && updates.length > 0) {
      leave.mutate(updates, {
        onSuccess: (given) => {
          done({
            words: updates.length === 1 ? `${updates[0]} is left to the rule.` : `${updates.length} cases are left to the rule.`,
            answers: given.map((a) => a.number),
          });
          setChosen([]);
        },
      });
    }
  };
  const begin = (type: string) => analyst && current && navigate(`/cases/${encodeURIComponent(current.id)}?verdict=${type}`);
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
    u: takeBack,
    Escape: () => setChosen([]),
  });

  if (docket.isError) {
    return <Failed what="The docket" error={docket.error} again={docket.refetch} />;
  }
  if (!docket.data) {
    return <Loading what="the docket" />;
  }
  const counted = (which: Show) => all.filter(BELONGS[which]).length;
  const choice = (which: Show, words: string) => (
    <Link to={which === 'open' ? '/docket' : `/docket?show=${which}`} aria-current={show === which}>
      {words} {counted(which)}
    </Link>
  );
  return (
    <main>
      <div className="head">
        <h1>{show === 'open' ? docketTitle(cases.length) : show === 'answered' ? 'Answered cases' : 'Content that changes daily'}</h1>
        <span className="mid">
          {chosen.length > 0 ? (
            <strong>
              {chosen.length} chosen: <kbd>L</kbd> leaves them to the rule
            </strong>
          ) : (
            'Worst rating first, then by hosts that lack it'
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
          options={docket.data.populations.map((p) => ({ value: p.id, label: p.name }))}
        />
        <Select
          aria-label="Kind"
          variant="borderless"
          allowClear
          placeholder="All kinds"
          popupMatchSelectWidth={false}
          value={kind}
          onChange={(value) => set({ kind: value })}
          options={[...new Set(all.map((strip) => strip.kind))].map((k) => ({ value: k, label: kindWord(k) }))}
        />
        <span className="choices">
          {choice('open', 'Need judgement')}
          {choice('answered', 'Answered')}
          {choice('content', 'Content')}
        </span>
      </div>
      <table className="strips" aria-label="Cases">
        <thead>
          <tr className="strip-head">
            <th scope="col">
              Update, and <Term name="why now" />
            </th>
            <th scope="col">
              Hosts that <Term name="carries">carry it</Term>, <Term name="lacks">lack it</Term>, <Term name="unknown" />
            </th>
            <th scope="col" className="marks">
              {docket.data.populations.map((p) => (
                <span key={p.id} className="headcell">
                  {p.name}
                </span>
              ))}
            </th>
          </tr>
        </thead>
        <tbody ref={list}>
          {cases.map((strip, index) => (
            <StripRow
              key={strip.id}
              strip={strip}
              page={docket.data}
              now={now}
              current={index === at}
              chosen={chosen.includes(strip.id)}
              point={() => set({ at: strip.id })}
            />
          ))}
        </tbody>
      </table>
      {cases.length === 0 && <Empty show={show} total={all.length} />}
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
            <Key name="L">leave to the rule</Key>
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
      <strong>{show === 'open' ? 'Nothing needs your judgement.' : 'Nothing here.'}</strong>
      {show === 'open' && 'A case comes back when something about it changes. What was answered is one filter away.'}
    </p>
  );
}

function StripRow({
  strip,
  page,
  now,
  current,
  chosen,
  point,
}: {
  strip: Strip;
  page: Schemas['DocketPage'];
  now: Date;
  current: boolean;
  chosen: boolean;
  point: () => void;
}) {
  const zoneless = (population: string) => page.populations.find((p) => p.id === population)?.name ?? population;
  return (
    <tr className={`strip${current ? ' current' : ''}${chosen ? ' chosen' : ''}`} aria-current={current} onClick={point}>
      <td>
        <div className="title">
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
        <div className="why">
          {needsJudgement(strip) ? whyNow(strip, now) : answeredWords(strip)}
          {strip.contains.length > 0 && (
            <>
              {' '}
              <Term name="newest only">Contains {strip.contains.length} earlier</Term>: {strip.contains.slice(0, 3).join(', ')}
              {strip.contains.length > 3 && ' …'}.
            </>
          )}
        </div>
      </td>
      <td className="bar-line">
        <CarriageBar
          counts={{ ...NO_HOSTS, carries: strip.carrying, missing: strip.lacking - strip.unknown, unknown: strip.unknown }}
          width={196}
          height={12}
        />
        <span className="numbers">
          <span className="mid">{strip.carrying} carry</span>
          <span>
            <span className="strong">{strip.lacking}</span> lack
          </span>
          <span className="mid">{strip.unknown} unknown</span>
        </span>
      </td>
      <td className="marks">
        {strip.marks.map((mark) => (
          <span className="cell" key={mark.population}>
            {mark.holds && mark.lacking > 0 && (
              <>
                <Mark
                  name={markOf(mark.holds)}
                  label={`${zoneless(mark.population)}: ${findingWords(mark.holds, now)}${mark.differently > 0 ? `; otherwise for ${mark.differently} of them` : ''}`}
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

function answeredWords(strip: Strip): string {
  if (strip.foldedUnder !== undefined) {
    return `Stands under ${strip.foldedUnder}, which is released for the same hosts and brings it; ${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'lacks' : 'lack'} it.`;
  }
  return strip.lacking === 0
    ? 'Every host that it is for carries it.'
    : `Answered; ${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'lacks' : 'lack'} it.`;
}
