import { Select } from 'antd';
import { useRef, useState } from 'react';
import { Refusal, readHolidays, type Schemas } from '../api/client';
import { DayPart } from '../frame/DayPart';
import { TextPart } from '../frame/TextPart';
import { count, day, isoDay } from '../words/dates';
import { holidayWords } from '../words/holidays';
import styles from './HolidaySection.module.css';
import { type HolidayCalendar, type Ladder, type Population, withRead } from './ladder';

/** How many holidays are named where the calendar is not being worded. */
const NEXT = 4;
const LONGEST_NAME = 100;

interface Props {
  ladder: Ladder;
  current: boolean;
  open: boolean;
  analyst: boolean;
  now: Date;
  word: (ladder: Ladder) => void;
  begin: () => void;
  finish: () => void;
}

/** The holidays that count for the populations, told and worded. */
export function HolidaySection({ ladder, current, open, analyst, now, word, begin, finish }: Props) {
  const calendars = ladder.holidays ?? [];
  const set = (holidays: HolidayCalendar[]) => word({ ...ladder, holidays });
  const fresh = () => {
    let number = calendars.length + 1;
    while (calendars.some(({ name }) => name === `Holidays ${number}`)) {
      number++;
    }
    set([...calendars, { name: `Holidays ${number}` }]);
    begin();
  };
  return (
    <section className={current ? 'population current' : 'population'} aria-current={current} aria-label="Holidays">
      <span />
      <div className="prose">
        <h2 className={styles.title}>
          Holidays <small className="mid">on which few are there to see what goes wrong</small>
        </h2>
        {calendars.length === 0 && (
          <p>
            None are known: every day from Monday to Friday is taken for a working day.{' '}
            <span className="mid">A deferral or a pilot that ends on a holiday, or just before, says so while it is worded.</span>
          </p>
        )}
        {calendars.map((calendar, place) =>
          open ? (
            <CalendarParts
              // A name that is being typed must not make another field of it.
              key={place}
              calendar={calendar}
              populations={ladder.populations}
              now={now}
              change={(part) => set(calendars.map((other, at) => (at === place ? { ...other, ...part } : other)))}
              remove={() => set(calendars.filter((_, at) => at !== place))}
            />
          ) : (
            <p key={calendar.name}>{calendarWords(calendar, ladder.populations, now)}</p>
          ),
        )}
        {analyst && (
          <div className="rungacts">
            {calendars.length > 0 && (
              <button type="button" className="plain link" onClick={open ? finish : begin}>
                {open ? 'Done' : 'Change'}
              </button>
            )}
            <FromFile ladder={ladder} now={now} word={word} />
            <button type="button" className="plain link" onClick={fresh}>
              Word a calendar
            </button>
          </div>
        )}
      </div>
    </section>
  );
}

const namesOf = (ids: string[], populations: Population[]) =>
  ids.map((id) => populations.find((one) => one.id === id)?.name ?? id).join(', ');

/** "Shore, for Office desktops: Quay Day Fri 18 Dec, …; 36 known until Mon 31 Dec 2029." */
function calendarWords({ name, populations = [], days = [] }: HolidayCalendar, all: Population[], now: Date): string {
  const today = isoDay(now, 0);
  const ahead = days.map((one) => ({ first: one.day, last: one.until ?? one.day, name: one.name })).filter(({ last }) => last >= today);
  const whose = populations.length === 0 ? 'for all' : `for ${namesOf(populations, all)}`;
  const last = ahead.map((one) => one.last).sort()[ahead.length - 1];
  if (last === undefined) {
    return `${name}, ${whose}: no day ahead is known.`;
  }
  const next = ahead.slice(0, NEXT).map((one) => holidayWords(one, now));
  const more = ahead.length > NEXT ? `, and ${ahead.length - NEXT} more` : '';
  return `${name}, ${whose}: ${next.join(', ')}${more}; known until ${day(`${last}T12:00:00Z`, now)}.`;
}

const widthOf = (text: string) => Math.max(120, text.length * 10 + 16);

interface PartsProps {
  calendar: HolidayCalendar;
  populations: Population[];
  now: Date;
  change: (part: Partial<HolidayCalendar>) => void;
  remove: () => void;
}

