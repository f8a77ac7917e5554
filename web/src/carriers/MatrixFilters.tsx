import type { ReactNode } from 'react';
import type { Schemas } from '../api/client';
import type { MatrixAsked } from '../api/queries';
import { Choose } from '../frame/Choose';
import line from '../frame/FilterLine.module.css';
import type { Changes } from '../frame/useAddress';
import { count } from '../words/dates';
import { kindWord, RATINGS, ratingWords } from '../words/sentences';
import { SUGGESTIONS, suggestionWord } from '../words/weighing';
import styles from './Matrix.module.css';

interface Props {
  page: Schemas['Matrix'];
  asked: MatrixAsked;
  /** False for those who are not told what is suggested. */
  judges: boolean;
  set: (changes: Changes) => void;
  /** The field in which one is found. */
  children: ReactNode;
}

/** What the matrix is narrowed to; every filter stays in the address. The tallies count what matches, and name their unit. */
export function MatrixFilters({ page, asked, judges, set, children }: Props) {
  const toggle = (name: 'exploited' | 'lacking', words: string) => (
    <button
      type="button"
      className={`plain ${line.toggle}`}
      aria-pressed={asked[name] === true}
      onClick={() => set({ [name]: asked[name] ? undefined : 'yes' })}
    >
      {words}
    </button>
  );
  const missing = page.tallies.reduce((sum, tally) => sum + tally.missing, 0);
  const updates = page.tallies.reduce((sum, tally) => sum + tally.updates, 0);
  return (
    <section className={`${line.filters} noprint`} aria-label="Narrow the updates">
      <span className={line.tally}>
        {RATINGS.map((rating) => {
          const tally = page.tallies.find((one) => one.rating === rating);
          return tally === undefined && asked.rating !== rating ? null : (
            <button
              type="button"
              key={rating}
              className={`plain ${line.toggle}`}
              aria-pressed={asked.rating === rating}
              title={`${count(tally?.updates ?? 0, 'update')} that some host lacks; ${count(tally?.missing ?? 0, 'install')} missing: each host once for each update`}
              onClick={() => set({ rating: asked.rating === rating ? undefined : rating })}
            >
              {tally?.missing ?? 0} {ratingWords(rating).toLowerCase()}
            </button>
          );
        })}
        <span className="mid">{missing === 0 ? 'no install is missing' : `installs missing, of ${count(updates, 'update')}`}</span>
      </span>
      <span className={styles.toggles}>
        {toggle('lacking', 'lacked by some host')}
        {toggle('exploited', 'known exploited')}
      </span>
      <span className="space" />
      {children}
      <span className={styles.selects}>
        <Choose
          label="Population that lacks it"
          all="Lacked by anybody"
          value={asked.population}
          options={page.columns.map((column) => [column.id, column.name])}
          change={(population) => set({ population })}
        />
        {page.choices.owners.length > 0 && (
          <Choose
            label="Owner whose hosts lack it"
            all="All owners"
            value={asked.owner}
            options={page.choices.owners.map((owner) => [owner, owner])}
            change={(owner) => set({ owner })}
          />
        )}
        <Choose
          label="Kind"
          all="All kinds"
          value={asked.kind}
          options={page.choices.kinds.map((kind) => [kind, kindWord(kind)])}
          change={(kind) => set({ kind })}
        />
        <Choose
          label="Vendor"
          all="All vendors"
          value={asked.vendor}
          options={page.choices.vendors.map((vendor) => [vendor, vendor])}
          change={(vendor) => set({ vendor })}
        />
        {judges && (
          <Choose
            label="Suggestion"
            all="Any suggestion"
            value={asked.suggestion}
            options={SUGGESTIONS.map((type) => [type, suggestionWord(type)])}
            change={(suggestion) => set({ suggestion })}
          />
        )}
        <Choose
          label="Due"
          all="Due or not"
          value={asked.due}
          options={[
            ['OVERDUE', 'overdue'],
            ['WEEK', 'due within seven days'],
          ]}
          change={(due) => set({ due })}
        />
        <Choose
          label="Age"
          all="Any age"
          value={asked.age?.toString()}
          options={[
            ['7', '7 days or older'],
            ['30', '30 days or older'],
            ['90', '90 days or older'],
          ]}
          change={(age) => set({ age })}
        />
        <Choose
          label="Order"
          all="Newest first"
          value={asked.sort}
          options={[
            ['RATING', 'Highest rating first'],
            ['LACKING', 'Lacked by most first'],
            ['DUE', 'Due first'],
            ['NAME', 'By name'],
          ]}
          change={(sort) => set({ sort })}
        />
      </span>
    </section>
  );
}
