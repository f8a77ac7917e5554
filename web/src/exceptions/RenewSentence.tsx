import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { DayPart } from '../frame/DayPart';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { TextPart } from '../frame/TextPart';
import { Mark } from '../look/Mark';
import { groundWords } from '../words/answers';
import { count, isoDay } from '../words/dates';
import type { ExceptionRow } from '../words/exceptions';

const USUAL_DAYS = 28;

interface Props {
  rows: ExceptionRow[];
  now: Date;
  close: () => void;
}

/** Some exceptions that go on, worded as one sentence: until when, and why again. */
export function RenewSentence({ rows, now, close }: Props) {
  const latest =
    rows
      .map((row) => row.until)
      .sort()
      .pop() ?? now.toISOString();
  const [until, setUntil] = useState(isoDay(new Date(latest), USUAL_DAYS - 1));
  const [reason, setReason] = useState('');
  const [key] = useState(randomKey);
  const { done } = useLastAct();
  const renew = useChange((draft: Schemas['RenewalDraft']) =>
    body(api.POST('/api/exceptions/renewals', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
  );
  const propose = useChange((draft: Schemas['RenewalDraft']) =>
    body(api.POST('/api/exceptions/renewals/proposals', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
  );
  const grounds = rows
    .flatMap((row) => row.renewalGrounds)
    .filter((ground, place, all) => all.findIndex((one) => one.type === ground.type && one.tier === ground.tier) === place);
  const error = renew.error ?? propose.error;
  const sheet = useRef<HTMLElement>(null);
  useEffect(() => {
    sheet.current?.querySelector<HTMLElement>('[aria-label="Why they go on"]')?.focus();
    sheet.current?.scrollIntoView({ block: 'nearest' });
  }, []);
  const owners = [...new Set(rows.map((row) => row.owner))];
  const often = rows.filter((row) => row.renewals > 0).length;
  const pending = renew.isPending || propose.isPending;
  const ready = reason.trim() !== '' && !pending;
  const submit = () => {
    const draft = { exceptions: rows.map((row) => row.number), until, reason: reason.trim() };
    if (!ready) {
      return;
    }
    if (grounds.length > 0) {
      propose.mutate(draft, {
        onSuccess: (proposed) => {
          done({
            words: `Proposed: renew ${count(rows.length, 'exception')}. They end as they would until an approver says so.`,
            undo: proposed.undo,
          });
          close();
        },
      });
    } else {
      renew.mutate(draft, {
        onSuccess: (renewed) => {
          done({ words: `${count(renewed.exceptions.length, 'exception')} renewed.`, undo: renewed.undo });
          close();
        },
      });
    }
  };
  return (
    <section className="sheet" aria-label="Renewal" ref={sheet}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') {
            close();
          } else if (event.key === 'Enter' && event.ctrlKey) {
            submit();
          }
        }}
      >
        <div className="sentence">
          <Mark name="EXCEPTION" size={20} /> <b>Renew</b> {count(rows.length, 'exception')} of {owners.join(', ')} until{' '}
          <DayPart label="Until the end of" value={until} now={now} change={setUntil} />, because{' '}
          <TextPart label="Why they go on" placeholder="why they go on" width={320} longest={2000} value={reason} change={setReason} />.
        </div>
        <div className="consequence">
          <div className="mid">{rows.map((row) => `no. ${row.number}, ${row.about} where ${row.where}`).join('; ')}</div>
          {often > 0 && (
            <div>
              <span className="strong">{often}</span> of them {often === 1 ? 'was' : 'were'} renewed before
            </div>
          )}
          {grounds.length > 0 && (
            <div>
              <Term name="proposal">Needs an approver</Term>, because {groundWords(grounds)}.
            </div>
          )}
          {error && (
            <div role="alert" className="strong">
              {error.message}
            </div>
          )}
        </div>
        <div className="actions">
          <Button type="primary" htmlType="submit" disabled={!ready} loading={pending}>
            {grounds.length > 0 ? 'Propose: renew' : 'Renew'} {count(rows.length, 'exception')}
          </Button>
          <span className="mid">
            <kbd>Ctrl</kbd> <kbd>Enter</kbd>
          </span>
          <Button onClick={close}>Cancel</Button>
        </div>
      </form>
    </section>
  );
}
