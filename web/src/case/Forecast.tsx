import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Timeline } from '../look/Timeline';
import { count, dayTime } from '../words/dates';
import { bytes } from '../words/sentences';
import styles from './Forecast.module.css';

interface Props {
  forecast: Schemas['ForecastView'];
  /** Hosts that it is for. */
  hosts: number;
  /** When it is due; none: never. */
  due: string | undefined;
  restart: Schemas['UpdateView']['restart'];
  now: Date;
  zone: string;
  /** Something would keep some of them from installing now. */
  prevented: boolean;
}

const DOES = {
  NONE: ['installed', 'would install'],
  SERVICE: ['installed and restarted', 'would restart'],
  HOST: ['installed and restarted', 'would restart'],
  UNKNOWN: ['installed, and restarted if it needs that, which no source tells,', 'would install, and restart if it needs that,'],
} as const;

/** What is foreseen to happen on the hosts, by what stands out, and how many have it day by day. */
export function Forecast({ forecast, hosts, due, restart, now, zone, prevented }: Props) {
  const last = forecast.curve[forecast.curve.length - 1];
  const done = last?.hosts ?? 0;
  const soonest = forecast.earliest[forecast.earliest.length - 1];
  const [does, would] = DOES[restart];
  return (
    <div>
      {done > 0 && last !== undefined && (
        <div className={styles.foreseen}>
          <span>
            Foreseen: <span className="strong">{done === hosts ? 'all' : `${done} of ${hosts}`}</span> {does} by{' '}
            {dayTime(last.at, now, zone)}
            {(due === undefined || prevented) && ', if nothing prevents it'}
          </span>
          {forecast.curve.length > 2 && (
            <Timeline
              points={forecast.curve.map((point) => ({ at: point.at, value: point.hosts }))}
              earliest={forecast.earliest.map((point) => ({ at: point.at, value: point.hosts }))}
              most={hosts}
              now={new Date(last.at)}
              colour="var(--ink)"
              width={200}
              height={24}
              label={`Hosts on which it is foreseen to be ${does}, day by day: ${forecast.curve.map((point) => point.hosts).join(', ')}`}
            />
          )}
        </div>
      )}
      {soonest !== undefined && soonest.hosts > 0 && (
        <div className="mid">
          Persons may begin before: up to {soonest.hosts} by {dayTime(soonest.at, now, zone)}
        </div>
      )}
      {forecast.peak !== undefined && forecast.peak.hosts > 1 && (
        <div className="mid">
          Most at once: {forecast.peak.hosts} hosts{forecast.peak.site === undefined ? '' : ` of ${forecast.peak.site}`} download it in the
          hour from {dayTime(forecast.peak.hour, now, zone)}
          {forecast.peak.bytes !== undefined && `, ${bytes(forecast.peak.bytes)}`}
        </div>
      )}
      <Line hosts={forecast.inBusyHours}>{would} in busy hours, because it is due</Line>
      <Line hosts={forecast.late}>late: no window comes before it is due</Line>
      <Line hosts={forecast.dueLater}>due later, after they are back</Line>
      <Line hosts={forecast.silent}>silent: nobody knows when they come back{due !== undefined && '; due as they return'}</Line>
      <Line hosts={forecast.byOthers}>begun by a person or an operator: not foreseen when</Line>
      <Line hosts={forecast.notForeseen}>not foreseen: no hour is allowed, or no restart comes by itself</Line>
    </div>
  );
}

function Line({ hosts, children }: { hosts: Schemas['HostList']; children: React.ReactNode }) {
  return hosts.count === 0 ? null : (
    <div>
      <span className="strong">{count(hosts.count, 'host')}</span> {children} <HostNames hosts={hosts} />
    </div>
  );
}
