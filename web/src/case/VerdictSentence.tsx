import { Button, Checkbox, Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api, body, Refusal, type Schemas, UNREACHED } from '../api/client';
import { useConsequences, type VerdictDraft } from '../api/queries';
import { useKeys } from '../frame/keys';
import { useSettled } from '../frame/useSettled';
import { Mark } from '../look/Mark';
import { count, isoDay } from '../words/dates';
import { REASON_WORDS, type ReasonWord } from '../words/sentences';
import { Consequence } from './Consequence';
import { DayPart } from './DayPart';
import { Overtaken } from './Overtaken';
import { TextPart } from './TextPart';
import { useDecision } from './useDecision';
import { WhereFault, WherePart } from './WherePart';

export type VerdictType = VerdictDraft['type'];

const DEFAULTS: Record<VerdictType, { word: string; days: number; reason: ReasonWord; dayWord: string; reached: string }> = {
  BLOCK: { word: 'Block', days: 14, reason: 'UNTESTED', dayWord: 'until', reached: 'withheld' },
  DEFER: { word: 'Defer', days: 7, reason: 'UNTESTED', dayWord: 'until', reached: 'deferred' },
  FORCE: { word: 'Force', days: 3, reason: 'EXPOSED', dayWord: 'due', reached: 'offered now and due' },
};

interface Props {
  page: Schemas['CaseView'];
  type: VerdictType;
  populations: string[];
  search: URLSearchParams;
  set: (changes: Record<string, string | undefined>) => void;
  stop: () => void;
  now: Date;
}

