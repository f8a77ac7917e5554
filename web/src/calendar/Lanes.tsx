import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { useKeys } from '../frame/keys';
import { Mark } from '../look/Mark';
import { count, day, dayTime, lastDay } from '../words/dates';
import { markOfRow, thenWords, whatWords } from '../words/inForce';
import { type Cell, cellsOf, DAYS, daysFrom, ELSEWHERE, type HolidayThere, isMovable, type Note } from './days';
import styles from './Lanes.module.css';

type InForceRow = Schemas['InForceRow'];

const WEEKEND = new Set(['Sat', 'Sun']);

const ADDRESSES = { Populations: '/populations', 'By operator': '/by-operator' };

interface Props {
  rows: InForceRow[];
  /** Names of the populations, in the order of the ladder. */
  lanes: string[];
  /** What else ends or happens on some day. */
  notes: Note[];
  holidays: HolidayThere[];
  now: Date;
  /** The cell at the bar, as "lane/day" by their places; none: the first in which something falls. */
  at: string | undefined;
  point: (cell: string) => void;
  /** Words a decision anew, to end on another day; none: who looks decides nothing. */
  change?: (row: InForceRow, until?: string) => void;
}

/** What is in force on a calendar: a lane for each population, and on each day what ends, falls due or is to answer there. */
export function Lanes({ rows, lanes: populations, notes, holidays, now, at, point, change }: Props) {
  const days = daysFrom(now);
  const { cells, later } = cellsOf(rows, populations, now, notes, holidays);
  const lanes = [...populations, ELSEWHERE];
  const cellAt = (lane: number, of: number): Cell | undefined => cells.get(lanes[lane] ?? '')?.get(days[of] ?? '');
  const [lane, of] = at?.split('/').map(Number) ?? firstOf(cellAt, lanes.length);
  const current = cellAt(lane ?? 0, of ?? 0);
  const bar = useRef<HTMLTableCellElement>(null);
  useEffect(() => {
    bar.current?.scrollIntoView?.({ block: 'nearest', inline: 'nearest' });
  });
  const move = (toLane: number, toDay: number) =>
    point(`${Math.min(Math.max(toLane, 0), lanes.length - 1)}/${Math.min(Math.max(toDay, 0), DAYS - 1)}`);
  // A mouse takes what ends to another day; what that does is told where it is worded.
  const dragged = useRef<InForceRow>(undefined);
  const movable = (row: InForceRow | undefined) => change !== undefined && row !== undefined && isMovable(row);
  const drag = (row: InForceRow | undefined) => ({
    draggable: movable(row),
    onDragStart: () => {
      dragged.current = row;
    },
    onDragEnd: () => {
      dragged.current = undefined;
    },
  });
  useKeys({
    e: () => {
      const row = current?.rows.find(isMovable);
      if (row !== undefined) {
        change?.(row);
      }
    },
    ArrowDown: () => move((lane ?? 0) + 1, of ?? 0),
    ArrowUp: () => move((lane ?? 0) - 1, of ?? 0),
    ArrowRight: () => move(lane ?? 0, (of ?? 0) + 1),
    ArrowLeft: () => move(lane ?? 0, (of ?? 0) - 1),
  });
  return (
    <>
      <div className={styles.scroll}>
        <table className={styles.lanes} aria-label="What ends when">
          <thead>
            <tr>
              <th scope="col">Population</th>
              {days.map((one) => {
                const [weekday, date] = day(`${one}T12:00:00Z`, now).split(' ');
                return (
                  <th
                    key={one}
                    scope="col"
                    className={WEEKEND.has(weekday ?? '') ? styles.weekend : undefined}
                    title={day(`${one}T12:00:00Z`, now)}
                  >
                    <span className={styles.weekday}>{weekday?.slice(0, 2)}</span>
                    {date}
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {lanes.map((name, place) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                {days.map((one, ofDay) => {
                  const cell = cellAt(place, ofDay);
                  const here = place === lane && ofDay === of;
                  const look = [
                    WEEKEND.has(day(`${one}T12:00:00Z`, now).slice(0, 3)) ? styles.weekend : '',
                    cell?.holiday !== undefined ? styles.holiday : '',
                    cell?.frozen ? styles.frozen : '',
                    here ? styles.here : '',
                  ];
                  return (
                    <td
                      key={one}
                      ref={here ? bar : undefined}
                      className={look.join(' ')}
                      title={cell?.holiday}
                      aria-current={here ? true : undefined}
                      onDragOver={(event) => dragged.current !== undefined && event.preventDefault()}
                      onDrop={() => dragged.current !== undefined && change?.(dragged.current, one)}
                    >
                      {cell !== undefined && fallsIn(cell) > 0 && (
                        <button
                          type="button"
                          className={`plain ${styles.cell}`}
                          {...drag(cell.rows.find(isMovable))}
                          aria-label={`${name}, ${day(`${one}T12:00:00Z`, now)}: ${cellWords(cell)}`}
                          onClick={() => move(place, ofDay)}
                        >
                          <Mark name={markOfCell(cell)} />
                          {fallsIn(cell) > 1 && <span className={styles.more}>{fallsIn(cell)}</span>}
                        </button>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <section className={styles.day} aria-live="polite">
        <h2>
          {lanes[lane ?? 0]}, {day(`${days[of ?? 0]}T12:00:00Z`, now)}
        </h2>
        {current?.holiday !== undefined && <p>A holiday: {current.holiday}.</p>}
        {(current === undefined || fallsIn(current) === 0) && (
          <p className="mid">
            {current?.frozen ? 'Frozen; nothing ends, falls due or is agreed.' : 'Nothing ends, falls due, is to answer or is agreed.'}
          </p>
        )}
        <ul>
          {current?.notes.map((note) => (
            <li key={note.words}>
              <Mark name={note.mark} /> {note.words}
              {note.place !== undefined && (
                <>
                  : see <Link to={ADDRESSES[note.place]}>{note.place}</Link>
                </>
              )}
              {note.cases?.map(({ update, title, hosts }, place) => (
                <span key={update}>
                  {place === 0 ? ': ' : ', '}
                  <Link to={`/cases/${encodeURIComponent(update)}`}>{title || update}</Link> on {count(hosts, 'host')}
                </span>
              ))}
              {moreThan(note) > 0 && `, and ${count(moreThan(note), 'more', 'more')}`}
            </li>
          ))}
          {current?.rows.map((row) => (
            <li key={`${row.kind} ${row.number}`} {...drag(row)}>
              <Mark name={markOfRow(row)} />{' '}
              {row.update === undefined ? (
                <span className="strong">{row.about}</span>
              ) : (
                <Link to={`/cases/${encodeURIComponent(row.update)}`}>{row.title || row.about}</Link>
              )}{' '}
              <span className="mid">{whatWords(row, now)}</span>: until{' '}
              {row.kind === 'FREEZE' ? dayTime(row.end, now) : lastDay(row.end, now, row.timeZone)}, then {thenWords(row, now)};{' '}
              {count(row.hosts.count, 'host')} <HostNames hosts={row.hosts} most={2} />{' '}
              {movable(row) && (
                <button type="button" className="plain link mid noprint" onClick={() => change?.(row)}>
                  Change
                </button>
              )}
            </li>
          ))}
        </ul>
        {later > 0 && (
          <p className="mid">
            {count(later, 'decision')} more end after {day(`${days[days.length - 1]}T12:00:00Z`, now)}.
          </p>
        )}
      </section>
    </>
  );
}

/** How many cases it is about beside those that are named. */
const moreThan = ({ updates = 0, cases = [] }: Note) => Math.max(0, updates - cases.length);

const markOfCell = ({ rows, notes }: Cell) => (rows[0] === undefined ? (notes[0]?.mark ?? 'RULE_WAITS') : markOfRow(rows[0]));

/** "2 decisions", "2 in all: 1 decision, support of lantern-desktop 6 ends"; it holds the number that the cell shows. */
function cellWords(cell: Cell): string {
  const { rows, notes } = cell;
  const words = [...(rows.length > 0 ? [count(rows.length, 'decision')] : []), ...notes.map((note) => note.words)].join(', ');
  return notes.length > 0 && fallsIn(cell) > 1 ? `${fallsIn(cell)} in all: ${words}` : words;
}

const fallsIn = (cell: Cell) => cell.rows.length + cell.notes.length;

/** The cell of the first day on which something falls. */
function firstOf(cellAt: (lane: number, of: number) => Cell | undefined, lanes: number): [number, number] {
  for (let of = 0; of < DAYS; of++) {
    for (let lane = 0; lane < lanes; lane++) {
      const cell = cellAt(lane, of);
      if (cell !== undefined && fallsIn(cell) > 0) {
        return [lane, of];
      }
    }
  }
  return [0, 0];
}
