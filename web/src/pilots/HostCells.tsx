import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { dayTime } from '../words/dates';
import { HOST_STATES } from '../words/pilots';
import styles from './HostCells.module.css';

type State = Schemas['PilotHostView']['state'];

/** In the order in which they are told: what answered first. */
const ORDER: State[] = ['SOAKED', 'FAILED', 'DISMISSED', 'SOAKING', 'NOT_TRIED', 'REPLACED'];

const LOOKS: Record<State, string | undefined> = {
  SOAKED: styles.soaked,
  FAILED: styles.failed,
  DISMISSED: styles.dismissed,
  SOAKING: styles.soaking,
  NOT_TRIED: styles.untried,
  REPLACED: styles.replaced,
};

/** One cell for each host of the sample, by its state; and the same in words. */
export function HostCells({ hosts, now }: { hosts: Schemas['PilotHostView'][]; now: Date }) {
  const byState = ORDER.map((state) => ({ state, hosts: hosts.filter((one) => one.state === state) })).filter(
    (one) => one.hosts.length > 0,
  );
  return (
    <>
      <ul className={styles.cells} aria-label="Hosts of the sample">
        {byState.flatMap(({ state, hosts: some }) =>
          some.map((one) => (
            <li key={one.host.name}>
              <Link
                to={`/hosts/${encodeURIComponent(one.host.name)}`}
                className={`${styles.cell} ${LOOKS[state]}`}
                title={hostWords(one, now)}
                aria-label={hostWords(one, now)}
              />
            </li>
          )),
        )}
      </ul>
      <p>
        {byState.map(({ state, hosts: some }, index) => (
          <span key={state}>
            {index > 0 && ' · '}
            <span className={styles.count}>{some.length}</span> {HOST_STATES[state]}
            {state === 'FAILED' && (
              <>
                :{' '}
                {some.slice(0, 6).map((one, place) => (
                  <span key={one.host.name}>
                    {place > 0 && ', '}
                    <Link to={`/hosts/${encodeURIComponent(one.host.name)}`}>{one.host.name}</Link>{' '}
                    <span className="mid">
                      {one.code}, {one.failureClass?.toLowerCase()}
                    </span>
                  </span>
                ))}
                {some.length > 6 && ' …'}
              </>
            )}
          </span>
        ))}
      </p>
    </>
  );
}

function hostWords(one: Schemas['PilotHostView'], now: Date): string {
  const at = one.at === undefined ? '' : ` ${dayTime(one.at, now)}`;
  const what = one.state === 'SOAKED' || one.state === 'SOAKING' ? `${HOST_STATES[one.state]}, installed` : HOST_STATES[one.state];
  const code = one.code === undefined ? '' : ` with ${one.code}`;
  return `${one.host.name}, ${one.host.words}: ${what}${code}${at}`;
}