/** The verdict as a sentence, with its consequence below it while it is worded. */
export function VerdictSentence({ page, type, populations, search, set, stop, now }: Props) {
  const { update } = page;
  const defaults = DEFAULTS[type];
  const [armed, setArmed] = useState(false);
  const sheet = useRef<HTMLElement>(null);

  const where = search.get('where') ?? '';
  const until = search.get('until') ?? (type === 'DEFER' ? deferredUntil(page, populations, now) : isoDay(now, defaults.days));
  const reasons = (search.get('because')?.split(',').filter(Boolean) ?? [defaults.reason]) as ReasonWord[];
  const words = search.get('words') ?? '';
  const over = search.get('over')?.split(',').filter(Boolean) ?? [];
  const letGo = type === 'DEFER' && until === isoDay(now, 0);

  const question: VerdictDraft = {
    update: update.id,
    revision: update.revision,
    type,
    populations,
    where,
    until,
    reasons,
    words,
    overrides: [],
    overriddenExceptions: [],
  };
  const asked = useSettled(JSON.stringify(question));
  const consequences = useConsequences(JSON.parse(asked) as VerdictDraft);

  // Blocks and exceptions that keep hosts from what is worded; an offer goes over them only if it names them.
  const claims = (consequences.data ?? []).flatMap((one) => one.consequence.claimed);
  const contained = (c: (typeof claims)[number]) => c.match.clause === 'SUPERSEDES_BLOCKED';
  const blocks = claims.filter((c) => c.match.verdict === 'BLOCK' || contained(c)).map((c) => c.match.source ?? 0);
  const exceptions = claims
    .filter((c) => (type === 'FORCE' && c.match.clause === 'EXCEPTION') || c.match.clause === 'CONTAINS_EXCEPTED')
    .map((c) => c.match.source ?? 0);
  const draft: VerdictDraft = {
    ...question,
    overrides: over.filter((part) => part.startsWith('v')).map((part) => Number(part.slice(1))),
    overriddenExceptions: over.filter((part) => part.startsWith('e')).map((part) => Number(part.slice(1))),
  };
  const overConsequences = useConsequences(over.length > 0 ? draft : undefined);
  const settled = asked === JSON.stringify(question) && !consequences.isPlaceholderData && !overConsequences.isPlaceholderData;
  const shown = over.length > 0 ? overConsequences : consequences;
  const mayOverride = type !== 'BLOCK' && blocks.length + exceptions.length > 0;

  const hosts = (shown.data ?? []).reduce((sum, one) => sum + one.consequence.decided.count, 0);
  const wanting = page.populations.filter((row) => row.lacking > 0);
  const everywhere = wanting.length > 1 && wanting.every((row) => populations.includes(row.id));
  const decision = useDecision(
    page,
    draft,
    (verdict, seen) => body(api.POST('/api/verdicts', { body: verdict, params: { header: seen } })),
    () => `${effect(type, letGo, hosts)}.`,
    stop,
  );
  const { overtaken } = decision;
  const releasesUpgrade = update.kind === 'UPGRADE' && type !== 'BLOCK';
  const fault = shown.error instanceof Refusal ? shown.error : overtaken ? undefined : decision.refused;
  const passing = shown.error instanceof Refusal ? shown.error.status === UNREACHED || shown.error.status >= 500 : decision.passing;
  // Where something else holds for every host, handing this down would change nothing.
  const idle = hosts === 0 && claims.length > 0;
  const ready =
    settled && (fault === undefined || passing) && populations.length > 0 && shown.data !== undefined && !idle && !decision.reading;

  useEffect(() => {
    sheet.current?.querySelector<HTMLElement>('input')?.focus();
    sheet.current?.scrollIntoView({ block: 'nearest' });
  }, []);

  const submit = () => {
    if (!ready) {
      return;
    }
    if ((everywhere || releasesUpgrade) && !armed) {
      setArmed(true);
      return;
    }
    decision.submit();
  };
  useKeys({ 'Ctrl+Enter': submit });

  return (
    <section className="sheet" ref={sheet} aria-label="The verdict">
      <div className="sentence">
        <Mark name={type} size={20} /> <b>{letGo ? 'Let go now' : defaults.word}</b> {update.id} for{' '}
        <Select
          aria-label="Populations"
          mode="multiple"
          variant="borderless"
          style={{ minWidth: 160, maxWidth: '100%' }}
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
          value={where}
          traits={page.traits}
          fault={fault?.field === 'where'}
          change={(text) => set({ where: text, over: undefined })}
        />{' '}
        {defaults.dayWord}{' '}
        <DayPart
          label={defaults.dayWord === 'due' ? 'Due by the end of' : 'Until the end of'}
          value={until}
          now={now}
          change={(day) => set({ until: day })}
        />
        , because{' '}
        <Select
          aria-label="Reasons"
          mode="multiple"
          variant="borderless"
          style={{ minWidth: 110 }}
          popupMatchSelectWidth={false}
          placeholder="why?"
          value={reasons}
          onChange={(value) => set({ because: value.join(',') || ' ' })}
          options={REASON_WORDS}
          optionFilterProp="label"
        />{' '}
        <TextPart
          label="Reason in words"
          placeholder="in your words (may stay empty)"
          width={260}
          longest={2000}
          value={words}
          change={(text) => set({ words: text })}
        />
        .
      </div>
      {fault && <WhereFault text={where} message={fault.message} position={fault.field === 'where' ? fault.position : undefined} />}
      {overtaken && <Overtaken message={decision.refused?.message ?? ''} reading={decision.reading} />}
      {mayOverride && (
        <Checkbox
          checked={over.length > 0}
          onChange={(e) =>
            set({
              over: e.target.checked
                ? [...blocks.map((number) => `v${number}`), ...exceptions.map((number) => `e${number}`)].join(',')
                : undefined,
            })
          }
        >
          Knowingly override{' '}
          {[
            blocks.length > 0 && count(blocks.length, claims.some(contained) ? 'withholding verdict' : 'block'),
            exceptions.length > 0 && count(exceptions.length, 'exception'),
          ]
            .filter(Boolean)
            .join(' and ')}{' '}
          that would still hold here
        </Checkbox>
      )}
      {!fault && <Consequence page={page} worded={shown.data} type={type} letGo={letGo} now={now} />}
      <div className="actions">
        <Button type="primary" disabled={!ready} loading={decision.pending} onClick={submit}>
          {armed ? `Confirm: ${effect(type, letGo, hosts).toLowerCase()}` : effect(type, letGo, hosts)}
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

/** A week from now, or the last day on which the rule withholds it, where that is later: a deferral brings no offer forward unless somebody says so. */
export function deferredUntil(page: Schemas['CaseView'], populations: string[], now: Date): string {
  const byRule = page.populations
    .filter((row) => populations.includes(row.id) && row.offeredByRule !== undefined)
    .map((row) => isoDay(new Date(new Date(row.offeredByRule ?? '').getTime() - 1), 0, row.timeZone));
  return [isoDay(now, DEFAULTS.DEFER.days), ...byRule].sort().at(-1) as string;
}

/** What the button says: the effect. */
function effect(type: VerdictType, letGo: boolean, hosts: number): string {
  const on = count(hosts, 'host');
  if (letGo) {
    return `Let it go on ${on}`;
  }
  return `${DEFAULTS[type].word} on ${on}`;
}
