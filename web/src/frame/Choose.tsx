import { Select } from 'antd';

interface Props<Value extends string> {
  label: string;
  /** What stands there while nothing is chosen. */
  all: string;
  value: Value | undefined;
  options: (readonly [Value, string])[];
  change: (value: Value | undefined) => void;
}

/** One of some words, in a line of filters. */
export function Choose<Value extends string>({ label, all, value, options, change }: Props<Value>) {
  return (
    <Select
      aria-label={label}
      variant="borderless"
      size="small"
      allowClear
      placeholder={all}
      popupMatchSelectWidth={false}
      value={value}
      onChange={change}
      options={options.map(([option, words]) => ({ value: option, label: words }))}
    />
  );
}
