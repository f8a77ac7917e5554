import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { useChange, useSession } from '../api/queries';
import { Choose } from '../frame/Choose';
import { Failed, Loading } from '../frame/Loading';
import { NumberField } from '../frame/NumberField';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { count, day, lastDay } from '../words/dates';
import { RATINGS, ratingWords } from '../words/sentences';
import styles from './report.module.css';

type Rating = (typeof RATINGS)[number];

const onDay = (date: string, now: Date) => day(`${date}T00:00:00Z`, now);

/** How long it takes until hosts carry updates, by rating and population, and which have missed what was set. */
export function TimeToCarry() {
  const now = useNow();
  const [search, set] = useAddress();
  const days = Number(search.get('days') ?? 90) || 90;
  const told = useQuery({
    queryKey: ['report', 'time to carry', days],
    queryFn: () => body(api.GET('/api/report/time-to-carry', { params: { query: { days } } })),
  });
  if (told.isLoadingError) {
    return <Failed what="The time to carry" error={told.error} again={told.refetch} />;
  }
  if (told.data === undefined) {
    return <Loading what="how long it takes" />;
  }
  const view = told.data;
  return (
    <div className="page">
      <p className={`mid ${styles.lead}`}>
        Days from release until half, and until nine tenths, of the hosts <Term name="time to carry">carry</Term> an update;{' '}
        {view.counted === undefined || view.countedSince === undefined
          ? 'each day is counted from the first night on, and none is yet.'
          : `in each cell half / nine tenths, and how many installs of those to be made have been; counted at the end of each day from ${onDay(view.countedSince, now)} to ${onDay(view.counted, now)}.`}{' '}
        Updates published since
        <Choose
          label="Published since"
          all={onDay(view.from, now)}
          value={search.get('days') ?? undefined}
          options={[
            ['30', '30 days'],
            ['90', '90 days'],
            ['365', 'a year'],
          ]}
          change={(value) => set({ days: value })}
        />
      </p>
      {view.ratings.length === 0 ? (
        <p className="empty">
          <strong>No update was published in that time.</strong>
        </p>
      ) : (
        <DaysTable view={view} />
      )}
      <Targets view={view} />
      <section className={styles.section}>
        <h2>
          {view.missed.length === 0
            ? 'No target is missed'
            : `Missed: ${count(view.missed.length, 'target')} of a population for an update`}
        </h2>
        {view.missed.length > 0 && <MissedTable missed={view.missed} now={now} />}
        {view.missed.length > 0 && (
          <p className="noprint">
            <a href={`/api/report/missed-targets.csv?days=${days}`} download>
              CSV of these
            </a>
          </p>
        )}
      </section>
    </div>
  );
}

