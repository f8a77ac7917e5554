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
      style={{ width }}
      placeholder={placeholder}
      maxLength={longest}
      value={value}
      onChange={(event) => change(event.target.value)}
    />
  );
}