function CalendarParts({ calendar, populations, now, change, remove }: PartsProps) {
  const days = calendar.days ?? [];
  const today = isoDay(now, 0);
  const set = (place: number, part: Partial<(typeof days)[number]>) =>
    change({ days: days.map((one, at) => (at === place ? { ...one, ...part } : one)) });
  return (
    <div className="sentence worded">
      <div>
        <TextPart
          label="Name of the calendar"
          placeholder="whose?"
          width={widthOf(calendar.name)}
          longest={LONGEST_NAME}
          value={calendar.name}
          change={(name) => change({ name })}
        />{' '}
        count for{' '}
        <Select
          aria-label="For which populations"
          mode="multiple"
          variant="borderless"
          className={styles.whose}
          popupMatchSelectWidth={false}
          placeholder="all populations"
          value={calendar.populations ?? []}
          options={populations.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(ids) => change({ populations: ids })}
        />{' '}
        <button type="button" className={`plain link ${styles.small}`} onClick={remove}>
          remove the calendar
        </button>
      </div>
      <ul className={styles.days}>
        {days.map((one, place) =>
          (one.until ?? one.day) < today ? null : (
            // A name or day that is being typed must not make another field of it.
            <li key={place}>
              <DayPart label={`Day of ${one.name}`} value={one.day} now={now} change={(to) => set(place, { day: to })} />{' '}
              {one.until !== undefined && (
                <>
                  to <DayPart
                    label={`Last day of ${one.name}`}
                    value={one.until}
                    now={now}
                    change={(until) => set(place, { until })}
                  />{' '}
                </>
              )}
              <TextPart
                label="Name of the holiday"
                placeholder="which?"
                width={widthOf(one.name)}
                longest={LONGEST_NAME}
                value={one.name}
                change={(name) => set(place, { name })}
              />
              <button
                type="button"
                className="plain link"
                aria-label={`Leave out ${one.name}`}
                onClick={() => change({ days: days.filter((_, at) => at !== place) })}
              >
                ×
              </button>
            </li>
          ),
        )}
      </ul>
      <button
        type="button"
        className={`plain link ${styles.small}`}
        onClick={() => change({ days: [...days, { day: isoDay(now, 1), name: '' }] })}
      >
        Add a day
      </button>
    </div>
  );
}

/** Takes in an iCalendar file, and tells what of it was taken and what not. */
function FromFile({ ladder, now, word }: Pick<Props, 'ladder' | 'now' | 'word'>) {
  const input = useRef<HTMLInputElement>(null);
  const [told, tell] = useState<{ file: string; name: string; read: Schemas['HolidaysReadView'] } | { file: string; refused: string }>();
  const take = async (file: File) => {
    try {
      const read = await readHolidays(file);
      const name = read.name ?? file.name.replace(/\.\w+$/, '');
      if (read.days.length > 0) {
        word(withRead(ladder, name, read.days));
      }
      tell({ file: file.name, name, read });
    } catch (error) {
      tell({ file: file.name, refused: error instanceof Refusal ? error.message : 'this file could not be sent' });
    }
  };
  return (
    <>
      <button type="button" className="plain link" onClick={() => input.current?.click()}>
        Take in an iCalendar file
      </button>
      <input
        ref={input}
        type="file"
        hidden
        aria-label="iCalendar file of holidays"
        accept=".ics,text/calendar"
        onChange={({ target }) => {
          const file = target.files?.[0];
          // The same file can be chosen again.
          target.value = '';
          if (file !== undefined) {
            void take(file);
          }
        }}
      />
      {told !== undefined && (
        <div role="status" className={`mid ${styles.told}`}>
          {'refused' in told ? (
            <span className="fault-line">
              {told.file}: {told.refused}. Nothing was changed.
            </span>
          ) : (
            <>
              {told.file}: {count(told.read.days.length, 'holiday')} until {day(`${told.read.until}T12:00:00Z`, now)}
              {told.read.days.length > 0 && ` in ${told.name}; say for whom they count, and save`}
              {told.read.past > 0 && `; ${count(told.read.past, 'event')} over`}.
              {told.read.leftOut.length > 0 && (
                <>
                  {' '}
                  Left out:
                  <ul className={styles.left}>
                    {told.read.leftOut.map(({ place, reason }) => (
                      <li key={`${place} ${reason}`}>
                        {place} {reason}
                      </li>
                    ))}
                  </ul>
                </>
              )}
            </>
          )}
        </div>
      )}
    </>
  );
}
