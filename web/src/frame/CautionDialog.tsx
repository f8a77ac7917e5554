import { Button, Input, Modal, Select } from 'antd';
import { useRef, useState } from 'react';
import { api, body, Refusal } from '../api/client';
import { type CautionDraft, useCautionConsequence, useChange, useSession } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { count, isoDay } from '../words/dates';
import { DayPart } from './DayPart';
import styles from './FreezeDialog.module.css';
import { HostNames } from './HostNames';
import { useLastAct } from './lastAct';
import { Term } from './Term';
import { useNow } from './useNow';
import { useSettled } from './useSettled';

const WEEK = 7;
const SHOWN = 6;

const LEVELS = [
  { value: 'WATCHFUL' as const, label: 'watchful: standing rules wait twice as long' },
  { value: 'JUDGED_ONLY' as const, label: 'judged only: standing rules offer nothing' },
];

/** Declares the fleet's caution, with what that would hold back beside it. */
export function CautionDialog({ close }: { close: () => void }) {
  const now = useNow();
  const { done } = useLastAct();
  const key = useRef(randomKey());
  const [level, setLevel] = useState<CautionDraft['level']>('WATCHFUL');
  const [until, setUntil] = useState(() => isoDay(now, WEEK));
  const [reason, setReason] = useState('');
  const [owner, setOwner] = useState(useSession().data?.displayName ?? '');
  const draft: CautionDraft = { level, until, reason, owner };
  const question = JSON.stringify({ ...draft, reason: '', owner: '' });
  const asked = useSettled(question);
  const consequence = useCautionConsequence(JSON.parse(asked) as CautionDraft);
  const declaring = useChange(
    (worded: CautionDraft) => body(api.POST('/api/cautions', { body: worded, params: { header: { 'Idempotency-Key': key.current } } })),
    '',
  );
  const would = asked === question && !consequence.isPlaceholderData ? consequence.data : undefined;
  const fault = consequence.error ?? declaring.error;
  const submit = () =>
    declaring.mutate(draft, {
      onSuccess: (made) => {
        done({ words: level === 'WATCHFUL' ? 'The fleet is watchful.' : 'Only what is judged is offered.', undo: made.undo });
        close();
      },
    });
  return (
    <Modal open title="Caution of the fleet" onCancel={close} footer={null} width={760}>
      <div className={`sentence ${styles.sentence}`}>
        The fleet is{' '}
        <Select
          aria-label="Caution"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={level}
          options={LEVELS}
          onChange={setLevel}
        />{' '}
        until the end of <DayPart label="Until the end of" value={until} now={now} change={setUntil} />, answered for by{' '}
        <Input
          aria-label="Owner"
          variant="borderless"
          className={styles.time}
          style={{ width: `max(110px, ${owner.length * 0.55 + 1}em)` }}
          maxLength={200}
          value={owner}
          onChange={(event) => setOwner(event.target.value)}
        />
        , because
        <Input
          aria-label="Why"
          className={styles.reason}
          placeholder="why?"
          maxLength={2000}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </div>
      {fault instanceof Refusal ? (
        <p role="alert" className="strong">
          {fault.message}
        </p>
      ) : would === undefined ? (
        <p className="mid">Reading what it would hold back …</p>
      ) : (
        <div aria-live="polite">
          <p>
            {would.length === 0 ? (
              'Nothing that is offered now would be withheld; what becomes due to be offered later waits.'
            ) : (
              <>
                <span className="strong">{count(would.length, 'update')}</span> that <Term name="standing rule">standing rules</Term> offer
                now would be withheld:
              </>
            )}
          </p>
          <ul>
            {would.slice(0, SHOWN).map((one) => (
              <li key={one.update}>
                {one.title || one.update} <span className="mid">{one.update}</span>, {count(one.withheld.count, 'host')}{' '}
                <HostNames hosts={one.withheld} most={2} />
              </li>
            ))}
            {would.length > SHOWN && <li className="mid">and {would.length - SHOWN} more</li>}
          </ul>
          <p className="mid">What has a verdict goes on; so does what an exception offers.</p>
        </div>
      )}
      <p>
        <Button type="primary" loading={declaring.isPending} disabled={reason.trim() === '' || fault instanceof Refusal} onClick={submit}>
          Declare it
        </Button>{' '}
        <Button onClick={close}>Cancel</Button>
      </p>
    </Modal>
  );
}
