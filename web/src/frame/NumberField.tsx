import { Input } from 'antd';
import { useId, useState } from 'react';
import styles from './NumberField.module.css';

/**
 * A number that is typed. What is out of range stays as it was typed, is said at the field, and is passed on as it is, so that it is
 * refused rather than put right in silence: -3 days are not 0.
 *
 * @param change told the number; undefined for an empty field. What is no number at all is told as one below the least.
 */
export function NumberField({
  id,
  label,
  value,
  least,
  most,
  whole = true,
  placeholder,
  part = false,
  width,
  disabled,
  change,
}: {
  id?: string;
  label?: string;
  value: number | undefined;
  least: number;
  most: number;
  whole?: boolean;
  placeholder?: string;
  /** Stands in a sentence. */
  part?: boolean;
  width?: number;
  disabled?: boolean;
  change: (value: number | undefined) => void;
}) {
  const fault = useId();
  const [typed, setTyped] = useState<string>();
  const shown = typed ?? (value === undefined ? '' : String(value));
  const number = read(shown);
  const wrong = number !== undefined && !(number >= least && number <= most && (!whole || Number.isInteger(number)));
  return (
    <span className={styles.field}>
      <Input
        id={id}
        aria-label={label}
        aria-invalid={wrong}
        aria-describedby={wrong ? fault : undefined}
        status={wrong ? 'error' : undefined}
        size={part ? undefined : 'small'}
        variant={part ? 'borderless' : undefined}
        className={part ? 'part' : undefined}
        inputMode="decimal"
        autoComplete="off"
        placeholder={placeholder}
        style={{ width }}
        value={shown}
        disabled={disabled}
        onChange={(event) => {
          setTyped(event.target.value);
          const next = read(event.target.value);
          change(Number.isNaN(next) ? least - 1 : next);
        }}
        onBlur={() => !wrong && setTyped(undefined)}
      />
      {wrong && (
        <span id={fault} role="alert" className={styles.fault}>
          {whole ? 'a whole number' : 'a number'} from {least} to {most}
        </span>
      )}
    </span>
  );
}

function read(text: string): number | undefined {
  return text.trim() === '' ? undefined : Number(text.trim().replace(',', '.'));
}
