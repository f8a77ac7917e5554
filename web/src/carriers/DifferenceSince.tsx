import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Failed, Loading } from '../frame/Loading';
import { count, lastDay } from '../words/dates';
import type { useDifference } from './usePast';

const WORDS: Record<Schemas['BecameView']['what'], string> = {
  GAINED: 'have got it since',
  JOINED: 'have it and were not there then',
  LOST: 'had it then and have it no more',
  LEFT: 'had it then and are not there any more',
  KEPT: 'had it then and have it still',
};

interface Props {
  difference: ReturnType<typeof useDifference>;
  now: Date;
  csv: string;
  close: () => void;
}

/** Who has got an update since a day, who has lost it, who came and who left. */
export function DifferenceSince({ difference, now, csv, close }: Props) {
  if (difference.isError) {
    return <Failed what="The difference" error={difference.error} again={difference.refetch} />;
  }
  if (!difference.data) {
    return <Loading what="what has changed since" />;
  }
  const { from, to, had, has, became } = difference.data;
  const until = new Date(to).getTime() >= now.getTime() - 60_000 ? 'now' : `on ${lastDay(to, now)}`;
  return (
    <section className="sheet" aria-label="Difference">
      <div>
        At the end of <b>{lastDay(from, now)}</b> <span className="strong">{count(had, 'host')}</span> had it,{' '}
        <b>{until === 'now' ? 'now' : until}</b> <span className="strong">{has.toLocaleString('en-GB')}</span>.
      </div>
      <ul>
        {became
          .filter((one) => one.hosts.count > 0)
          .map((one) => (
            <li key={one.what}>
              <span className="strong">{count(one.hosts.count, 'host')}</span> {WORDS[one.what]}: <HostNames hosts={one.hosts} />
              <div className="mid">{one.byPopulation.map((of) => `${of.population} ${of.hosts}`).join(', ')}</div>
            </li>
          ))}
        {became.every((one) => one.hosts.count === 0) && <li className="mid">Nobody had it, and nobody has it.</li>}
      </ul>
      <div className="actions">
        <a href={csv} download>
          CSV, host by host
        </a>
        <button type="button" className="plain link" onClick={close}>
          Close
        </button>
        <span className="mid">hosts that are silent count by their last report</span>
      </div>
    </section>
  );
}
