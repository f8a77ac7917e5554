import { AutoComplete } from 'antd';
import type { Schemas } from '../api/client';

interface Props {
  value: string;
  placeholder: string;
  label: string;
  traits: Schemas['TraitView'][];
  fault: boolean;
  change: (text: string) => void;
}

/** A predicate in the running text; offers the names of the traits that hosts have. */
export function WherePart({ value, placeholder, label, traits, fault, change }: Props) {
  const lastWord = /[A-Za-z_][\w.-]*$/.exec(value)?.[0] ?? '';
  const beforeIt = value.slice(0, value.length - lastWord.length);
  const expectsTrait = /(^|\band\b|\bor\b|\bnot\b|\()\s*$/.test(beforeIt);
  const options = expectsTrait
    ? traits
        .filter((t) => t.name.startsWith(lastWord) && t.name !== lastWord)
        .map((t) => ({ value: beforeIt + t.name, label: `${t.name} (${t.type.toLowerCase()})` }))
    : [];
  return (
    <AutoComplete
      aria-label={label}
      aria-invalid={fault}
      variant="borderless"
      className={fault ? 'fault' : ''}
      style={{ minWidth: 110, width: `${Math.max(value.length, placeholder.length) * 0.5 + 2}em`, maxWidth: '100%' }}
      popupMatchSelectWidth={false}
      value={value}
      placeholder={placeholder}
      options={options}
      defaultActiveFirstOption={false}
      onChange={(text) => change(text ?? '')}
    />
  );
}

/** The text up to the fault, the fault marked, and what is wrong with it. */
export function WhereFault({ text, message, position }: { text: string; message: string; position?: number }) {
  return (
    <div className="fault-line" role="alert">
      {message}
      {position !== undefined && (
        <div className="mid">
          {text.slice(0, position)}
          <mark>{text.slice(position, position + 1) || ' '}</mark>
          {text.slice(position + 1)}
        </div>
      )}
    </div>
  );
}
