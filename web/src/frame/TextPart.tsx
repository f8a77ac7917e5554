import { Input } from 'antd';

interface Props {
  label: string;
  placeholder: string;
  width: number;
  longest: number;
  value: string;
  change: (text: string) => void;
}

/** Free words in the running text. */
export function TextPart({ label, placeholder, width, longest, value, change }: Props) {
  return (
    <Input
      aria-label={label}
      variant="borderless"
      style={{ width: `max(${width}px, ${value.length * 0.48 + 1}em)`, maxWidth: '100%' }}
      placeholder={placeholder}
      maxLength={longest}
      value={value}
      onChange={(event) => change(event.target.value)}
    />
  );
}
