import { Calendar, Input, Popover } from 'antd';
import dayjs from 'dayjs';
import { type KeyboardEvent, useState } from 'react';
import { day, dayOf, isoDay } from '../words/dates';
import styles from './DayPart.module.css';

interface Props {
  value: string;
  label: string;
  now: Date;
  change: (day: string) => void;
}

/**
 * A day in the running text. What is typed counts at each key, in any of the ways in which people write a day; what cannot be read is passed on as it
 * is, so that it is refused by name instead of another day being taken for it.
 */
export function DayPart({ value, label, now, change }: Props) {
  const [typed, setTyped] = useState<string | undefined>();
  const [open, setOpen] = useState(false);
  const meant = dayOf(value, now);
  const shown = typed ?? (meant === undefined ? value : day(`${meant}T00:00:00Z`, now));
  const type = (text: string) => {
    setTyped(text);
    change(dayOf(text, now) ?? (text.trim() === '' ? ' ' : text));
  };
  const step = (event: KeyboardEvent) => {
    const days = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (days !== undefined && meant !== undefined) {
      event.preventDefault();
      setTyped(undefined);
      change(isoDay(new Date(`${meant}T00:00:00Z`), days));
    }
  };
  return (
    <span className="nowrap">
      <Input
        aria-label={label}
        aria-invalid={meant === undefined}
        variant="borderless"
        status={meant === undefined ? 'error' : undefined}
        title="14 Dec, 2026-12-14, +14, 2 weeks, Friday; arrows move by a day"
        style={{ width: `max(104px, ${shown.length * 0.5 + 0.8}em)` }}
        value={shown}
        onFocus={(event) => event.target.select()}
        onChange={(event) => type(event.target.value)}
        onKeyDown={step}
        onBlur={() => setTyped(undefined)}
      />
      <Popover
        trigger="click"
        open={open}
        onOpenChange={setOpen}
        content={
          <div className={styles.calendar}>
            <Calendar
              fullscreen={false}
              value={dayjs(meant ?? isoDay(now, 0))}
              onSelect={(date, { source }) => {
                if (source === 'date') {
                  setTyped(undefined);
                  setOpen(false);
                  change(date.format('YYYY-MM-DD'));
                }
              }}
            />
          </div>
        }
      >
        <button type="button" tabIndex={-1} className="plain mid noprint" aria-label="Calendar">
          ▾
        </button>
      </Popover>
    </span>
  );
}
