import { Button, Select } from 'antd';
import { useEffect, useRef } from 'react';
import { type Effect, useExceptionDraft } from '../decisions/useExceptionDraft';
import type { Worded } from '../decisions/useVerdictDraft';
import { Excepted } from '../exceptions/Excepted';
import { DayPart } from '../frame/DayPart';
import { PastedHosts } from '../frame/PastedHosts';
import { Term } from '../frame/Term';
import { TextPart } from '../frame/TextPart';
import { WhereFault, WherePart } from '../frame/WherePart';
import { Mark } from '../look/Mark';
import { groundWords } from '../words/answers';
import { count } from '../words/dates';
import { kindWord } from '../words/sentences';
import { Overtaken } from './Overtaken';

const EFFECTS: { value: Effect; label: string }[] = [
  { value: 'WITHHELD', label: 'withhold' },
  { value: 'OFFERED', label: 'offer' },
  { value: 'BY_OPERATOR', label: 'leave to the operator' },
];

/** An exception, worded like a verdict. */
export function ExceptionSentence(worded: Worded) {
  const { page, set, stop, now } = worded;
  const { update } = page;
  const exception = useExceptionDraft(worded);
  const { draft, about, ends, named, consequence, fault } = exception;
  const { hosts } = draft;
  const sheet = useRef<HTMLElement>(null);
  useEffect(() => {
    sheet.current?.querySelector<HTMLElement>('input')?.focus();
    sheet.current?.scrollIntoView({ block: 'nearest' });
  }, []);

  const products = [...new Set(update.fixes.map((fix) => fix.product))];
  return (
    <section className="sheet" ref={sheet} aria-label="The exception">
      <div className="sentence">
        <Mark name="EXCEPTION" size={20} /> <b>Except</b> hosts where{' '}
        <WherePart
          label="Hosts where"
          placeholder='for example name = "bdb-04"'
          value={hosts}
          traits={page.traits}
          fault={fault?.field === 'hosts'}
          change={(text) => set({ where: text })}
        />
        :{' '}
        <Select
          aria-label="What holds instead"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={draft.effect}
          onChange={(value) => set({ effect: value })}
          options={EFFECTS}
        />{' '}
        <Select
          aria-label="What it is about"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={about}
          onChange={(value) => set({ about: value === 'UPDATE' ? undefined : value })}
          options={[
            { value: 'UPDATE', label: update.id },
            ...products.map((product) => ({ value: product, label: `every update of ${product.split('/').pop()}` })),
            { value: 'KIND', label: `every update of kind ${kindWord(update.kind)}` },
          ]}
        />{' '}
        until <DayPart label="Until the end of" value={draft.until} now={now} change={(day) => set({ until: day })} />
        {about === 'UPDATE' && (
          <Select
            aria-label="What ends it before that"
            variant="borderless"
            popupMatchSelectWidth={false}
            value={ends ?? 'DAY'}
            onChange={(value) => set({ ends: value === 'DAY' ? undefined : value })}
            options={[
              { value: 'DAY', label: 'and not before' },
              { value: 'SUCCESSOR', label: 'or until a successor is released' },
              ...page.evidence.issues
                .filter((issue) => issue.state !== 'FIXED')
                .map((issue) => ({ value: issue.id, label: `or until the known issue ${issue.id} is fixed` })),
            ]}
          />
        )}
        , because{' '}
        <TextPart
          label="Reason"
          placeholder="why they depart"
          width={240}
          longest={2000}
          value={draft.reason}
          change={(text) => set({ words: text })}
        />
        ; owner{' '}
        <TextPart
          label="Owner"
          placeholder="who answers for it"
          width={140}
          longest={200}
          value={draft.owner}
          change={(text) => set({ owner: text })}
        />
        ; meanwhile{' '}
        <TextPart
          label="Compensating measure"
          placeholder="what protects them (may stay empty)"
          width={260}
          longest={2000}
          value={draft.measure}
          change={(text) => set({ measure: text })}
        />
        .
      </div>
      {exception.overtaken && <Overtaken message={exception.refused?.message ?? ''} reading={exception.reading} />}
      {fault && <WhereFault text={hosts} message={fault.message} position={fault.field === 'hosts' ? fault.position : undefined} />}
      {!fault && consequence && hosts.trim() !== '' && (
        <div aria-live="polite">
          <Excepted update={update.id} consequence={consequence} now={now} />
        </div>
      )}
      {hosts.trim() === '' && (
        <div className="consequence mid">
          Name the hosts by a condition on their traits, for example name in (bdb-04, bdb-05), or site = quay and model = S2.
        </div>
      )}
      <PastedHosts take={(where) => set({ where })} />
      {!fault && exception.grounds.length > 0 && (
        <div>
          <Term name="proposal">Needs an approver</Term>, because {groundWords(exception.grounds)}: it holds nothing until somebody else
          says so.
        </div>
      )}
      <div className="actions">
        <Button type="primary" disabled={!exception.ready} loading={exception.pending} onClick={exception.submit}>
          {exception.grounds.length > 0 ? 'Propose: except' : 'Except'} {count(named, 'host')}
        </Button>
        <span className="mid">
          <kbd>Ctrl</kbd> <kbd>Enter</kbd>
        </span>
        <Button onClick={stop}>Cancel</Button>
      </div>
    </section>
  );
}
