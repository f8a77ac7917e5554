import type { Schemas } from '../api/client';

type Population = Schemas['PopulationRow'];

/** A row of the case: a population, or several with the same answer, which one beam serves. */
export interface CaseRow {
  /** Identifiers of the populations, joined by commas. */
  id: string;
  populations: Population[];
  hosts: number;
  states: Schemas['StateCounts'];
  lacking: number;
  lackingUnknown: number;
  groups: Schemas['RulingGroupView'][];
  beam?: Pick<Schemas['BeamView'], 'exposure' | 'hazard' | 'usual' | 'tilt'>;
  suggestion?: Schemas['SuggestionView'];
}

/** The populations that it is for, in the order of the ladder; those with the same answer stand together unless each is wanted by itself. */
export function rowsOf(page: Schemas['CaseView'], each: boolean): CaseRow[] {
  const rows: CaseRow[] = [];
  for (const population of page.populations) {
    if (population.hosts === population.states.notApplicable) {
      continue;
    }
    const id = population.id;
    const alike = each ? undefined : page.alike.find((group) => group.populations.includes(id));
    if (alike === undefined) {
      const { hosts, states, lacking, lackingUnknown, groups, weighing } = population;
      const suggestion = weighing?.suggestion;
      rows.push({ id, populations: [population], hosts, states, lacking, lackingUnknown, groups, beam: weighing, suggestion });
    } else if (alike.populations[0] === id) {
      const populations = page.populations.filter((one) => alike.populations.includes(one.id));
      const { hosts, states, lacking, lackingUnknown, groups, beam } = alike;
      const suggestion = populations.find((one) => one.weighing !== undefined)?.weighing?.suggestion;
      // Where every host carries it, nothing hangs at either end.
      const weighed = populations.some((one) => one.weighing !== undefined);
      rows.push({
        id: alike.populations.join(','),
        populations,
        hosts,
        states,
        lacking,
        lackingUnknown,
        groups,
        beam: weighed ? beam : undefined,
        suggestion,
      });
    }
  }
  return rows;
}

/** The row on which most hangs: what the docket suggests is suggested there. */
export function heaviest(page: Schemas['CaseView'], rows: CaseRow[]): number {
  const wanted = rows.findIndex((row) => row.populations.some((one) => one.id === page.beam.population));
  return Math.max(0, wanted >= 0 ? wanted : rows.findIndex((row) => row.lacking > 0));
}

export const idsOf = (row: CaseRow): string[] => row.id.split(',');

/** What holds, with those together that are withheld because of something the update contains, whichever decision does it: the latest end is told. */
export function together(groups: Schemas['RulingGroupView'][]): Schemas['RulingGroupView'][] {
  const contained = groups.filter(({ match }) => match.clause === 'SUPERSEDES_BLOCKED' || match.clause === 'CONTAINS_EXCEPTED');
  const [first] = contained;
  if (first === undefined || contained.length === 1) {
    return groups;
  }
  const end = contained.map((one) => one.match.end ?? '').reduce((a, b) => (a > b ? a : b));
  const names = contained.flatMap((one) => one.hosts.names);
  const hosts = { count: contained.reduce((sum, one) => sum + one.hosts.count, 0), names };
  return [...groups.filter((one) => !contained.includes(one)), { match: { ...first.match, end, source: undefined }, hosts }];
}
