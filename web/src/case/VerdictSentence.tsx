import { Button, Checkbox, Select } from 'antd';
import { useEffect, useRef } from 'react';
import { DEFAULTS, useVerdictDraft, type VerdictType, type Worded } from '../decisions/useVerdictDraft';
import { DayPart } from '../frame/DayPart';
import { Mark } from '../look/Mark';
import { isoDay } from '../words/dates';
import { REASON_WORDS } from '../words/sentences';
import { Consequence } from './Consequence';
import { Overtaken } from './Overtaken';
import { DrawnSample, PilotSize, PilotTerms } from './PilotParts';
import { TextPart } from './TextPart';
import styles from './VerdictSentence.module.css';
import { WhereFault, WherePart } from './WherePart';

interface Props extends Worded {
  type: VerdictType;
  populations: string[];
}

const DAY_LABELS: Record<VerdictType, string> = {
  BLOCK: 'Until the end of',
  DEFER: 'Until the end of',
  PILOT: 'To answer by the end of',
  FORCE: 'Due by the end of',
};

/** The verdict as a sentence, with its consequence below it while it is worded. */
export function VerdictSentence({ type, populations, ...worded }: Props) {
  const { page, set, stop, now } = worded;
  const { update } = page;
  const { dayWord, word } = DEFAULTS[type];
  const verdict = useVerdictDraft(worded, type, populations);
  const { draft, fault, letGo, wanting, everywhere, armed, effect } = verdict;
  const sheet = useRef<HTMLElement>(null);
  useEffect(() => {
    sheet.current?.querySelector<HTMLElement>('input')?.focus();
    sheet.current?.scrollIntoView({ block: 'nearest' });
  }, []);

  return (
    <section className="sheet" ref={sheet} aria-label="The verdict">
      <div className="sentence">
        <Mark name={type} size={20} /> <b>{letGo ? 'Let go now' : word}</b> {update.id}{' '}
        {type === 'PILOT' ? <PilotSize pilot={verdict.consequence?.[0]?.pilot} {...worded} /> : 'for'}{' '}
        <Select
          aria-label="Populations"
          mode="multiple"
          variant="borderless"
          className={styles.several}
          popupMatchSelectWidth={false}
          placeholder="which populations?"
          value={populations}
          onChange={(value) => set({ for: value.join(',') || '-', over: undefined })}
          options={wanting.map((row) => ({ value: row.id, label: row.name }))}
          optionFilterProp="label"
        />{' '}
        where{' '}
        <WherePart
          label="Narrowed to hosts where"
          placeholder="it is any host"
          value={draft.where ?? ''}
          traits={page.traits}
          fault={fault?.field === 'where'}
          change={(text) => set({ where: text, over: undefined })}
        />{' '}
        {type === 'PILOT' && (
          <>
            , <PilotTerms pilot={verdict.consequence?.[0]?.pilot} {...worded} />,{' '}
          </>
        )}
        {dayWord} <DayPart label={DAY_LABELS[type]} value={draft.until ?? ''} now={now} change={(day) => set({ until: day })} />, because{' '}
        <Select
          aria-label="Reasons"
          mode="multiple"
          variant="borderless"
          className={styles.reasons}
          popupMatchSelectWidth={false}
          placeholder="why?"
          value={draft.reasons}
          onChange={(value) => set({ because: value.join(',') || ' ' })}
          options={REASON_WORDS}
          optionFilterProp="label"
        />{' '}
        <TextPart
          label="Reason in words"
          placeholder="in your words (may stay empty)"
          width={260}
          longest={2000}
          value={draft.words}
          change={(text) => set({ words: text })}
        />
        .
      </div>
      {fault && (
        <WhereFault text={draft.where ?? ''} message={fault.message} position={fault.field === 'where' ? fault.position : undefined} />
      )}
      {verdict.overtaken && <Overtaken message={verdict.refused?.message ?? ''} reading={verdict.reading} />}
      {verdict.overridable !== undefined && (
        <Checkbox checked={verdict.overriding} onChange={(e) => verdict.override(e.target.checked)}>
          Knowingly override {verdict.overridable} that would still hold here
        </Checkbox>
      )}
      {!fault && verdict.consequence?.[0]?.pilot !== undefined && <DrawnSample pilot={verdict.consequence[0].pilot} {...worded} />}
      {!fault && <Consequence page={page} worded={verdict.consequence} type={type} letGo={letGo} now={now} />}
      <div className="actions">
        <Button type="primary" disabled={!verdict.ready} loading={verdict.pending} onClick={verdict.submit}>
          {armed ? `Confirm: ${effect.toLowerCase()}` : effect}
        </Button>
        <span className="mid">
          <kbd>Ctrl</kbd> <kbd>Enter</kbd>
        </span>
        <Button onClick={stop}>Cancel</Button>
        {armed && (
          <strong>
            {everywhere ? 'This is for every population that lacks it.' : 'This lets hosts move to a new release.'} Press again to hand it
            down.
          </strong>
        )}
        {wanting.length > 1 && !everywhere && (
          <button
            type="button"
            className="plain link"
            onClick={() => set({ for: wanting.map((row) => row.id).join(','), over: undefined })}
          >
            For all that lack it
          </button>
        )}
        {type === 'DEFER' && !letGo && (
          <button type="button" className="plain link" onClick={() => set({ until: isoDay(now, 0), because: 'ROUTINE' })}>
            Let it go now instead
          </button>
        )}
      </div>
    </section>
  );
}
