import type { ChangesAsked, MatrixAsked } from '../api/queries';
import type { Changes } from '../frame/useAddress';

const NAMES = ['rating', 'kind', 'vendor', 'population', 'owner', 'suggestion', 'due', 'age', 'sort', 'exploited', 'lacking'] as const;

/** Nothing is narrowed, and the newest come first. */
export const NOTHING_NARROWED: Changes = Object.fromEntries(NAMES.map((name) => [name, undefined]));

export const isNarrowed = (asked: MatrixAsked) =>
  NAMES.some((name) => name !== 'sort' && asked[name] !== undefined) || asked.find !== undefined;

/** What the address asks for; a word that is none of ours is left out. */
export function matrixAsked(search: URLSearchParams, today: string): MatrixAsked {
  const word = <Value extends string>(name: string) => (search.get(name) ?? undefined) as Value | undefined;
  const age = Number(search.get('age') ?? Number.NaN);
  const on = search.get('on') ?? undefined;
  return {
    find: search.get('find') || undefined,
    content: search.get('show') === 'content' ? true : undefined,
    rating: word<NonNullable<MatrixAsked['rating']>>('rating'),
    kind: word<NonNullable<MatrixAsked['kind']>>('kind'),
    vendor: word('vendor'),
    population: word('population'),
    owner: word('owner'),
    lacking: search.get('lacking') === 'yes' ? true : undefined,
    exploited: search.get('exploited') === 'yes' ? true : undefined,
    suggestion: word<NonNullable<MatrixAsked['suggestion']>>('suggestion'),
    due: word<NonNullable<MatrixAsked['due']>>('due'),
    age: Number.isInteger(age) && age > 0 ? age : undefined,
    sort: word<NonNullable<MatrixAsked['sort']>>('sort'),
    face: search.get('face') === 'in-force' ? 'IN_FORCE' : undefined,
    on: on !== undefined && /^\d{4}-\d{2}-\d{2}$/.test(on) && on < today ? on : undefined,
  };
}

/** The same, as the address of a file. */
export function fileQuery(asked: MatrixAsked | ChangesAsked): string {
  const fields = Object.entries(asked).filter(([name, value]) => value !== undefined && name !== 'face');
  return new URLSearchParams(fields.map(([name, value]) => [name, String(value)])).toString();
}
