import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../api/client';
import { day } from '../words/dates';
import { applicable, NO_HOSTS } from '../words/states';
import styles from './carriers.module.css';

const WIDTH = 620;
const HEIGHT = 84;

interface Share {
  day: string;
  /** Hosts that carry it. */
  carries: number;
  /** Hosts that it is for and of which that is known. */
  known: number;
}

/** The share of hosts that carried it at the end of each day that was counted, of some populations or of all. */
export function shares(curve: Schemas['Curve'], populations: string[]): Share[] {
  return curve.counted.map(({ day: on, populations: counted }) => {
    const some = counted.filter((one) => populations.length === 0 || populations.includes(one.id)).map((one) => one.states);
    const sum = (of: (states: Schemas['StateCounts']) => number) => some.reduce((all, states) => all + of(states), 0);
    return { day: on, carries: sum((states) => states.carries), known: sum((states) => applicable(states ?? NO_HOSTS) - states.unknown) };
  });
}

const days = (from: string, to: string) => (Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000;

/** How the share of hosts that carry it grew, from day to day; a step is a day on which it was another than before. */
export function CarriedCurve({ update, populations, now }: { update: string; populations: string[]; now: Date }) {
  const curve = useQuery({
    queryKey: ['carrier days', update],
    queryFn: () => body(api.GET('/api/carriers/{id}/days', { params: { path: { id: update } } })),
  });
  const view = curve.data;
  const all = view === undefined ? [] : shares(view, populations).filter((share) => share.known > 0);
  const [first] = all;
  const last = all[all.length - 1];
  const until = view?.until;
  if (view === undefined || first === undefined || last === undefined || until === undefined) {
    return null;
  }
  const begin = view.published < first.day ? view.published : first.day;
  const whole = Math.max(1, days(begin, until));
  const x = (on: string) => (WIDTH * days(begin, on)) / whole;
  const y = (share: Share) => HEIGHT - (HEIGHT * share.carries) / share.known;
  const path = all
    .map((share, place) => `${place === 0 ? `M${x(share.day)} ${y(share)}` : `H${x(share.day)}V${y(share)}`}`)
    .join('')
    .concat(`H${x(until)}`);
  const reached = (part: number) => all.find((share) => share.carries >= part * share.known - 1e-9)?.day;
  const half = reached(0.5);
  const nineTenths = reached(0.9);
  const words = [
    `${Math.round((100 * last.carries) / last.known)} % carry it, ${last.carries} of ${last.known} of which that is known`,
    half === undefined ? 'half has not been reached' : `half since ${day(`${half}T00:00:00Z`, now)}`,
    nineTenths === undefined ? 'nine tenths not yet' : `nine tenths since ${day(`${nineTenths}T00:00:00Z`, now)}`,
  ].join('; ');
  return (
    <figure className={styles.curve}>
      <figcaption className="mid">
        As counted at the end of each day up to {day(`${until}T00:00:00Z`, now)}: {words}.
      </figcaption>
      <svg width="100%" viewBox={`0 -2 ${WIDTH} ${HEIGHT + 18}`} role="img" aria-label={words}>
        <title>{words}</title>
        {[0, 0.5, 0.9, 1].map((part) => (
          <path
            key={part}
            d={`M0 ${HEIGHT * (1 - part)}H${WIDTH}`}
            stroke="var(--rule)"
            strokeDasharray={part === 0 || part === 1 ? undefined : '3 3'}
          />
        ))}
        <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.8" />
        <text x="0" y={HEIGHT + 13} className={styles.axis}>
          {day(`${begin}T00:00:00Z`, now)}
          {begin === view.published ? ', released' : ', first counted'}
        </text>
        <text x={WIDTH} y={HEIGHT + 13} textAnchor="end" className={styles.axis}>
          {day(`${until}T00:00:00Z`, now)}
        </text>
      </svg>
    </figure>
  );
}