function DaysTable({ view }: { view: Schemas['TimeToCarryView'] }) {
  return (
    <table className="list" aria-label="Days until half, and nine tenths, of the hosts carry it">
      <thead>
        <tr>
          <th scope="col">Rating</th>
          <th scope="col" className={styles.number}>
            target
          </th>
          <th scope="col">All populations</th>
          {view.populations.map((population) => (
            <th scope="col" key={population.id}>
              {population.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {view.ratings.map((one) => (
          <tr key={one.rating}>
            <td>
              <span className="strong">{ratingWords(one.rating)}</span>
              <div className="mid nowrap">{count(one.updates, 'update')}</div>
            </td>
            <td className={styles.number}>{one.target === undefined ? <span className="faint">none</span> : count(one.target, 'day')}</td>
            <td>
              <DaysCell days={one.all} target={one.target} />
            </td>
            {one.cells.map((days, place) => (
              <td key={view.populations[place]?.id}>
                <DaysCell days={days} target={one.target} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** "3 / 12 days": what has not come to pass is no number. */
function DaysCell({ days, target }: { days: Schemas['Days']; target: number | undefined }) {
  if (days.got + days.waiting === 0) {
    return <span className="faint">·</span>;
  }
  const late = target !== undefined && days.nineTenths !== undefined && days.nineTenths > target;
  const words = (number: number | undefined) => (number === undefined ? 'not yet' : String(number));
  return (
    <span
      title={`Half after ${words(days.half)} days, nine tenths after ${words(days.nineTenths)}; ${count(days.got, 'install')} counted, ${days.waiting} still missing: each host once for each update`}
    >
      <span className={days.half === undefined ? 'mid nowrap' : 'nowrap'}>
        {days.half === undefined ? (
          'not yet'
        ) : (
          <>
            {days.half} / <span className={late ? styles.breach : undefined}>{words(days.nineTenths)}</span>
            {late && ' !'}
          </>
        )}
      </span>
      <div className="mid nowrap">
        {days.got} of {days.got + days.waiting}
      </div>
    </span>
  );
}

function Targets({ view }: { view: Schemas['TimeToCarryView'] }) {
  const analyst = useSession().data?.role === 'ANALYST';
  const known = useQuery({ queryKey: ['report', 'targets'], queryFn: () => body(api.GET('/api/report/carry-targets')) });
  const [changed, setChanged] = useState<Partial<Record<Rating, number>>>({});
  const save = useChange((days: Record<string, number>) => api.PUT('/api/report/carry-targets', { body: { days } }));
  const shown = RATINGS.filter((rating) => rating !== 'NONE' && rating !== 'UNRATED');
  if (known.data === undefined || (!analyst && view.missed.length === 0)) {
    return null;
  }
  const value = (rating: Rating) => changed[rating] ?? known.data.days[rating] ?? 0;
  return (
    <section className={styles.section}>
      <h2>Targets</h2>
      <div className={styles.targets}>
        <span className="mid">Nine tenths of the hosts of each population carry it, days after release (0: no target):</span>
        {shown.map((rating) => (
          <span key={rating}>
            {ratingWords(rating)}{' '}
            {analyst ? (
              <NumberField
                label={`Days for ${ratingWords(rating)}`}
                least={0}
                most={366}
                width={80}
                value={value(rating)}
                change={(number) => setChanged({ ...changed, [rating]: number })}
              />
            ) : (
              value(rating) || 'none'
            )}
          </span>
        ))}
        {analyst && (
          <Button
            disabled={Object.keys(changed).length === 0}
            loading={save.isPending}
            onClick={() =>
              save.mutate(Object.fromEntries(shown.map((rating) => [rating, value(rating)] as const).filter(([, number]) => number > 0)), {
                onSuccess: () => setChanged({}),
              })
            }
          >
            Set these targets
          </Button>
        )}
        {save.error && (
          <span className="fault-line" role="alert">
            Not set: {save.error.message}
          </span>
        )}
      </div>
    </section>
  );
}

function MissedTable({ missed, now }: { missed: Schemas['MissedTarget'][]; now: Date }) {
  return (
    <table className="list">
      <thead>
        <tr>
          <th scope="col">Update</th>
          <th scope="col">Population</th>
          <th scope="col">Owner</th>
          <th scope="col" className={styles.number}>
            carry it
          </th>
          <th scope="col">Should have by</th>
          <th scope="col">Why it waits</th>
        </tr>
      </thead>
      <tbody>
        {missed.map((one) => (
          <tr key={`${one.update} ${one.population}`}>
            <td>
              <Link to={`/cases/${encodeURIComponent(one.update)}`}>{one.update}</Link> <span className="mid">{one.title}</span>
            </td>
            <td>
              <Link to={`/carriers/${encodeURIComponent(one.update)}?population=${one.population}`}>{one.name}</Link>
            </td>
            <td>{one.owner}</td>
            <td className={styles.number}>
              {one.have} of {one.applies}
            </td>
            <td className="nowrap">{onDay(one.lastDay, now)}</td>
            <td>
              {one.withheld === 0
                ? 'not withheld from anybody'
                : `withheld from ${count(one.withheld, 'host')}${one.nextEnd === undefined ? '' : `, the first until ${lastDay(one.nextEnd, now)}`}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
