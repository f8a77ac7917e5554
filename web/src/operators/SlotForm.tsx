import { Button, Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api, body } from '../api/client';
import { useDecision } from '../decisions/useDecision';
import { InstantPart, instantOf, wordedAs } from '../frame/InstantPart';
import { NumberField } from '../frame/NumberField';
import { count, stretch, zoneWords } from '../words/dates';
import type { OperatorWork } from '../words/operators';
import styles from './Operators.module.css';

const HOUR = 3_600_000;
const USUAL_HOURS = 3;
const MOST_HOURS = 168;

/** The next stretch in which something may be installed there, as a slot; else the next full hour. */
function suggested({ allowed }: OperatorWork, now: Date): { from: Date; hours: number } {
  const next = allowed[0];
  const from = next === undefined ? now : new Date(Math.max(new Date(next.from).getTime(), now.getTime()));
  const full = new Date(Math.ceil(from.getTime() / HOUR) * HOUR);
  const left = next?.until === undefined ? USUAL_HOURS : Math.floor((new Date(next.until).getTime() - full.getTime()) / HOUR);
  return { from: full, hours: Math.min(Math.max(left, 1), USUAL_HOURS) };
}

/** Words when an update is to be installed on some hosts; it opens with the next hours that their population allows. */
export function SlotForm({ work, hosts, now, close }: { work: OperatorWork; hosts: string[]; now: Date; close: () => void }) {
  const [first] = useState(() => suggested(work, now));
  const [from, setFrom] = useState(() => wordedAs(first.from, work.zone));
  const [hours, setHours] = useState<number | undefined>(first.hours);
  const [words, setWords] = useState('');
  const form = useRef<HTMLElement>(null);
  useEffect(() => {
    form.current?.querySelector('input')?.focus();
  }, []);
  const begins = instantOf(from, work.zone);
  const unread = begins === undefined || hours === undefined || hours <= 0 || hours > MOST_HOURS;
  const slot = unread
    ? { from: '', until: '' }
    : { from: begins, until: new Date(new Date(begins).getTime() + hours * HOUR).toISOString() };
  const agreeing = useDecision({
    version: '',
    draft: { update: work.update, revision: work.revision, hosts, slot, words: words.trim() },
    send: (draft, { 'Idempotency-Key': key }) =>
      body(api.POST('/api/operator-work/entries', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
    said: () => `${work.update} is agreed on ${count(hosts.length, 'host')} for ${stretch(slot.from, slot.until, now, work.zone)}.`,
    close,
  });
  const ready = !unread && !agreeing.pending;
  const within = work.allowed.some(
    (one) => new Date(one.from) <= new Date(slot.from) && (one.until === undefined || new Date(slot.until) <= new Date(one.until)),
  );
  return (
    <section
      ref={form}
      aria-label="Agree a slot"
      className={styles.slot}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && event.ctrlKey && ready) {
          agreeing.submit();
        } else if (event.key === 'Escape') {
          event.preventDefault();
          close();
        }
      }}
    >
      <div className="sentence">
        Install it on {count(hosts.length, 'host')} from{' '}
        <InstantPart label="From" value={from} now={now} zone={zoneWords(work.zone)} change={setFrom} /> ({zoneWords(work.zone)}) within{' '}
        <NumberField part label="Hours" least={1} most={MOST_HOURS} width={40} value={hours} change={setHours} /> hours.
      </div>
      <Input
        aria-label="What others should know of it"
        className={styles.words}
        maxLength={2000}
        placeholder="What others should know of it"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {unread ? (
        <p role="alert" className="strong">
          Say a day and a time of the day, as 14 Dec and 02:00 are, and 1 to {MOST_HOURS} hours.
        </p>
      ) : (
        !within &&
        work.allowed.length > 0 && (
          <p className="mid">This is not within the next hours in which something may be installed on {work.population}.</p>
        )
      )}
      {agreeing.refused && (
        <p role="alert" className="strong">
          {agreeing.refused.message}
        </p>
      )}
      <Button type="primary" disabled={!ready} loading={agreeing.pending} onClick={agreeing.submit}>
        Agree it on {count(hosts.length, 'host')}
      </Button>{' '}
      <Button onClick={close}>Cancel</Button> <span className="mid">Ctrl Enter</span>
    </section>
  );
}
