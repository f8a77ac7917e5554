import { useRef } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange, useConsequences, useProposals, useSession } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { ApproverWord } from '../decisions/ApproverWord';
import { clauseOf, onlyThis } from '../decisions/clauses';
import type { Worded } from '../decisions/useVerdictDraft';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { answerWords, groundWords, isLetGo } from '../words/answers';
import { count, day, dayTime } from '../words/dates';
import { reasonWords } from '../words/sentences';
import { Consequence } from './Consequence';
import styles from './OtherAnswers.module.css';

type Proposal = Schemas['ProposalView'];

/** What is proposed on this update, and what became of it within a week. */
export function Proposals(worded: Worded) {
  const proposals = useProposals().data ?? [];
  return proposals
    .filter(
      (one) => one.update === worded.page.update.id && (one.state === 'WAITING' || one.state === 'SENT_BACK' || one.state === 'LAPSED'),
    )
    .map((one) => <OneProposal key={one.number} proposal={one} {...worded} />);
}

function OneProposal({ proposal, page, set, now, ...worded }: Worded & { proposal: Proposal }) {
  const role = useSession().data?.role;
  const { takeBackThese } = useLastAct();
  const waits = proposal.state === 'WAITING';
  const approves = role === 'APPROVER' && waits;
  const because = reasonWords(proposal.draft.reasons, proposal.draft.words);
  const anew = () => {
    const [first, ...also] = proposal.answers.map((answer) => clauseOf(answer.draft));
    set({
      ...onlyThis(first ?? {}),
      also: also.length === 0 ? undefined : JSON.stringify(also),
      because: proposal.draft.reasons.join(','),
      words: proposal.draft.words,
      replaces: proposal.draft.replaces.join(',') || undefined,
    });
  };
  return (
    <section className={`sheet ${styles.proposal}`} aria-label={`Proposal ${proposal.number}`}>
      <div>
        <Term name="proposal">{waits ? 'Proposed' : proposal.state === 'SENT_BACK' ? 'Sent back' : 'Lapsed'}</Term> by {proposal.author},{' '}
        {dayTime(proposal.createdAt, now)}, for {count(proposal.hosts, 'host')} then
        {waits && `; it lapses ${dayTime(proposal.lapsesAt, now)}`}
        {proposal.state === 'LAPSED' && ` on ${day(proposal.lapsesAt, now)}: nobody approved it, and nothing came of it`}
      </div>
      <div className="sentence">
        {proposal.answers.map((answer) => answerWords(answer.draft, answer.populations, now)).join('; ')}
        {because !== '' && <>, because {because}</>}.
      </div>
      {proposal.returned !== undefined && (
        <div className="strong">
          {proposal.decidedBy}: {proposal.returned}
        </div>
      )}
      {proposal.draft.replaces.length > 0 && (
        <div>It takes the place of no. {proposal.draft.replaces.join(', ')}, which is taken back with it.</div>
      )}
      {waits && <div>It needs an approver, because {groundWords(proposal.grounds)}. Until then it holds nothing.</div>}
      {approves && <Deciding proposal={proposal} page={page} set={set} now={now} {...worded} />}
      {role === 'ANALYST' && (
        <div className="actions">
          {waits ? (
            <button
              type="button"
              className="plain link"
              onClick={() => takeBackThese({ words: `the proposal of ${proposal.author}.`, undo: proposal.undo })}
            >
              Withdraw
            </button>
          ) : (
            <button type="button" className="plain link" onClick={anew}>
              Word it anew
            </button>
          )}
        </div>
      )}
    </section>
  );
}

/** What it would do now, and the approver's word. */
function Deciding({ proposal, page, now }: Worded & { proposal: Proposal }) {
  const { done } = useLastAct();
  const key = useRef(randomKey());
  const would = useConsequences(proposal.draft, page.version);
  const hosts = (would.data ?? []).reduce((sum, one) => sum + one.consequence.decided.count, 0);
  const approving = useChange(
    () =>
      body(
        api.POST('/api/proposals/{number}/approvals', {
          params: { path: { number: proposal.number }, header: { 'If-Match': page.version, 'Idempotency-Key': key.current } },
        }),
      ),
    '',
  );
  return (
    <>
      {proposal.answers.map((answer, place) => (
        <Consequence
          key={JSON.stringify(answer.draft)}
          page={page}
          worded={would.data?.filter((one) => one.answer === place)}
          type={answer.draft.type}
          letGo={isLetGo(answer.draft, now)}
          now={now}
        />
      ))}
      <ApproverWord
        number={proposal.number}
        author={proposal.author}
        approve={`Approve for ${count(hosts, 'host')}`}
        ready={would.data !== undefined && would.error === null}
        fault={would.error ?? approving.error}
        approving={approving.isPending}
        onApprove={() => approving.mutate(undefined, { onSuccess: () => done({ words: `Approved for ${count(hosts, 'host')}.` }) })}
      />
    </>
  );
}
