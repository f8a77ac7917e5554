import type { Schemas } from '../api/client';
import { groundWords, isLetGo } from '../words/answers';
import { count, day, isoDay } from '../words/dates';
import { PREVENTED } from '../words/prevented';
import { names, ruleMatchWords } from '../words/sentences';
import { DEFAULTS, type VerdictType } from './useVerdictDraft';

type Strip = Schemas['Strip'];
type Worded = Schemas['WordedView'];
type Sentence = Schemas['VerdictDraft'];
type OnCase = Schemas['OnCase'];

/** As many as one request may decide. */
export const MOST_CASES = 50;

/** Hosts that no population has. */
const NO_POPULATION = { id: 'none', name: 'In no population' };

/** One answer for several cases, as the address says it; what is left out is what is usual. */
export interface SeveralAsked {
  type: VerdictType;
  /** Populations that it is for; none: all that have hosts which lack the update, case by case. */
  only: string[];
  where: string;
  until: string;
  /** Of a pilot: how many hosts try each. */
  size?: number;
  /** Of a force: days that a host that was away has after its return. */
  away?: number;
  /** Of a force: it does not wait for a window once it is due. */
  outside?: boolean;
}

/** The cases in an address: identifiers may hold what an address has a meaning for. */
export const casesIn = (text: string | null): string[] =>
  [...new Set((text ?? '').split(',').filter(Boolean).map(decodedOr))].filter((id) => id !== '');

