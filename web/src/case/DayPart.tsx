import { DatePicker } from 'antd';
import dayjs from 'dayjs';

/** A day in the running text. */
export function DayPart({ value, label, change }: { value: string; label: string; change: (day: string) => void }) {
  return (
    <DatePicker
      aria-label={label}
      variant="borderless"
      allowClear={false}
      suffixIcon={null}
      format={['ddd D MMM', 'D MMM YYYY', 'YYYY-MM-DD']}
      style={{ width: 118 }}
      value={dayjs(value)}
      onChange={(day) => day && change(day.format('YYYY-MM-DD'))}
    />
  );
}
