import { type ReactNode, useRef } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { useChange, useProposedException, useProposedExceptions, useProposedRenewals, useSession } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { ApproverWord } from '../decisions/ApproverWord';
import { Row } from '../frame/Boundary';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { Mark } from '../look/Mark';
import { groundWords } from '../words/answers';
import { count, day, dayTime } from '../words/dates';
import { aboutWords, EFFECTS } from '../words/exceptions';
import { Excepted } from './Excepted';
import styles from './ExceptionLines.module.css';

type Proposed = Schemas['ProposedException'];
type Renewal = Schemas['ProposedRenewal'];

const isTold = (one: Proposed | Renewal) => one.state === 'WAITING' || one.state === 'SENT_BACK' || one.state === 'LAPSED';

/** Exceptions, and renewals, that wait for an approver, and what became of others within a week. */
export function ProposedExceptions({ now }: { now: Date }) {
  const exceptions = (useProposedExceptions().data ?? []).filter(isTold);
  const renewals = (useProposedRenewals().data ?? []).filter(isTold);
  return (
    <>
      {exceptions.map((one) => (
        <Row key={one.number} what={`Proposal ${one.number}`}>
          {() => <OneException proposed={one} now={now} />}
        </Row>
      ))}
      {renewals.map((one) => (
        <Row key={one.number} what={`Proposal ${one.number}`}>
          {() => <OneRenewal proposed={one} now={now} />}
        </Row>
      ))}
    </>
  );
}

function OneException({ proposed, now }: { proposed: Proposed; now: Date }) {
  const { data: would, error: fault } = useProposedException(proposed.number, proposed.state === 'WAITING');
  const hosts = would?.consequence.named ?? 0;
  return (
    <OneProposal
      proposed={proposed}
      now={now}
      approve={`Approve for ${count(hosts, 'host')}`}
      ready={would !== undefined && fault === null}
      fault={fault}
      would={would && <Excepted update={proposed.update} consequence={would.consequence} now={now} />}
      send={async (key) => {
        const made = await body(
          api.POST('/api/exceptions/proposals/{number}/approvals', {
            params: { path: { number: proposed.number }, header: { 'Idempotency-Key': key } },
          }),
        );
        return `Exception no. ${made.number} is made, for ${count(hosts, 'host')}.`;
      }}
      anew={<Link to={anew(proposed)}>Word it anew</Link>}
      waits={
        <>
          {' '}
          Until then it holds nothing; {count(proposed.hosts, 'host')} lacked {proposed.update} then.{' '}
          <Link to={`/cases/${encodeURIComponent(proposed.update)}`}>Its case</Link>
        </>
      }
    >
      <Mark name="EXCEPTION" size={20} /> <b>{EFFECTS[proposed.effect]}</b>{' '}
      {aboutWords({ about: proposed.about, title: '', update: proposed.about === proposed.update ? proposed.update : undefined })} where{' '}
      {proposed.where} until {day(`${proposed.until}T00:00:00Z`, now)}, because {proposed.reason}; owner {proposed.owner}
      {proposed.measure !== '' && <>; meanwhile {proposed.measure}</>}.
    </OneProposal>
  );
}

function OneRenewal({ proposed, now }: { proposed: Renewal; now: Date }) {
  return (
    <OneProposal
      proposed={proposed}
      now={now}
      approve={`Let ${count(proposed.exceptions.length, 'exception')} go on`}
      send={async (key) => {
        const renewed = await body(
          api.POST('/api/exceptions/renewals/proposals/{number}/approvals', {
            params: { path: { number: proposed.number }, header: { 'Idempotency-Key': key } },
          }),
        );
        return `${count(renewed.exceptions.length, 'exception')} renewed.`;
      }}
      waits=" Until then they end as they would."
    >
      <Mark name="EXCEPTION" size={20} /> <b>Renew</b>{' '}
      {proposed.exceptions.map((one) => `no. ${one.number}, ${one.about} where ${one.where} (${one.owner})`).join('; ')} until{' '}
      {day(`${proposed.until}T00:00:00Z`, now)}, because {proposed.reason}.
    </OneProposal>
  );
}

interface Props {
  proposed: Proposed | Renewal;
  now: Date;
  /** What the button of the approver says. */
  approve: string;
  /** Approves it, and says what came of that. */
  send: (key: string) => Promise<string>;
  /** How it is worded again, where it stands in a sentence of its own. */
  anew?: ReactNode;
  /** What it means that it waits. */
  waits: ReactNode;
  /** False while it is not known what it would do now. */
  ready?: boolean;
  /** What it would do now cannot be told. */
  fault?: unknown;
  /** What it would do now. */
  would?: ReactNode;
  /** The sentence. */
  children: ReactNode;
}

function OneProposal({ proposed, now, approve, send, anew: again, waits: meanwhile, ready = true, fault = null, would, children }: Props) {
  const role = useSession().data?.role;
  const { done, takeBackThese } = useLastAct();
  const key = useRef(randomKey());
  const approving = useChange(() => send(key.current), '');
  const waits = proposed.state === 'WAITING';
  return (
    <section className={`sheet ${styles.proposed}`} aria-label={`Proposal ${proposed.number}`}>
      <div>
        <Term name="proposal">{waits ? 'Proposed' : proposed.state === 'SENT_BACK' ? 'Sent back' : 'Lapsed'}</Term> by {proposed.author},{' '}
        {dayTime(proposed.createdAt, now)}
        {waits && `; it lapses ${dayTime(proposed.lapsesAt, now)}`}
        {proposed.state === 'LAPSED' && ` on ${day(proposed.lapsesAt, now)}: nobody approved it, and nothing came of it`}
      </div>
      <div className="sentence">{children}</div>
      {proposed.returned !== undefined && (
        <div className="strong">
          {proposed.decidedBy}: {proposed.returned}
        </div>
      )}
      {waits && (
        <div>
          It needs an approver, because {groundWords(proposed.grounds)}.{meanwhile}
        </div>
      )}
      {waits && would}
      {waits && role === 'APPROVER' && (
        <ApproverWord
          number={proposed.number}
          author={proposed.author}
          approve={approve}
          ready={ready}
          fault={fault ?? approving.error}
          approving={approving.isPending}
          onApprove={() => approving.mutate(undefined, { onSuccess: (words) => done({ words }) })}
        />
      )}
      {role === 'ANALYST' && (
        <div className="actions">
          {waits ? (
            <button
              type="button"
              className="plain link"
              onClick={() => takeBackThese({ words: `the proposal of ${proposed.author}.`, undo: proposed.undo })}
            >
              Withdraw
            </button>
          ) : (
            again
          )}
        </div>
      )}
    </section>
  );
}

/** The sentence on its case, as it was worded; its day is chosen anew. */
function anew({ update, where, reason, owner, measure, effect, about }: Proposed): string {
  const words = new URLSearchParams({ except: 'yes', where, words: reason, owner, measure, effect });
  if (about !== update) {
    words.set('about', about.startsWith('kind ') ? 'KIND' : about);
  }
  return `/cases/${encodeURIComponent(update)}?${words}`;
}
