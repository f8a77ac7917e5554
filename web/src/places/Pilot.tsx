import { App, Button } from 'antd';
import { useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { useChange, usePilot, useSession } from '../api/queries';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { NumberField } from '../frame/NumberField';
import { Term } from '../frame/Term';
import { useNamed } from '../frame/useNamed';
import { useNow } from '../frame/useNow';
import { GateChart } from '../pilots/GateChart';
import { HostCells } from '../pilots/HostCells';
import { count, day, dayTime, isoDay, lastDay } from '../words/dates';
import { kindWords, outlook, PILOT_STATES, percent } from '../words/pilots';
import { reasonWords } from '../words/sentences';
import styles from './Pilot.module.css';

type PilotView = Schemas['PilotView'];

/** One pilot: whether the evidence decides it, whom it stands for, and what to do next. */
export default function Pilot() {
  const number = Number(useNamed());
  const pilot = usePilot(number);
  const now = useNow();
  const navigate = useNavigate();
  const analyst = useSession().data?.role === 'ANALYST';
  const extending = useRef<HTMLDivElement>(null);
  const one = pilot.data;
  const populations = one?.populations.map((population) => population.id).join(',') ?? '';
  /** Words the next verdict on the case, for the hosts that this one is for. */
  const word = (type: string, until?: string) => {
    if (one !== undefined && analyst) {
      const address = new URLSearchParams({ verdict: type, for: populations, because: type === 'BLOCK' ? 'FAILURES_SEEN' : 'ROUTINE' });
      if (one.where !== undefined) {
        address.set('where', one.where);
      }
      if (until !== undefined) {
        address.set('until', until);
      }
      navigate(`/cases/${encodeURIComponent(one.update)}?${address}`);
    }
  };
  const letGo = () => word('DEFER', isoDay(now, 0));
  useKeys({
    x: () => extending.current?.querySelector('input')?.focus(),
    l: letGo,
    b: () => word('BLOCK'),
    c: () => one && navigate(`/cases/${encodeURIComponent(one.update)}`),
    Escape: () => navigate(`/pilots?at=${number}`),
  });
  if (pilot.isLoadingError) {
    return <Failed what="This pilot" error={pilot.error} again={pilot.refetch} />;
  }
  if (one === undefined) {
    return <Loading what="the pilot" />;
  }
  const running = one.ended === undefined;
  return (
    <main>
      <div className="head tight">
        <Heading>{`Pilot of ${one.title || one.update}`}</Heading>
        <span className="mid">
          {one.update} · {one.populations.map((population) => population.name).join(', ')}
          {one.where !== undefined && ` where ${one.where}`} · revision {one.revision} · begun by {one.author} {day(one.startedAt, now)} ·{' '}
          {running ? `to answer by ${lastDay(one.answerDay, now)}` : `over since ${dayTime(one.ended ?? '', now)}`}
        </span>
        <span className="space" />
        <Link to={`/cases/${encodeURIComponent(one.update)}`}>Case</Link>
      </div>
      <div className={styles.pilot}>
        <section>
          <h2>
            {PILOT_STATES[one.state].charAt(0).toUpperCase() + PILOT_STATES[one.state].slice(1)}
            {one.failedAt !== undefined && ` ${dayTime(one.failedAt, now)}`}
          </h2>
          <p role="status">{outlook(one)}</p>
          <GateChart pilot={one} />
          <GateWords pilot={one} />
          <OnceMetWords pilot={one} now={now} />
          <h3>{count(one.hosts.filter((host) => host.state !== 'REPLACED').length, 'host')}</h3>
          <HostCells hosts={one.hosts} now={now} />
          {running && analyst && (
            <div className={styles.next}>
              <Next pilot={one} letGo={letGo} block={() => word('BLOCK')} extending={extending} now={now} />
            </div>
          )}
        </section>
        <section>
          <Coverage pilot={one} />
          <h3>Begun because</h3>
          <p>{reasonWords(one.reasons, one.words)}</p>
          {one.departments.length > 0 && <SignOffs pilot={one} open={running && analyst} now={now} />}
        </section>
      </div>
      <Legend>
        {analyst && running && (
          <>
            <Key name="X">extend</Key>
            <Key name="L">let it go</Key>
            <Key name="B">block</Key>
          </>
        )}
        <Key name="C">its case</Key>
        <Key name="Escape">pilots</Key>
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}

/** What was prepared for when it is met, and when that was done. */
function OnceMetWords({ pilot, now }: { pilot: PilotView; now: Date }) {
  const { onceMet } = pilot;
  if (onceMet === undefined) {
    return null;
  }
  const what = onceMet.forcedWithin === undefined ? 'it is let go' : `it is forced within ${count(onceMet.forcedWithin, 'day')}`;
  return (
    <p>
      Once it is met, {what} for all hosts that the pilot is for, by itself.
      {onceMet.doneAt !== undefined && <span className="strong"> Done {dayTime(onceMet.doneAt, now)}.</span>}
    </p>
  );
}

/** What the hosts say of the failure rate, and how far such a pilot can be trusted. */
function GateWords({ pilot }: { pilot: PilotView }) {
  const { gate, rate, tally } = pilot;
  return (
    <p>
      {rate === undefined ? (
        'No host has tried it yet. '
      ) : (
        <>
          {tally.failed} of {count(tally.failed + tally.soaking + tally.soaked, 'host')} that tried it failed:{' '}
          <span className="strong">{percent(rate.rate)}</span>, 95 % interval {percent(rate.low)} to {percent(rate.high)}
          {tally.soaking > 0 && `; ${tally.soaking} of them may still fail`}.{' '}
        </>
      )}
      <span className="mid">
        The <Term name="gate">gate</Term> asks for a failure rate of at most {percent(gate.limit)}, sure to 95 %
        {gate.limit > gate.askedLimit && ` (${percent(gate.askedLimit)} was asked for; ${gate.hosts} hosts cannot show that)`}. An update
        that fails in exactly {percent(gate.limit)} would pass such a pilot {Math.round(100 * gate.passesAtLimit)} times in 100, one that
        fails in 1 % {Math.round(100 * gate.passesAtOnePercent)} times.
      </span>
    </p>
  );
}

function Coverage({ pilot }: { pilot: PilotView }) {
  const { coverage } = pilot;
  return (
    <>
      <h2>Whom it stands for</h2>
      <p>
        {coverage.covered} of {count(coverage.kinds, 'kind')} of <Term name="sample">{kindWords(coverage.traits)}</Term> are in the sample.
      </p>
      {coverage.uncovered.length > 0 && (
        <>
          <p className="mid">Not covered:</p>
          <ul className={styles.kinds}>
            {coverage.uncovered.slice(0, 12).map((kind) => (
              <li key={kind.words}>
                {kind.words} <span className="mid">{count(kind.hosts, 'host')}</span>
              </li>
            ))}
            {coverage.uncovered.length > 12 && <li className="mid">and {coverage.uncovered.length - 12} more</li>}
          </ul>
        </>
      )}
    </>
  );
}

interface NextProps {
  pilot: PilotView;
  letGo: () => void;
  block: () => void;
  extending: React.RefObject<HTMLDivElement | null>;
  now: Date;
}

/** What to do next; what the state speaks for stands first. */
function Next({ pilot, letGo, block, extending, now }: NextProps) {
  const { takeBackThese } = useLastAct();
  const wanting = Math.max(0, pilot.furtherClean - pilot.tally.notTried - pilot.tally.soaking);
  const others = pilot.populations.map((one) => one.name).join(', ');
  const narrow = `/cases/${encodeURIComponent(pilot.update)}?narrow=first`;
  return (
    <>
      {pilot.state === 'FAILED' && (
        <Link className="ant-btn" to={narrow}>
          Block it, narrowed to its cause where one is told
        </Link>
      )}
      <Button type={pilot.state === 'MET' ? 'primary' : 'default'} onClick={letGo}>
        Let it go for {others} …
      </Button>
      <Button type={pilot.state === 'FAILED' ? 'primary' : 'default'} onClick={block}>
        Block it …
      </Button>
      {pilot.state !== 'FAILED' && pilot.others > 0 && (
        <Extension
          pilot={pilot}
          wanting={wanting > 0 && wanting <= pilot.others ? wanting : Math.min(10, pilot.others)}
          extending={extending}
        />
      )}
      <Button
        onClick={() => takeBackThese({ words: `the pilot of ${pilot.update}, begun ${day(pilot.startedAt, now)}.`, undo: pilot.undo })}
      >
        Take it back …
      </Button>
    </>
  );
}

function Extension({
  pilot,
  wanting,
  extending,
}: {
  pilot: PilotView;
  wanting: number;
  extending: React.RefObject<HTMLDivElement | null>;
}) {
  const { message } = App.useApp();
  const [more, setMore] = useState<number>();
  const by = more ?? wanting;
  const extend = useChange(
    (hosts: number) => body(api.POST('/api/pilots/{number}/extensions', { params: { path: { number: pilot.number } }, body: { hosts } })),
    'Not extended',
  );
  const send = () =>
    extend.mutate(by, {
      onSuccess: () => {
        setMore(undefined);
        message.info(`${count(by, 'more host')} may try it.`);
      },
    });
  return (
    <div ref={extending} className={styles.extend}>
      <Button loading={extend.isPending} disabled={by < 1 || by > pilot.others} onClick={send}>
        Extend by
      </Button>
      <NumberField
        label="How many more hosts"
        least={1}
        most={pilot.others}
        width={52}
        value={by}
        change={(value) => setMore(value ?? 0)}
      />
      <span className="mid">of {pilot.others} others</span>
    </div>
  );
}

function SignOffs({ pilot, open, now }: { pilot: PilotView; open: boolean; now: Date }) {
  const sign = useChange(
    (department: string) =>
      body(api.POST('/api/pilots/{number}/sign-offs', { params: { path: { number: pilot.number } }, body: { department } })),
    'Not kept',
  );
  return (
    <>
      <h3>
        <Term name="sign-off">Signed off by</Term>
      </h3>
      <ul className={styles.kinds}>
        {pilot.departments.map((one) => (
          <li key={one.name}>
            {one.name}{' '}
            {one.signedOffAt !== undefined ? (
              <span className="mid">
                {dayTime(one.signedOffAt, now)}, told by {one.signedOffBy}
              </span>
            ) : open ? (
              <button type="button" className="plain link" onClick={() => sign.mutate(one.name)}>
                it has signed off
              </button>
            ) : (
              <span className="mid">not yet</span>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
