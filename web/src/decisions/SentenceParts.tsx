import { Select } from 'antd';
import { NumberField } from '../frame/NumberField';
import { TextPart } from '../frame/TextPart';
import { Mark } from '../look/Mark';
import { SAID } from '../words/answers';
import { REASON_WORDS, type ReasonWord } from '../words/sentences';
import styles from './SentenceParts.module.css';
import type { VerdictType, Worded } from './useVerdictDraft';

const ANSWERS: VerdictType[] = ['BLOCK', 'DEFER', 'PILOT', 'FORCE'];

/** What the day of an answer means. */
export const DAY_LABELS: Record<VerdictType, string> = {
  BLOCK: 'Until the end of',
  DEFER: 'Until the end of',
  PILOT: 'To answer by the end of',
  FORCE: 'Due by the end of',
};

/** "Block", with its mark: which answer is given. */
export function AnswerPart({ type, letGo, change }: { type: VerdictType; letGo: boolean; change: (type: VerdictType) => void }) {
  return (
    <>
      <Mark name={type} size={20} />{' '}
      <Select
        aria-label="Answer"
        variant="borderless"
        className={styles.answer}
        popupMatchSelectWidth={false}
        value={type}
        options={ANSWERS.map((one) => ({ value: one, label: one === 'DEFER' && letGo ? 'Let go now' : SAID[one].word }))}
        onChange={change}
      />
    </>
  );
}

interface Because {
  reasons: ReasonWord[];
  words: string;
  /** As they stand in the address. */
  change: (changes: { because?: string; words?: string }) => void;
}

/** ", because exposed and in your words": why. */
export function BecausePart({ reasons, words, change }: Because) {
  return (
    <>
      , because{' '}
      <Select
        aria-label="Reasons"
        mode="multiple"
        variant="borderless"
        className={styles.reasons}
        popupMatchSelectWidth={false}
        placeholder="why?"
        value={reasons}
        onChange={(value) => change({ because: value.join(',') || ' ' })}
        options={REASON_WORDS}
        optionFilterProp="label"
      />{' '}
      <TextPart
        label="Reason in words"
        placeholder="in your words (may stay empty)"
        width={260}
        longest={2000}
        value={words}
        change={(text) => change({ words: text })}
      />
      .
    </>
  );
}

/** How a force reaches hosts that were away, or have windows. */
export function ForceParts({ search, set }: Pick<Worded, 'search' | 'set'>) {
  return (
    <>
      , hosts that were away{' '}
      <NumberField
        part
        label="Days that a host that was away has after its return"
        least={0}
        most={90}
        placeholder="0"
        width={40}
        value={search.has('away') ? Number(search.get('away')) : undefined}
        change={(days) => set({ away: days === undefined ? undefined : String(days) })}
      />{' '}
      days after their return,{' '}
      <Select
        aria-label="Windows"
        variant="borderless"
        popupMatchSelectWidth={false}
        value={search.get('outside') === 'yes' ? 'yes' : 'no'}
        options={[
          { value: 'no', label: 'in windows only' },
          { value: 'yes', label: 'also outside windows' },
        ]}
        onChange={(outside) => set({ outside: outside === 'yes' ? 'yes' : undefined })}
      />
    </>
  );
}
