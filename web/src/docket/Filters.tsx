import type { Schemas } from '../api/client';
import type { DocketAsked } from '../api/queries';
import { Choose } from '../frame/Choose';
import styles from '../frame/FilterLine.module.css';
import type { Changes } from '../frame/useAddress';
import { kindWord, RATINGS, ratingWords } from '../words/sentences';
import { suggestionWord } from '../words/weighing';

type Page = Schemas['DocketPage'];
type Asked = Omit<DocketAsked, 'show' | 'after'>;

const NAMES = ['population', 'owner', 'assignee', 'kind', 'rating', 'vendor', 'suggestion', 'exploited', 'waiting', 'sort'] as const;

/** No filter is set, and the docket stands in its own order. */
export const NO_FILTERS: Changes = Object.fromEntries(NAMES.map((name) => [name, undefined]));

/** What the address asks for; a word that is none of ours is left out. */
export function filtersOf(search: URLSearchParams): Asked {
  const waiting = Number(search.get('waiting') ?? Number.NaN);
  return {
    population: search.get('population') ?? undefined,
    owner: search.get('owner') ?? undefined,
    assignee: search.get('assignee') ?? undefined,
    kind: (search.get('kind') ?? undefined) as Asked['kind'],
    rating: (search.get('rating') ?? undefined) as Asked['rating'],
    vendor: search.get('vendor') ?? undefined,
    suggestion: (search.get('suggestion') ?? undefined) as Asked['suggestion'],
    exploited: search.get('exploited') === 'yes' ? true : undefined,
    waiting: Number.isInteger(waiting) && waiting > 0 ? waiting : undefined,
    sort: (search.get('sort') ?? undefined) as Asked['sort'],
  };
}

/** What the cases are narrowed to; every filter stays in the address. */
export function Filters({ page, filters, set }: { page: Page; filters: Asked; set: (changes: Changes) => void }) {
  const { choices } = page;
  const choose = (name: string, label: string, all: string, value: string | undefined, options: [string, string][]) => (
    <Choose key={name} label={label} all={all} value={value} options={options} change={(chosen) => set({ [name]: chosen })} />
  );
  return (
    <section className={`${styles.filters} noprint`} aria-label="Narrow the cases">
      <span className={styles.tally}>
        {RATINGS.filter((rating) => (choices.ratings[rating] ?? 0) > 0).map((rating) => (
          <button
            type="button"
            key={rating}
            className={`plain ${styles.toggle}`}
            aria-pressed={filters.rating === rating}
            onClick={() => set({ rating: filters.rating === rating ? undefined : rating })}
          >
            {choices.ratings[rating]} {ratingWords(rating).toLowerCase()}
          </button>
        ))}
        <span className="mid">cases</span>
      </span>
      <button
        type="button"
        className={`plain ${styles.toggle}`}
        aria-pressed={filters.exploited === true}
        onClick={() => set({ exploited: filters.exploited ? undefined : 'yes' })}
      >
        known exploited
      </button>
      <span className="space" />
      {choose(
        'population',
        'Population',
        'All populations',
        filters.population,
        page.populations.map((p) => [p.id, p.name]),
      )}
      {choose(
        'owner',
        'Owner',
        'All owners',
        filters.owner,
        choices.owners.map((owner) => [owner, owner]),
      )}
      {(choices.assignees.length > 0 || filters.assignee !== undefined) &&
        choose(
          'assignee',
          'Seen to by',
          'Anybody',
          filters.assignee,
          choices.assignees.map((name) => [name, name]),
        )}
      {choose(
        'kind',
        'Kind',
        'All kinds',
        filters.kind,
        choices.kinds.map((kind) => [kind, kindWord(kind)]),
      )}
      {choose(
        'vendor',
        'Vendor',
        'All vendors',
        filters.vendor,
        choices.vendors.map((vendor) => [vendor, vendor]),
      )}
      {choose(
        'suggestion',
        'Suggestion',
        'Any suggestion',
        filters.suggestion,
        choices.suggestions.map((type) => [type, suggestionWord(type)]),
      )}
      {choose('waiting', 'Age', 'Any age', filters.waiting?.toString(), [
        ['1', 'a day or older'],
        ['3', '3 days or older'],
        ['7', '7 days or older'],
        ['30', '30 days or older'],
      ])}
      {choose('sort', 'Order', 'By stake', filters.sort, [
        ['WAITING', 'Longest waiting first'],
        ['RATING', 'Highest rating first'],
      ])}
    </section>
  );
}
