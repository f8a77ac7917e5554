import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { count } from '../words/dates';
import styles from './FirstRun.module.css';

/** From nothing to the first judged case: what is there, and what is still missing. */
export function FirstRun({ page, updates }: { page: Schemas['DocketPage']; updates: number }) {
  const step = (done: boolean, title: string, found: string, how: ReactNode) => (
    <li className={done ? styles.done : undefined}>
      <strong>{title}</strong> <span className="mid">{found}</span>
      <div>{how}</div>
    </li>
  );
  return (
    <section className={styles.first} aria-labelledby="first">
      <h2 id="first">The first case needs three things</h2>
      <ol>
        {step(
          page.hosts > 0,
          'Hosts that tell what they have.',
          page.hosts > 0 ? `${count(page.hosts, 'host')} reported.` : 'None has reported yet.',
          <>
            Let this machine report itself with <code>reporter/lucid-reporter report</code> and a token from{' '}
            <Link to="/access">Access</Link>, or drop a file with inventories on <Link to="/intake">Intake</Link>.
          </>,
        )}
        {step(
          updates > 0,
          'Updates that were released.',
          updates > 0 ? `${count(updates, 'update')} read.` : 'None was read yet.',
          <>
            Drop an advisory or an update notice on <Link to="/intake">Intake</Link>, use <code>./lucid import</code>, or subscribe to a
            publisher.
          </>,
        )}
        {step(
          page.populations.length > 0,
          'Populations, each with what happens to an update that nobody has judged.',
          page.populations.length > 0
            ? `${count(page.populations.length, 'population')}.`
            : 'None is named: every host stands in no population, under the rule of the fleet.',
          <>
            Name them on <Link to="/populations">Populations</Link>: a condition such as <code>role = kiosk</code>, a tier, an owner.
          </>,
        )}
      </ol>
      <p>As soon as a host lacks what an update fixes, the case stands here, with what speaks for it and against it.</p>
    </section>
  );
}
