import { Button, Input, Modal, Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api, body, Refusal, type Schemas } from '../api/client';
import { type FreezeDraft, useChange, useFreezeConsequence, usePopulations } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { count, dayTime } from '../words/dates';
import styles from './FreezeDialog.module.css';
import { HostNames } from './HostNames';
import { InstantPart, instantOf, type Worded, wordedAs } from './InstantPart';
import { useLastAct } from './lastAct';
import { NumberField } from './NumberField';
import { Term } from './Term';
import { useNow } from './useNow';
import { useSettled } from './useSettled';

const HOUR = 3_600_000;
const REASON = 'something is wrong; nothing moves until we know what';
const SHOWN = 3;

/** Words a freeze; as it opens it stops everything until the same hour tomorrow, so that one more press is enough. */
export function FreezeDialog({ close }: { close: () => void }) {
  const now = useNow();
  const populations = usePopulations();
  const { done } = useLastAct();
  const key = useRef(randomKey());
  const confirm = useRef<HTMLButtonElement>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const [from, setFrom] = useState<Worded>();
  const [until, setUntil] = useState(() => wordedAs(new Date(Math.ceil((now.getTime() + 24 * HOUR) / HOUR) * HOUR)));
  // Not everything at once again: who finds what is wrong then finds it on some hosts first.
  const [parts, setParts] = useState<number | undefined>(3);
  const [apart, setApart] = useState<number | undefined>(4);
  const [reason, setReason] = useState(REASON);
  const draft: FreezeDraft = {
    populations: chosen,
    from: from && instantOf(from),
    until: instantOf(until) ?? '',
    parts,
    hoursApart: apart,
    reason,
  };
  const unread = draft.until === '' || (from !== undefined && draft.from === undefined);
  const question = JSON.stringify({ ...draft, reason: '' });
  const asked = useSettled(question);
  const consequence = useFreezeConsequence(unread || asked !== question ? undefined : (JSON.parse(asked) as FreezeDraft));
  const freezing = useChange(
    (worded: FreezeDraft) => body(api.POST('/api/freezes', { body: worded, params: { header: { 'Idempotency-Key': key.current } } })),
    '',
  );
  const everything = chosen.length === 0;
  // Of what is worded now, never of what was worded before.
  const would = asked === question && !consequence.isPlaceholderData ? consequence.data : undefined;
  const fault = consequence.error ?? freezing.error;
  const effect = everything ? 'Stop everything' : 'Freeze';
  const ready = !unread && !(fault instanceof Refusal) && reason.trim() !== '';
  // On a bad morning nobody waits for what it would do to be worked out: one press is enough from the beginning.
  const focused = useRef(false);
  useEffect(() => {
    if (ready && !focused.current) {
      focused.current = true;
      confirm.current?.focus();
    }
  }, [ready]);
  const submit = () =>
    freezing.mutate(draft, {
      onSuccess: (made) => {
        done({
          words: everything ? `Everything is stopped on ${count(made.hosts, 'host')}.` : `${count(made.hosts, 'host')} are frozen.`,
          undo: made.undo,
        });
        close();
      },
    });
  return (
    <Modal open title={effect} onCancel={close} footer={null} width={760} style={{ top: 40 }}>
      <div className={`sentence ${styles.sentence}`}>
        <Term name="freeze">Freeze</Term>{' '}
        <Select
          aria-label="Populations to freeze"
          mode="multiple"
          className={styles.populations}
          popupMatchSelectWidth={false}
          placeholder="everything"
          value={chosen}
          onChange={setChosen}
          options={populations.data?.populations.map((one) => ({ value: one.id, label: one.name }))}
          optionFilterProp="label"
        />{' '}
        from{' '}
        {from === undefined ? (
          <button type="button" className="plain link" onClick={() => setFrom(wordedAs(now))}>
            now
          </button>
        ) : (
          <InstantPart label="From" value={from} now={now} change={setFrom} />
        )}{' '}
        until <InstantPart label="Until" value={until} now={now} change={setUntil} /> (UTC), its end in{' '}
        <NumberField
          part
          label="In how many parts it ends"
          least={1}
          most={30}
          placeholder="1"
          width={36}
          value={parts}
          change={setParts}
        />{' '}
        {(parts ?? 1) === 1 ? (
          <>
            <Term name="spread">part</Term>, for all hosts at once,
          </>
        ) : (
          <>
            <Term name="spread">parts</Term>,{' '}
            <NumberField
              part
              label="Hours between two parts"
              least={1}
              most={168}
              placeholder="24"
              width={40}
              value={apart}
              change={setApart}
            />{' '}
            hours apart,
          </>
        )}{' '}
        because
        <Input
          aria-label="Why"
          className={styles.reason}
          maxLength={2000}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </div>
      {unread ? (
        <p role="alert" className="strong">
          This is no day and time of the day, as 30 Nov and 18:00 are.
        </p>
      ) : fault instanceof Refusal ? (
        <p role="alert" className="strong">
          {fault.message}
        </p>
      ) : would === undefined ? (
        <p className="mid">Reading what it would do …</p>
      ) : (
        <div aria-live="polite">
          <p>
            Nothing is offered, installed or restarted on <span className="strong">{count(would.hosts, 'host')}</span> until{' '}
            {dayTime(would.until, now)} (UTC).
          </p>
          <Updates what="stopped: they are offered now" updates={would.stopped} none="Nothing is offered there now." />
          <Updates what="downloaded already: this may not stop them" updates={would.staged} />
          <Updates what="due meanwhile: they wait until it ends" updates={would.due} />
          {would.ends.length > 1 && (
            <p>
              It ends in {would.ends.length} parts:{' '}
              {would.ends.map((part, place) => (
                <span key={part.at}>
                  {place > 0 && '; '}
                  {dayTime(part.at, now)} on {count(part.hosts.count, 'host')} <HostNames hosts={part.hosts} most={1} />
                </span>
              ))}
              .
            </p>
          )}
          <Updates
            what={would.ends.length > 1 ? 'offered as it ends, in these parts' : 'offered as it ends, all at once'}
            updates={would.arriving}
          />
        </div>
      )}
      <p>
        <Button type="primary" loading={freezing.isPending} ref={confirm} disabled={!ready} onClick={submit}>
          {effect}
          {would !== undefined && ` on ${count(would.hosts, 'host')}`}
        </Button>{' '}
        <Button onClick={close}>Cancel</Button>
      </p>
    </Modal>
  );
}

/** Updates with their hosts, the first few by name. */
function Updates({ what, updates, none }: { what: string; updates: Schemas['FrozenUpdate'][]; none?: string }) {
  if (updates.length === 0) {
    return none === undefined ? null : <p className="mid">{none}</p>;
  }
  return (
    <div>
      <span className="strong">{count(updates.length, 'update')}</span> {what}:
      <ul>
        {updates.slice(0, SHOWN).map((one) => (
          <li key={one.update}>
            {one.title || one.update} <span className="mid">{one.update}</span>, {count(one.hosts.count, 'host')}{' '}
            <HostNames hosts={one.hosts} most={2} />
          </li>
        ))}
        {updates.length > SHOWN && <li className="mid">and {updates.length - SHOWN} more</li>}
      </ul>
    </div>
  );
}
