import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { count } from '../words/dates';
import styles from './NotRead.module.css';

const NAMED = 6;

/** What it shares with its other versions: the branch that it stands in, else its own name. */
const nameOf = (product: Schemas['UnreadProduct']) => product.names[1] ?? product.name;

/** What of an advisory nobody could read, and where to say what it is: without that nobody knows whom it is for. */
export function NotRead({ update, analyst }: { update: Schemas['UpdateView']; analyst: boolean }) {
  const { unread, fixes } = update;
  const names = [...new Set(unread.map(nameOf))];
  const one = names.length === 1;
  const vendor = unread[0]?.vendor ?? '';
  const reasons = [...new Set(unread.map((product) => product.reason))];
  return (
    <section className={styles.notRead} aria-label="Products not read">
      <h2>
        <Term name="products not read">{count(names.length, 'product')} not read</Term>
      </h2>
      <p>
        Nobody knows whether hosts here have {one ? 'it' : 'them'}
        {fixes.length > 0 ? '; what follows is of the others alone' : ''}.
        {reasons.length === 1 && ` Of ${one ? 'it' : 'each'}: ${reasons[0]}.`}
      </p>
      <ul>
        {names.slice(0, NAMED).map((name) => (
          <li
            key={name}
            title={unread
              .filter((product) => nameOf(product) === name)
              .map((product) => product.name)
              .join(', ')}
          >
            {name}
            {reasons.length > 1 && <span className="mid">: {unread.find((product) => nameOf(product) === name)?.reason}</span>}
          </li>
        ))}
        {names.length > NAMED && <li className="mid">and {names.length - NAMED} more</li>}
      </ul>
      {analyst && <Link to={`/intake?vendor=${encodeURIComponent(vendor)}`}>Say what {one ? 'it is' : 'they are'}</Link>}
    </section>
  );
}
