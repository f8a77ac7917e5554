import { AutoComplete } from 'antd';
import type { Schemas } from '../api/client';

interface Props {
  value: string;
  placeholder: string;
  label: string;
  /** Those that hosts have; nothing: they have not been read. */
  traits: Schemas['TraitView'][] | undefined;
  fault: boolean;
  change: (text: string) => void;
}

/** What may follow what was typed: the name of a trait, or a value that hosts have of the trait before the operator. */
export function completions(text: string, traits: Schemas['TraitView'][]): { value: string; label: string }[] {
  const operand = /([A-Za-z_][\w.-]*)\s*(?:!?=|\bin\s*\((?:[^()]*,)?)\s*("[^"]*|[^\s"(),]*)$/.exec(text);
  if (operand !== null) {
    const typed = (operand[2] ?? '').replace(/^"/, '').toLowerCase();
    const before = text.slice(0, text.length - (operand[2] ?? '').length);
    return (traits.find((trait) => trait.name === operand[1])?.values ?? [])
      .filter((value) => value.toLowerCase().startsWith(typed) && value.toLowerCase() !== typed)
      .map((value) => ({ value: before + literal(value), label: value }));
  }
  const word = /[A-Za-z_][\w.-]*$/.exec(text)?.[0] ?? '';
  const before = text.slice(0, text.length - word.length);
  return /(^|\band\b|\bor\b|\bnot\b|\()\s*$/.test(before)
    ? traits
        .filter((trait) => trait.name.startsWith(word) && trait.name !== word)
        .map((trait) => ({ value: before + trait.name, label: `${trait.name} (${trait.type.toLowerCase()})` }))
    : [];
}

/** A value as a condition writes it. */
const literal = (value: string) => (/^[\w.-]+$/.test(value) ? value : `"${value}"`);

/** Names in a condition that are no trait of any host: such a condition is true of nobody, or of everybody. */
export function unknownTraits(text: string, traits: Schemas['TraitView'][]): string[] {
  const names = [...text.replace(/"[^"]*"/g, '""').matchAll(/([A-Za-z_][\w.-]*)\s*(?:!?=|<=?|>=?|\bin\b|\bnot in\b|\bis\b)/g)].map(
    (found) => found[1] ?? '',
  );
  return [...new Set(names)].filter((name) => name !== 'not' && traits.every((trait) => trait.name !== name));
}

/** A condition in the running text; offers the traits that hosts have, and their values. */
export function WherePart({ value, placeholder, label, traits, fault, change }: Props) {
  const options = completions(value, traits ?? []);
  const unknown = traits === undefined ? [] : unknownTraits(value, traits);
  return (
    <>
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
      {unknown.length > 0 && (
        <small className="mid" role="status">
          {' '}
          (no host has a trait {unknown.join(', ')})
        </small>
      )}
    </>
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
