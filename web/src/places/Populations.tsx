import { App, Button, Dropdown } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { api, asItIs, body, Refusal, type Schemas } from '../api/client';
import { useLadderChange, useLadderVersions, usePopulations, useSession } from '../api/queries';
import { useDecision } from '../decisions/useDecision';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { HostNames } from '../frame/HostNames';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { useSettled } from '../frame/useSettled';
import { WhereFault } from '../frame/WherePart';
import { HolidaySection } from '../populations/HolidaySection';
import { HoursBar } from '../populations/HoursBar';
import { effect, LadderConsequence } from '../populations/LadderConsequence';
import {
  changedAt,
  documentOf,
  hasHours,
  keepDraft,
  type Ladder,
  ladderOf,
  movedBy,
  type Population,
  ruleWords,
  timingWords,
  unfinished,
  useDraft,
  withNew,
  without,
} from '../populations/ladder';
import { PopulationSentence, TIERS } from '../populations/PopulationSentence';
import { RuleSentence } from '../populations/RuleSentence';
import { StaysAtLines } from '../populations/StaysAt';
import { count, dayTime } from '../words/dates';
import { fewThereWords } from '../words/holidays';
import styles from './Populations.module.css';

const FLEET = 'fleet';
const HOLIDAYS = 'holidays';

/** The ladder, as sentences that can be worded anew; what that would change is shown before it is saved. */
export default function Populations() {
  const read = usePopulations();
  if (read.isLoadingError) {
    return <Failed what="The populations" error={read.error} again={read.refetch} />;
  }
  return read.data ? <LadderPage view={read.data} /> : <Loading what="the populations" />;
}

