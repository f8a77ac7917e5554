import { Button, Checkbox, Select } from 'antd';
import { useEffect, useRef } from 'react';
import { dropThis } from '../decisions/clauses';
import { AnswerPart, BecausePart, DAY_LABELS, ForceParts } from '../decisions/SentenceParts';
import { replacedIn, useVerdictDraft, type VerdictType, type Worded } from '../decisions/useVerdictDraft';
import { DayPart } from '../frame/DayPart';
import { Term } from '../frame/Term';
import { WhereFault, WherePart } from '../frame/WherePart';
import { groundWords, SAID } from '../words/answers';
import { isoDay } from '../words/dates';
import { Consequence } from './Consequence';
import { DeliveryParts, OperatorParts, Parts, RemovalPart } from './DeliveryParts';
import { AndAlso, AnswersBefore } from './OtherAnswers';
import { Overtaken } from './Overtaken';
import { DrawnSample, PilotOnceMet, PilotSize, PilotTerms } from './PilotParts';
import styles from './VerdictSentence.module.css';

interface Props extends Worded {
  type: VerdictType;
  populations: string[];
}

/** The verdict as a sentence, with its consequence below it while it is worded. */
export function VerdictSentence({ type, populations, ...worded }: Props) {
  const { page, search, set, stop, now } = worded;
  const { update } = page;
  const { dayWord } = SAID[type];
  const verdict = useVerdictDraft(worded, type, populations);
  const replaced = replacedIn(search);
  const { draft, current, own, fault, letGo, wanting, everywhere, armed, effect } = verdict;
  const sheet = useRef<HTMLElement>(null);
  useEffect(() => {
    // A dialog that was opened while the case was still being read keeps the focus.
    if (document.activeElement?.closest('[role="dialog"]') == null) {
      sheet.current?.querySelector<HTMLElement>('input:not([aria-label="Answer"])')?.focus();
    }
    sheet.current?.scrollIntoView({ block: 'nearest' });
  }, []);

  return (
    <section className="sheet" ref={sheet} aria-label="The verdict">
      <AnswersBefore verdict={verdict} {...worded} />
      <div className="sentence">
        <AnswerPart
          type={type}
          letGo={letGo}
          change={(verdict) => set({ verdict, until: undefined, over: undefined, remove: undefined })}
        />{' '}
        {update.id} {type === 'PILOT' ? <PilotSize pilot={own?.[0]?.pilot} {...worded} /> : 'for'}{' '}
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
          value={current.where ?? ''}
          traits={page.traits}
          fault={fault?.field === 'where'}
          change={(text) => set({ where: text, over: undefined })}
        />{' '}
        {type === 'PILOT' && (
          <>
            , <PilotTerms pilot={own?.[0]?.pilot} {...worded} />,{' '}
          </>
        )}
        {dayWord} <DayPart label={DAY_LABELS[type]} value={current.until ?? ''} now={now} change={(day) => set({ until: day })} />
        {type === 'PILOT' && <PilotOnceMet {...worded} />}
        {type === 'FORCE' && <ForceParts {...worded} />}
        {(type === 'FORCE' || type === 'DEFER') && <DeliveryParts {...worded} />}
        {type === 'BLOCK' && search.get('remove') === 'yes' && <RemovalPart {...worded} />}
        <BecausePart reasons={draft.reasons} words={draft.words} change={set} />
      </div>
      {(type === 'FORCE' || type === 'DEFER') && <OperatorParts {...worded} />}
      {replaced.length > 0 && <div>In the place of what was decided before (no. {replaced.join(', ')}), which is taken back with it.</div>}
      {fault && (
        <WhereFault text={current.where ?? ''} message={fault.message} position={fault.field === 'where' ? fault.position : undefined} />
      )}
      {verdict.overtaken && <Overtaken message={verdict.refused?.message ?? ''} reading={verdict.reading} />}
      {verdict.overridable !== undefined && (
        <Checkbox checked={verdict.overriding} onChange={(e) => verdict.override(e.target.checked)}>
          Knowingly override {verdict.overridable} that would still hold here
        </Checkbox>
      )}
      {!fault && own?.[0]?.pilot !== undefined && <DrawnSample pilot={own[0].pilot} {...worded} />}
      {!fault && own !== undefined && <Parts worded={own} type={type} {...worded} />}
      {!fault && <Consequence page={page} worded={own} type={type} letGo={letGo} now={now} />}
      {!fault && verdict.grounds.length > 0 && (
        <div>
          <Term name="proposal">Needs an approver</Term>, because {groundWords(verdict.grounds)}: it holds nothing until somebody else says
          so.
        </div>
      )}
      <div className="actions">
        <Button type="primary" disabled={!verdict.ready} loading={verdict.pending} onClick={verdict.submit}>
          {armed ? `Confirm: ${effect.toLowerCase()}` : effect}
        </Button>
        <span className="mid">
          <kbd>Ctrl</kbd> <kbd>Enter</kbd>
        </span>
        <Button onClick={stop}>Cancel</Button>
        {verdict.before.length > 0 && (
          <button type="button" className="plain link" onClick={() => set(dropThis(search))}>
            Leave this answer out
          </button>
        )}
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
        {type === 'BLOCK' && search.get('remove') !== 'yes' && own?.some((one) => one.consequence.carrying.count > 0) && (
          <button type="button" className="plain link" onClick={() => set({ remove: 'yes' })}>
            Remove it where it is, too
          </button>
        )}
        {!fault && <AndAlso verdict={verdict} {...worded} />}
      </div>
    </section>
  );
}
