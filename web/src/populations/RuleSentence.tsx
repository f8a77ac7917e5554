import { Select } from 'antd';
import type { Schemas } from '../api/client';
import { NumberField } from '../frame/NumberField';
import { Term } from '../frame/Term';
import { WherePart } from '../frame/WherePart';
import type { Offer, Rule, RuleLine } from './ladder';
import styles from './RuleSentence.module.css';

const KINDS = ['security', 'bugfix', 'enhancement', 'cumulative', 'upgrade', 'driver', 'firmware', 'content'];
const RATINGS = ['critical', 'high', 'medium', 'low', 'none', 'unrated'];

const options = (words: string[]) => words.map((word) => ({ value: word, label: word }));

interface Props {
  /** Whose rule it is, for who hears the page. */
  of: string;
  rule: Rule;
  /** Whose tries it may wait for. */
  others: { id: string; name: string }[];
  traits: Schemas['TraitView'][];
  change: (rule: Rule) => void;
}

/** A standing rule in words, its parts to be changed in place. */
export function RuleSentence({ of, rule, others, traits, change }: Props) {
  const lines = rule.lines ?? [];
  const setLine = (at: number, part: Partial<RuleLine>) =>
    change({ ...rule, lines: lines.map((line, i) => (i === at ? { ...line, ...part } : line)) });
  return (
    <div>
      {lines.map((line, at) => (
        <div key={at}>
          An update of{' '}
          <Select
            aria-label={`${of}, rule ${at + 1}: kinds`}
            mode="multiple"
            variant="borderless"
            className={styles.choice}
            popupMatchSelectWidth={false}
            placeholder="any kind"
            value={line.kinds ?? []}
            options={options(KINDS)}
            onChange={(kinds) => setLine(at, { kinds })}
          />{' '}
          rated{' '}
          <Select
            aria-label={`${of}, rule ${at + 1}: ratings`}
            mode="multiple"
            variant="borderless"
            className={styles.choice}
            popupMatchSelectWidth={false}
            placeholder="anything"
            value={line.ratings ?? []}
            options={options(RATINGS)}
            onChange={(ratings) => setLine(at, { ratings })}
          />{' '}
          on{' '}
          <WherePart
            label={`${of}, rule ${at + 1}: hosts`}
            placeholder="any host"
            value={line.where ?? ''}
            traits={traits}
            fault={false}
            change={(where) => setLine(at, { where })}
          />{' '}
          <Delay
            label={`${of}, rule ${at + 1}: days`}
            offer={line.offerAfterDays}
            due={line.dueAfterDays}
            change={(offerAfterDays, dueAfterDays) =>
              setLine(at, {
                offerAfterDays,
                dueAfterDays,
                ...(offerAfterDays === 'never' ? { afterTriesOf: undefined, latestAfterDays: undefined } : {}),
              })
            }
          >
            {line.offerAfterDays === 'never' ? undefined : (
              <>
                {' '}
                after{' '}
                <Select
                  aria-label={`${of}, rule ${at + 1}: counted from`}
                  variant="borderless"
                  popupMatchSelectWidth={false}
                  value={line.afterTriesOf ?? ''}
                  options={[
                    { value: '', label: 'its publication' },
                    ...others.map((one) => ({ value: one.id, label: `enough tries of ${one.name}` })),
                  ]}
                  onChange={(id) =>
                    setLine(at, {
                      afterTriesOf: id || undefined,
                      latestAfterDays: id === '' ? undefined : (line.latestAfterDays ?? 14),
                    })
                  }
                />
                {line.afterTriesOf !== undefined && (
                  <>
                    , at the latest{' '}
                    <NumberField
                      label={`${of}, rule ${at + 1}: latest day`}
                      part
                      least={0}
                      most={365}
                      width={40}
                      value={line.latestAfterDays}
                      change={(days) => setLine(at, { latestAfterDays: days ?? 0 })}
                    />{' '}
                    <Term name="enough tries">days after publication</Term>
                  </>
                )}
              </>
            )}
          </Delay>{' '}
          <button
            type="button"
            className={`plain link mid ${styles.small}`}
            onClick={() => change({ ...rule, lines: lines.filter((_, i) => i !== at) })}
          >
            leave out
          </button>
        </div>
      ))}
      <div>
        {lines.length === 0 ? 'Every update' : 'Every other one'}{' '}
        <Delay
          label={`${of}, otherwise: days`}
          offer={rule.otherwise}
          due={rule.otherwiseDueAfterDays}
          change={(otherwise, otherwiseDueAfterDays) => change({ ...rule, otherwise, otherwiseDueAfterDays })}
        />{' '}
        <button
          type="button"
          className={`plain link mid ${styles.small}`}
          onClick={() => change({ ...rule, lines: [...lines, { kinds: ['security'], ratings: ['critical', 'high'], offerAfterDays: 7 }] })}
        >
          add a line
        </button>
      </div>
    </div>
  );
}

interface DelayProps {
  label: string;
  offer: Offer;
  due: number | undefined;
  change: (offer: Offer, due: number | undefined) => void;
  /** From when the days count. */
  children?: React.ReactNode;
}

/** Days from publication to the offer; left empty: never without a verdict. And from there to when it is due; left empty: never. */
function Delay({ label, offer, due, change, children }: DelayProps) {
  return (
    <>
      {offer === 'never' || children !== undefined ? 'is offered' : 'is offered after'}{' '}
      <NumberField
        label={label}
        part
        least={0}
        most={365}
        placeholder="never"
        width={offer === 'never' ? 56 : 40}
        value={offer === 'never' ? undefined : offer}
        change={(days) => change(days ?? 'never', days === undefined ? undefined : due)}
      />{' '}
      {offer === 'never' ? (
        'without a verdict'
      ) : (
        <>
          {offer === 1 ? 'day' : 'days'}
          {children}, due{' '}
          <NumberField
            label={`${label} until due`}
            part
            least={0}
            most={365}
            placeholder="never"
            width={due === undefined ? 56 : 40}
            value={due}
            change={(days) => change(offer, days)}
          />
          {due !== undefined && ` ${due === 1 ? 'day' : 'days'} later`}
        </>
      )}
    </>
  );
}