function LadderPage({ view }: { view: Schemas['LadderView'] }) {
  const analyst = useSession().data?.role === 'ANALYST';
  const now = useNow();
  const [search, set] = useAddress();
  const { takeBack } = useLastAct();
  const list = useRef<HTMLDivElement>(null);
  const draft = useDraft();
  const present = ladderOf(view);
  const ladder = analyst && draft ? draft.ladder : present;
  const worded = documentOf(ladder) !== documentOf(present);
  const drafting = analyst && draft !== undefined && (worded || draft.base !== view.version);

  const missing = unfinished(ladder);
  const asked = useSettled(documentOf(ladder), 350);
  const change = useLadderChange(drafting && !missing ? asked : undefined, view.version);
  const save = useDecision({
    version: draft?.base ?? view.version,
    draft: documentOf(ladder),
    send: (document, seen) =>
      body(
        api.PUT('/api/populations', {
          body: document,
          bodySerializer: asItIs,
          params: { header: seen, query: { document: draft?.proposal } },
        }),
      ),
    said: (saved) => `The populations are saved; ${saved.moved === 0 ? 'no host' : count(saved.moved, 'host')} moved.`,
    close: () => {
      keepDraft(undefined);
      set({ change: undefined });
    },
  });
  const refusal = change.error instanceof Refusal ? change.error : save.overtaken ? undefined : save.refused;
  const fault = missing ?? placeOf(refusal);
  const shown = drafting && !fault ? change.data : undefined;
  const ready = drafting && shown !== undefined && !change.isPlaceholderData && asked === documentOf(ladder);

  const places = [...ladder.populations.map((p) => p.id), FLEET, HOLIDAYS];
  const at = Math.max(0, places.indexOf(search.get('at') ?? ''));
  const open = analyst ? search.get('change') : null;

  const word = (next: Ladder) => keepDraft({ base: draft?.base ?? view.version, ladder: next, proposal: draft?.proposal });
  useProposal(analyst ? search.get('proposal') : null, (proposal, proposed) => {
    keepDraft({ base: view.version, ladder: proposed, proposal });
    set({ proposal: undefined });
  });
  const discard = () => {
    keepDraft(undefined);
    set({ change: undefined });
  };
  const submit = () => ready && save.submit();
  const move = (to: number) => set({ at: places[Math.min(Math.max(to, 0), places.length - 1)] });
  useEffect(() => {
    list.current?.querySelectorAll('.population')[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);

  const add = () => {
    const next = withNew(ladder, Math.min(at, ladder.populations.length - 1));
    const fresh = next.populations.find((p) => !ladder.populations.some((known) => known.id === p.id));
    word(next);
    set({ at: fresh?.id, change: fresh?.id });
  };
  const shift = (by: 1 | -1) => at < ladder.populations.length && word(movedBy(ladder, at, by));
  const remove = (index: number) => {
    if (index < ladder.populations.length) {
      word(without(ladder, index));
      set({ change: undefined });
    }
  };
  useKeys(
    analyst
      ? {
          ArrowDown: () => move(at + 1),
          ArrowUp: () => move(at - 1),
          Enter: () => set({ at: places[at], change: places[at] }),
          a: add,
          'Ctrl+ArrowUp': () => shift(-1),
          'Ctrl+ArrowDown': () => shift(1),
          Delete: () => remove(at),
          u: takeBack,
          'Ctrl+Enter': submit,
          Escape: () => (open ? set({ change: undefined }) : drafting && !worded ? discard() : undefined),
        }
      : { ArrowDown: () => move(at + 1), ArrowUp: () => move(at - 1) },
  );

  return (
    <main>
      <div className="head">
        <Heading>The ladder of populations</Heading>
        <span className="mid">The first that matches owns a host, so each host is in exactly one, or in none.</span>
        <span className="space" />
        {analyst && (
          <button type="button" className="plain link" onClick={add}>
            Add a population
          </button>
        )}
        {analyst && <EarlierLadders load={(document) => keepDraft({ base: view.version, ladder: document })} now={now} />}
        {analyst && (
          <a href="/api/populations/document" download="populations.json">
            Download
          </a>
        )}
      </div>
      <div className={drafting ? 'page ladder drafting' : 'page ladder'}>
        <div ref={list}>
          {ladder.populations.length === 0 && (
            <p className="empty">
              <strong>No populations yet.</strong>
              {analyst ? 'Add one here, or bring' : 'An analyst words them, or brings'} all of them in one document of the format
              populations-1 (its schema is at /api/schemas/populations-1). Until then the fleet's rule holds for every host.
            </p>
          )}
          {ladder.populations.map((p, index) => (
            <Row key={p.id} what={p.name}>
              {() => (
                <LadderEntry
                  population={p}
                  number={index + 1}
                  known={view.populations.find((known) => known.id === p.id)}
                  counts={shown?.populations.find((counted) => counted.id === p.id)}
                  current={at === index}
                  open={open === p.id}
                  analyst={analyst}
                  traits={view.traits}
                  others={ladder.populations.filter((other) => other !== p)}
                  platforms={view.platforms}
                  suggested={view.inNoPopulation.names}
                  fault={fault?.index === index ? fault : undefined}
                  now={now}
                  point={() => set({ at: p.id })}
                  begin={() => set({ at: p.id, change: p.id })}
                  finish={() => set({ change: undefined })}
                  change={(part) => word(changedAt(ladder, index, part))}
                  remove={() => remove(index)}
                  shift={(by) => word(movedBy(ladder, index, by))}
                />
              )}
            </Row>
          ))}
          <section
            className={at === ladder.populations.length ? 'population current' : 'population'}
            aria-current={at === ladder.populations.length}
          >
            <span />
            <div className="prose">
              <h2 className={styles.title}>
                In no population <small className="mid">the fleet's rule</small>
              </h2>
              <Stray hosts={shown?.inNoPopulation ?? view.inNoPopulation} />
              {open === FLEET ? (
                <div className="sentence worded">
                  <RuleSentence
                    of="The fleet"
                    rule={ladder.fleetRule}
                    others={ladder.populations}
                    traits={view.traits}
                    change={(fleetRule) => word({ ...ladder, fleetRule })}
                  />
                </div>
              ) : (
                <p>{ruleWords(ladder.fleetRule, nameIn(ladder.populations))}</p>
              )}
              {analyst && (
                <button
                  type="button"
                  className={`plain link mid ${styles.small}`}
                  onClick={() => set({ at: FLEET, change: open === FLEET ? undefined : FLEET })}
                >
                  {open === FLEET ? 'Done' : 'Change'}
                </button>
              )}
            </div>
          </section>
          <HolidaySection
            ladder={ladder}
            current={at === ladder.populations.length + 1}
            open={open === HOLIDAYS}
            analyst={analyst}
            now={now}
            word={word}
            begin={() => set({ at: HOLIDAYS, change: HOLIDAYS })}
            finish={() => set({ change: undefined })}
          />
        </div>
        {drafting && (
          <aside className="sheet beside" aria-label="What this changes">
            <h2 className={styles.heading}>What this changes</h2>
            {draft?.proposal !== undefined && (
              <p className="mid">
                As document {draft.proposal} on <Link to="/intake?outcome=REJECTED">Intake</Link> proposes it; saving puts it in force.
              </p>
            )}
            {fault && <WhereFault text="" message={fault.words} />}
            {save.overtaken && draft?.base !== view.version && (
              <p className="fault-line" role="alert">
                Not saved: {save.refused?.message}
              </p>
            )}
            {draft?.base !== view.version && (
              <p className="fault-line" role="alert">
                Somebody saved other populations since you began.{' '}
                <button type="button" className="plain link" onClick={() => draft && keepDraft({ ...draft, base: view.version })}>
                  Keep my draft
                </button>{' '}
                or discard yours.
              </p>
            )}
            {!fault && !shown && <p className="mid">Counting …</p>}
            {shown && <LadderConsequence change={shown} />}
            <div className="actions">
              <Button type="primary" disabled={!ready} loading={save.pending} onClick={submit}>
                {shown ? effect(shown) : 'Save'}
              </Button>
              <span className="mid">
                <kbd>Ctrl</kbd> <kbd>Enter</kbd>
              </span>
              <Button onClick={discard}>Discard</Button>
            </div>
            <p className="mid">Nothing is saved until you press it; what is worded here stays in this tab.</p>
          </aside>
        )}
      </div>
      {analyst && (
        <Legend>
          <Key name="↑ ↓">move</Key>
          <Key name="Enter">change</Key>
          <Key name="A">add below</Key>
          <Key name="Ctrl ↑ ↓">one place up or down</Key>
          <Key name="Delete">leave out</Key>
          <Key name="Ctrl Enter">save</Key>
          <Key name="U">take the last one back</Key>
        </Legend>
      )}
    </main>
  );
}

interface Fault {
  index: number;
  field: string;
  words: string;
}

/** Where in the ladder the server found a fault: "/populations/3/condition". */
function placeOf(refusal: Refusal | undefined): Fault | undefined {
  if (refusal === undefined) {
    return undefined;
  }
  const place = /^\/populations\/(\d+)\/?(\w*)/.exec(refusal.field ?? '');
  return { index: place ? Number(place[1]) : -1, field: place?.[2] ?? '', words: refusal.message };
}

function Stray({ hosts }: { hosts: Schemas['HostList'] }) {
  return (
    <p>
      {count(hosts.count, 'host')}
      {hosts.count > 0 && (
        <>
          : <HostNames hosts={hosts} most={8} />
        </>
      )}
      .{hosts.count > 0 && <span className="mid"> Include them by name, or widen a condition.</span>}
    </p>
  );
}

const nameIn = (populations: Population[]) => (id: string) => populations.find((one) => one.id === id)?.name ?? id;

interface LadderEntryProps {
  population: Population;
  number: number;
  /** As it holds now; none if it is new. */
  known: Schemas['PopulationView'] | undefined;
  /** As it would be, while something is worded. */
  counts: Schemas['PopulationCount'] | undefined;
  current: boolean;
  open: boolean;
  analyst: boolean;
  traits: Schemas['TraitView'][];
  /** Whose tries its rule may wait for. */
  others: Population[];
  platforms: string[];
  suggested: string[];
  fault: Fault | undefined;
  now: Date;
  point: () => void;
  begin: () => void;
  finish: () => void;
  change: (part: Partial<Population>) => void;
  remove: () => void;
  shift: (by: 1 | -1) => void;
}

function LadderEntry({ population: p, number, known, counts, current, open, analyst, fault, now, ...act }: LadderEntryProps) {
  const hosts = counts?.hosts ?? known?.hosts;
  const overlaps = counts?.overlaps ?? known?.overlaps;
  const timing = counts?.timing ?? known?.timing;
  const includes = p.includes ?? [];
  const excludes = p.excludes ?? [];
  const protectedHosts = p.protected ?? [];
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys do the same for the whole list
    <section className={current ? 'population current' : 'population'} aria-current={current} aria-label={p.name} onClick={act.point}>
      <span className={`serif strong mid ${styles.title}`}>{number}</span>
      <div className="prose">
        {open ? (
          <>
            <PopulationSentence
              population={p}
              platforms={act.platforms}
              now={now}
              traits={act.traits}
              others={act.others}
              suggested={act.suggested}
              fault={fault?.field}
              change={act.change}
            />
            {timing !== undefined && (
              <>
                <p className="mid">{workedWords(p, timing.worked, now)}</p>
                <HoursBar timing={timing} name={p.name} now={now} zone={p.timeZone ?? 'Z'} />
              </>
            )}
          </>
        ) : (
          <>
            <h2 className={styles.title}>{p.name}</h2>
            <p>
              {hosts === undefined ? 'Hosts' : count(hosts, 'host')}
              {counts?.before !== undefined && counts.before !== counts.hosts && <span className="mid"> ({counts.before} now)</span>} where{' '}
              <b>{p.condition}</b>
              {includes.length > 0 && `, and ${includes.join(', ')}`}
              {excludes.length > 0 && `, but not ${excludes.join(', ')}`}.
              {protectedHosts.length > 0 && (
                <>
                  {' '}
                  {protectedHosts.join(', ')} {protectedHosts.length === 1 ? 'is' : 'are'} <Term name="protected">protected</Term>.
                </>
              )}
            </p>
            <p>
              {ruleWords(p.rule, nameIn(act.others))}{' '}
              {timing !== undefined && <span className="mid">{workedWords(p, timing.worked, now)}</span>}
            </p>
            <p>{timingWords(p)}</p>
            <StaysAtLines targets={counts?.staysAt ?? known?.staysAt ?? []} now={now} />
            <p className="rungfacts">
              <Term name="tier">Tier {p.tier}</Term>, {TIERS[p.tier]} · {p.owner ? `owner ${p.owner}` : 'no owner named'} ·{' '}
              {p.timeZone ?? 'UTC'} · takes updates from <Term name="supply">{p.supply ? p.supply : 'anywhere'}</Term> · reports every{' '}
              {count(p.checkInHours ?? 24, 'hour')}
              {known !== undefined && known.unknown > 0 && ` · ${count(known.unknown, 'host')} unknown`}
            </p>
            {timing !== undefined && hasHours(p) && <HoursBar timing={timing} name={p.name} now={now} zone={p.timeZone ?? 'Z'} />}
            {overlaps !== undefined && overlaps.count > 0 && (
              <p className="rungfacts">
                {count(overlaps.count, 'host')} {overlaps.count === 1 ? 'matches' : 'match'} a population further down too:{' '}
                <HostNames hosts={overlaps} />
              </p>
            )}
          </>
        )}
        {analyst && current && (
          <div className="rungacts">
            <button type="button" className="plain link" onClick={open ? act.finish : act.begin}>
              {open ? 'Done' : 'Change'}
            </button>
            <button type="button" className="plain link" onClick={() => act.shift(-1)}>
              Higher
            </button>
            <button type="button" className="plain link" onClick={() => act.shift(1)}>
              Lower
            </button>
            <button type="button" className="plain link" onClick={act.remove}>
              Remove
            </button>
          </div>
        )}
      </div>
    </section>
  );
}

/** "A High security update published now would be offered Wed 9 Dec and due Sat 12 Dec 12:00; hosts that were away 3 days after they return." */
function workedWords(p: Population, worked: Schemas['WorkedView'], now: Date): string {
  const zone = p.timeZone ?? 'Z';
  if (worked.offered === undefined) {
    return 'A High security update published now would wait for a verdict.';
  }
  const away = p.allowanceDays ?? 0;
  const due =
    worked.due === undefined
      ? ''
      : ` and due ${dayTime(worked.due, now, zone)}${away > 0 ? `, hosts that were away ${count(away, 'day')} after they return` : ''}`;
  const restart = worked.restarted === undefined ? '' : ` A host that reports then would restart ${dayTime(worked.restarted, now, zone)}.`;
  const few = worked.fewThere === undefined ? '' : `, ${fewThereWords(worked.fewThere, worked.offered, zone)},`;
  return `A High security update published now would be offered ${dayTime(worked.offered, now, zone)}${few}${due}.${restart}`.replace(
    ',.',
    '.',
  );
}

/** Words the populations that a document on Intake proposes, once they have been read. */
function useProposal(number: string | null, proposed: (number: number, ladder: Ladder) => void) {
  const { message } = App.useApp();
  useEffect(() => {
    if (number === null) {
      return;
    }
    let wanted = true;
    fetch(`/api/documents/${encodeURIComponent(number)}/content`)
      .then(async (answer) => {
        if (!answer.ok) {
          throw new Error();
        }
        const ladder = (await answer.json()) as Ladder;
        if (wanted) {
          proposed(Number(number), ladder);
        }
      })
      .catch(() => message.error('What this document proposes could not be read; nothing was changed.'));
    return () => {
      wanted = false;
    };
    // Read once for each document; what is worded from it is kept.
  }, [number]);
}

/** Ladders that held before; one that is chosen is worded, not saved. */
function EarlierLadders({ load, now }: { load: (ladder: Ladder) => void; now: Date }) {
  const [asked, setAsked] = useState(false);
  const versions = useLadderVersions(asked);
  const { message } = App.useApp();
  const fetchOne = async (number: number) => {
    const answer = await fetch(`/api/documents/${number}/content`);
    if (answer.ok) {
      load((await answer.json()) as Ladder);
    } else {
      message.error('This ladder could not be read; nothing was changed.');
    }
  };
  const items = (versions.data ?? []).map((version, index) => ({
    key: version.number,
    label: `${index === 0 ? 'since' : 'from'} ${dayTime(version.createdAt, now)}, ${version.author}`,
    disabled: index === 0,
  }));
  return (
    <Dropdown trigger={['click']} onOpenChange={setAsked} menu={{ items, onClick: ({ key }) => void fetchOne(Number(key)) }}>
      <button type="button" className="plain link">
        Earlier ladders
      </button>
    </Dropdown>
  );
}
