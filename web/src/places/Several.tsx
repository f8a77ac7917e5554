import { Button, Select } from 'antd';
import { Link, useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useDocket, usePopulations, useSession } from '../api/queries';
import { Overtaken } from '../case/Overtaken';
import { AnswerPart, BecausePart, DAY_LABELS, ForceParts } from '../decisions/SentenceParts';
import {
  casesFor,
  casesIn,
  decidedHosts,
  hindrance,
  MOST_CASES,
  populationsOfAll,
  reachWords,
  type SeveralAsked,
  severalIn,
  severalWords,
  triedWords,
  watchWords,
} from '../decisions/several';
import { useSeveralDraft } from '../decisions/useSeveralDraft';
import { DEFAULTS, verdictTypeOf } from '../decisions/useVerdictDraft';
import { Row } from '../frame/Boundary';
import { DayPart } from '../frame/DayPart';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { NumberField } from '../frame/NumberField';
import { type Changes, useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { WhereFault, WherePart } from '../frame/WherePart';
import { SAID } from '../words/answers';
import { count } from '../words/dates';
import { type ReasonWord, ratingWords } from '../words/sentences';
import { briefSuggestion } from '../words/weighing';
import styles from './Several.module.css';

type Strip = Schemas['Strip'];

/** Several cases under one answer: what it would do on each is told case by case, and all of them are decided or none. */
export default function Several() {
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const [search, set] = useAddress();
  const named = casesIn(search.get('cases'));
  const docket = useDocket({ show: 'ALL', update: named.slice(0, MOST_CASES) }, named.length > 0);
  const show = search.get('show') ?? 'open';
  const back = (chosen: string[]) => {
    const kept: Record<string, string> = chosen.length > 0 ? { chosen: casesFor(chosen) } : {};
    return navigate(`/docket?${new URLSearchParams({ ...(show === 'open' ? {} : { show }), ...kept })}`);
  };
  if (named.length > 0 && docket.isLoadingError) {
    return <Failed what="These cases" error={docket.error} again={docket.refetch} />;
  }
  const page = docket.data?.pages[0];
  if (named.length > 0 && page === undefined) {
    return <Loading what="these cases" />;
  }
  const byId = new Map((page?.cases ?? []).map((strip) => [strip.id, strip]));
  const strips = named.flatMap((id) => byId.get(id) ?? []);
  const missing = page === undefined ? [] : named.slice(0, MOST_CASES).filter((id) => !byId.has(id));
  return (
    <main>
      <div className="head">
        <Heading>{strips.length === 0 ? 'Several cases at once' : `${count(strips.length, 'case')} at once`}</Heading>
        <span className="mid">all of them are decided, or none; what it would do is told case by case</span>
      </div>
      {missing.length > 0 && (
        <p className="fault-line" role="status">
          Not known here: {missing.join(', ')}.
        </p>
      )}
      {named.length > MOST_CASES && (
        <p className="fault-line" role="status">
          At most {MOST_CASES} cases are decided at once: {named.length - MOST_CASES} more are left for the next time.
        </p>
      )}
      {strips.length === 0 || page === undefined ? (
        <p className="empty">
          <strong>No case is chosen.</strong>
          Choose some with the space bar on the <Link to="/docket">docket</Link>, then press B, D, P or F.
        </p>
      ) : (
        <Worded
          key={search.get('verdict') ?? ''}
          strips={strips}
          ladder={page.populations}
          search={search}
          set={set}
          now={now}
          decides={analyst}
          cancel={() => back(strips.map((strip) => strip.id))}
          done={() => back([])}
        />
      )}
    </main>
  );
}

interface Props {
  strips: Strip[];
  ladder: Schemas['PopulationName'][];
  search: URLSearchParams;
  set: (changes: Changes) => void;
  now: Date;
  decides: boolean;
  cancel: () => void;
  done: () => void;
}

function Worded({ strips, ladder, search, set, now, decides, cancel, done }: Props) {
  const navigate = useNavigate();
  const type = verdictTypeOf(search.get('verdict')) ?? 'DEFER';
  const asked = severalIn(search, type, now);
  const reasons = (search
    .get('because')
    ?.split(',')
    .filter((one) => one.trim() !== '') ?? [DEFAULTS[type].reason]) as ReasonWord[];
  const words = search.get('words') ?? '';
  const draft = useSeveralDraft(strips, asked, reasons, words, now, done);
  const at = Math.max(
    0,
    strips.findIndex((strip) => strip.id === search.get('at')),
  );
  const current = strips[at];
  const move = (to: number) => set({ at: strips[Math.min(Math.max(to, 0), strips.length - 1)]?.id });
  const without = (ids: string[]) => {
    const rest = strips.filter((strip) => !ids.includes(strip.id));
    const next = strips.slice(at + 1).find((strip) => !ids.includes(strip.id)) ?? rest.at(-1);
    set({ cases: casesFor(rest.map((strip) => strip.id)), at: next?.id });
  };
  useKeys({
    ArrowDown: () => move(at + 1),
    ArrowUp: () => move(at - 1),
    Enter: () => current && navigate(`/cases/${encodeURIComponent(current.id)}`),
    x: () => current && without([current.id]),
    Escape: cancel,
  });
  const hindered = strips.filter((strip) => hindrance(strip, asked, draft.told.get(strip.id)) !== undefined);
  const { fault } = draft;
  const tried = triedWords([...draft.told.values()]);
  // What is wrong with the condition is wrong on every case.
  const where = [...draft.told.values()].map((one) => one.refused).find((refused) => refused?.field === 'where');
  return (
    <div className={styles.page}>
      <section className="sheet" aria-label="The verdict on all of them">
        <Sentence
          asked={asked}
          strips={strips}
          ladder={ladder}
          letGo={draft.letGo}
          sample={strips.map((strip) => draft.told.get(strip.id)?.worded[0]?.pilot?.sample.length).find((size) => size !== undefined)}
          reasons={reasons}
          words={words}
          fault={where !== undefined}
          search={search}
          set={set}
          now={now}
        />
        {(fault ?? where) && <WhereFault text={asked.where} message={fault?.message ?? where?.reason ?? ''} />}
        {tried !== undefined && <div className="mid">{tried}</div>}
        {draft.overtaken && <Overtaken message={draft.refused?.message ?? ''} reading={draft.reading} />}
        <div className="actions">
          <Button type="primary" disabled={!draft.ready || !decides} loading={draft.pending} onClick={draft.submit}>
            {draft.armed ? `Confirm: ${severalWords(asked, strips.length, now).toLowerCase()}` : severalWords(asked, strips.length, now)}
          </Button>
          <span className="mid">
            <kbd>Ctrl</kbd> <kbd>Enter</kbd>
          </span>
          <Button onClick={cancel}>Cancel</Button>
          {hindered.length > 0 && (
            <>
              <button type="button" className="plain link" onClick={() => without(hindered.map((strip) => strip.id))}>
                Leave out {hindered.length === 1 ? 'the one' : `the ${hindered.length}`} that cannot be decided here
              </button>
              {hindered.length === strips.length && <span className="mid">none of them can</span>}
            </>
          )}
          {draft.armed && (
            <strong role="status">
              {draft.everywhere ? 'This is for every population that lacks them.' : 'This lets hosts move to a new release.'} Press again to
              decide all of them.
            </strong>
          )}
          {type === 'DEFER' && !draft.letGo && (
            <button type="button" className="plain link" onClick={() => set({ until: today(now), because: 'ROUTINE' })}>
              Let them go now instead
            </button>
          )}
        </div>
      </section>
      <table className={`list ${styles.cases}`} aria-label="What it would do, case by case">
        <thead>
          <tr>
            <th scope="col">Update</th>
            <th scope="col">Hosts on which it would be in force</th>
            <th scope="col">Before you decide</th>
            <th scope="col" aria-label="Leave out" />
          </tr>
        </thead>
        <tbody>
          {strips.map((strip, index) => (
            <Row key={strip.id} what={strip.id} columns={4}>
              {() => (
                <CaseRow
                  strip={strip}
                  asked={asked}
                  told={draft.told.get(strip.id)}
                  now={now}
                  current={index === at}
                  point={() => set({ at: strip.id })}
                  leaveOut={() => without([strip.id])}
                />
              )}
            </Row>
          ))}
        </tbody>
      </table>
      <Legend>
        <Key name="↑ ↓">move</Key>
        <Key name="Enter">open the case</Key>
        <Key name="X">leave the case out</Key>
        <Key name="Ctrl Enter">decide all of them</Key>
        <Key name="Escape">back to the docket</Key>
      </Legend>
    </div>
  );
}

const today = (now: Date) => now.toISOString().slice(0, 10);

interface SentenceProps extends Pick<Props, 'strips' | 'ladder' | 'search' | 'set' | 'now'> {
  asked: SeveralAsked;
  letGo: boolean;
  /** Of a pilot: how many hosts would try the first. */
  sample: number | undefined;
  reasons: ReasonWord[];
  words: string;
  /** Its condition cannot be read. */
  fault: boolean;
}

function Sentence({ asked, strips, ladder, letGo, sample, reasons, words, fault, search, set, now }: SentenceProps) {
  const { type } = asked;
  return (
    <div className="sentence">
      <AnswerPart type={type} letGo={letGo} change={(verdict) => set({ verdict, until: undefined, because: undefined })} />{' '}
      {count(strips.length, 'update')}
      {type === 'PILOT' && (
        <>
          , each on{' '}
          <NumberField
            part
            label="How many hosts try each"
            width={48}
            least={1}
            most={2000}
            value={asked.size ?? sample}
            change={(size) => set({ size: size === undefined ? undefined : String(size) })}
          />{' '}
          hosts, the same where they lack them,
        </>
      )}{' '}
      for{' '}
      <Select
        aria-label="Populations"
        mode="multiple"
        variant="borderless"
        className={styles.several}
        popupMatchSelectWidth={false}
        placeholder="every population that lacks them"
        value={asked.only}
        onChange={(value) => set({ for: value.join(',') })}
        options={populationsOfAll(strips, ladder).map(({ id, name }) => ({ value: id, label: name }))}
        optionFilterProp="label"
      />{' '}
      where{' '}
      <WherePart
        label="Narrowed to hosts where"
        placeholder="it is any host"
        value={asked.where}
        traits={usePopulations().data?.traits}
        fault={fault}
        change={(text) => set({ where: text })}
      />{' '}
      {SAID[type].dayWord} <DayPart label={DAY_LABELS[type]} value={asked.until} now={now} change={(until) => set({ until })} />
      {type === 'FORCE' && <ForceParts search={search} set={set} />}
      <BecausePart reasons={reasons} words={words} change={set} />
    </div>
  );
}

interface RowProps {
  strip: Strip;
  asked: SeveralAsked;
  told: Schemas['OnCase'] | undefined;
  now: Date;
  current: boolean;
  point: () => void;
  leaveOut: () => void;
}

function CaseRow({ strip, asked, told, now, current, point, leaveOut }: RowProps) {
  const why = hindrance(strip, asked, told);
  return (
    <tr className={current ? 'current' : undefined} aria-current={current} onClick={point}>
      <td className={`name ${styles.name}`}>
        <Link to={`/cases/${encodeURIComponent(strip.id)}`}>{strip.title}</Link>
        <div className="mid small">
          {strip.id} · {ratingWords(strip.rating, strip.baseScore)}
          {strip.beam.suggestion !== undefined && ` · suggested: ${briefSuggestion(strip.beam.suggestion)}`}
        </div>
      </td>
      <td className={styles.reach}>
        {told === undefined && why === undefined && <span className="mid">Reading …</span>}
        {told !== undefined && told.refused === undefined && (
          <>
            <span className="strong">{count(decidedHosts(told.worded), 'host')}</span>{' '}
            <span className="mid">{reachWords(told.worded)}</span>
          </>
        )}
      </td>
      <td>
        {why !== undefined ? (
          <>
            <span className="strong">Not here: {why}</span>
            {told?.worded.some((one) => one.grounds.length > 0) && (
              <>
                {' '}
                <Link to={`/cases/${encodeURIComponent(strip.id)}?verdict=${asked.type}&all=yes`}>Propose it there</Link>
              </>
            )}
          </>
        ) : (
          told !== undefined && watchWords(told.worded, asked, now).map((line) => <div key={line}>{line}</div>)
        )}
      </td>
      <td className="nowrap">
        <button
          type="button"
          className="plain link"
          aria-label={`Leave out ${strip.id}`}
          onClick={(event) => {
            event.stopPropagation();
            leaveOut();
          }}
        >
          Leave out
        </button>
      </td>
    </tr>
  );
}