function decodedOr(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

export const casesFor = (ids: string[]): string => ids.map(encodeURIComponent).join(',');

export function severalIn(search: URLSearchParams, type: VerdictType, now: Date): SeveralAsked {
  const size = search.get('size');
  const away = search.get('away');
  return {
    type,
    only: (search.get('for') ?? '').split(',').filter(Boolean),
    where: search.get('where') ?? '',
    until: search.get('until') ?? isoDay(now, DEFAULTS[type].days),
    size: type === 'PILOT' && size !== null ? Number(size) : undefined,
    away: type === 'FORCE' && away !== null ? Number(away) : undefined,
    outside: type === 'FORCE' && search.get('outside') === 'yes' ? true : undefined,
  };
}

/** Where hosts lack it. */
export function lackingIn(strip: Strip): string[] {
  const some = strip.marks.filter((mark) => mark.lacking > 0);
  const inPopulations = some.reduce((sum, mark) => sum + mark.lacking, 0);
  return [...some.map((mark) => mark.population), ...(strip.lacking > inPopulations ? [NO_POPULATION.id] : [])];
}

/** The populations of which hosts lack one of them, in the order of the ladder. */
export function populationsOfAll(strips: Strip[], ladder: Schemas['PopulationName'][]): Schemas['PopulationName'][] {
  const lacking = new Set(strips.flatMap(lackingIn));
  return [...ladder, NO_POPULATION].filter((population) => lacking.has(population.id));
}

/** For which populations it would be decided: those asked for that have hosts which lack it. */
export const populationsOn = (strip: Strip, { only }: SeveralAsked): string[] =>
  lackingIn(strip).filter((id) => only.length === 0 || only.includes(id));

/** One sentence for each case that has something to decide. Pilots of several are drawn alike: the same hosts try all of them. */
export function sentencesOf(strips: Strip[], asked: SeveralAsked, reasons: Sentence['reasons'], words: string): Sentence[] {
  return strips
    .map((strip) => ({ strip, populations: populationsOn(strip, asked) }))
    .filter(({ populations }) => populations.length > 0)
    .map(({ strip, populations }) => ({
      update: strip.id,
      revision: strip.revision,
      type: asked.type,
      populations,
      where: asked.where,
      until: asked.until,
      allowanceDays: asked.away,
      outsideWindows: asked.outside,
      reasons,
      words,
      overrides: [],
      overriddenExceptions: [],
      overriddenFreezes: [],
      replaces: [],
      also: [],
      pilot: asked.type === 'PILOT' ? { size: asked.size, departments: [], without: [], drawnLike: strips[0]?.id } : undefined,
    }));
}

const sum = (worded: Worded[], of: (one: Worded) => number) => worded.reduce((total, one) => total + of(one), 0);

export const decidedHosts = (worded: Worded[]): number => sum(worded, (one) => one.consequence.decided.count);

/** "58 hosts try it first, 113 others wait", "171 hosts: Ticket kiosks 162, Yard servers 9". */
export function reachWords(worded: Worded[]): string {
  const parts = worded
    .filter((one) => one.consequence.decided.count > 0)
    .map((one) => `${one.populationName} ${one.consequence.decided.count}`)
    .join(', ');
  const sample = worded[0]?.pilot?.sample.length;
  return sample === undefined ? parts : `${sample} try it first; the others wait: ${parts}`;
}

/** "80 hosts try one or more of them, 36 try all": of pilots, who would try anything. */
export function triedWords(told: OnCase[]): string | undefined {
  const samples = told.flatMap((one) => one.worded[0]?.pilot?.sample.map((host) => host.name) ?? []);
  const tries = new Map<string, number>();
  for (const host of samples) {
    tries.set(host, (tries.get(host) ?? 0) + 1);
  }
  if (told.length < 2 || tries.size === 0) {
    return undefined;
  }
  const all = [...tries.values()].filter((times) => times === told.length).length;
  return all === tries.size
    ? `The same ${count(all, 'host')} try all of them.`
    : `${count(tries.size, 'host')} try one or more of them, ${all} try all.`;
}

/** What is to be seen before it is decided, the gravest first. */
export function watchWords(worded: Worded[], asked: SeveralAsked, now: Date): string[] {
  const lines: string[] = [];
  const tell = (hosts: number, words: string) => hosts > 0 && lines.push(`${count(hosts, 'host')} ${words}`);
  const late = worded.map((one) => one.tooLate);
  tell(
    sum(worded, (one) => one.tooLate.count),
    `too late to stop${namesOf(late)}`,
  );
  for (const [still, hosts] of inWords(
    worded.flatMap((one) => one.consequence.claimed),
    now,
  )) {
    tell(hosts, `not reached: still ${still}`);
  }
  const replaced = worded.flatMap((one) => one.consequence.before).filter(({ match }) => match.clause === 'VERDICT');
  for (const [until, hosts] of inWords(replaced, now)) {
    tell(hosts, `now ${until}: this takes its place`);
  }
  tell(
    sum(worded, (one) => one.broughtForward.reduce((all, group) => all + group.hosts.count, 0)),
    'offered earlier than the rule would',
  );
  tell(
    sum(worded, (one) => one.forecast?.inBusyHours.count ?? 0),
    'disturbed in busy hours',
  );
  tell(
    sum(worded, (one) => one.forecast?.late.count ?? 0),
    'late',
  );
  for (const { why, hosts } of worded.flatMap((one) => one.prevented)) {
    tell(hosts.count, `would wait now: ${PREVENTED[why]}`);
  }
  tell(
    sum(worded, (one) => one.notOnSources.count),
    'whose sources do not have it yet',
  );
  tell(
    sum(worded, (one) => one.consequence.otherSupply.count),
    'taking updates from elsewhere',
  );
  const open = [...new Set(worded.flatMap((one) => one.leftOpen?.vulnerabilities ?? []).map((one) => one.id))];
  if (open.length > 0) {
    const days = Math.round(sum(worded, (one) => one.leftOpen?.hostDays ?? 0));
    lines.push(
      `leaves open ${open.slice(0, 2).join(', ')}${open.length > 2 ? ` and ${open.length - 2} more` : ''}: ${count(days, 'host-day')}`,
    );
  }
  const overtaken = worded.find((one) => one.overtaken !== undefined)?.overtaken;
  if (overtaken !== undefined) {
    lines.push(`the next is to be expected about ${day(overtaken, now)}, before this ends`);
  }
  const carrying = sum(worded, (one) => one.consequence.carrying.count);
  if (asked.type === 'BLOCK' || asked.type === 'PILOT') {
    tell(carrying, carrying === 1 ? 'carries it already' : 'carry it already');
  }
  return lines;
}

/** How many hosts are under the same words: of several populations they are told once. */
function inWords(groups: Schemas['RulingGroupView'][], now: Date): Map<string, number> {
  const hosts = new Map<string, number>();
  for (const group of groups) {
    const words = ruleMatchWords(group.match, now);
    hosts.set(words, (hosts.get(words) ?? 0) + group.hosts.count);
  }
  return hosts;
}

const namesOf = (lists: Schemas['HostList'][]) => {
  const all = { count: lists.reduce((total, list) => total + list.count, 0), names: lists.flatMap((list) => list.names) };
  return all.names.length === 0 ? '' : ` (${names(all, 2)})`;
};

/** Why a case cannot be decided together with others; nothing: it can. */
export function hindrance(strip: Strip, asked: SeveralAsked, told: OnCase | undefined): string | undefined {
  if (populationsOn(strip, asked).length === 0) {
    return strip.lacking === 0 ? 'no host lacks it' : 'no host of these populations lacks it';
  }
  if (told === undefined) {
    return undefined;
  }
  if (told.refused !== undefined) {
    return told.refused.reason;
  }
  const grounds = told.worded.flatMap((one) => one.grounds);
  if (grounds.length > 0) {
    const each = grounds.filter((ground, at) => grounds.findIndex((one) => one.type === ground.type && one.tier === ground.tier) === at);
    return `needs an approver, because ${groundWords(each)}`;
  }
  return decidedHosts(told.worded) === 0 ? 'nothing would change: something else is in force on each of its hosts' : undefined;
}

/** "Block 5 updates", "Let 3 updates go". */
export function severalWords(asked: SeveralAsked, cases: number, now: Date): string {
  const updates = count(cases, 'update');
  const letGo = isLetGo({ type: asked.type, until: asked.until } as Schemas['AnswerDraft'], now);
  return letGo ? `Let ${updates} go` : `${{ BLOCK: 'Block', DEFER: 'Defer', PILOT: 'Pilot', FORCE: 'Force' }[asked.type]} ${updates}`;
}
