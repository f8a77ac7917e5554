import type { Schemas } from '../api/client';
import { count, day, dayTime, isoDay, lastDay, soon, span } from './dates';

/** The marks of what can hold for a host. */
export type MarkName = 'BLOCK' | 'DEFER' | 'PILOT' | 'FORCE' | 'RULE' | 'RULE_WAITS' | 'EXCEPTION' | 'FREEZE';

type RuleMatch = Schemas['RuleMatchView'];
type Strip = Schemas['Strip'];

/** "Critical 9.8", "unrated". */
/** The worst first. */
export const RATINGS = ['CRITICAL', 'HIGH', 'MEDIUM', 'LOW', 'NONE', 'UNRATED'] as const;

export function ratingWords(rating: Strip['rating'], baseScore?: number): string {
  const word = rating === 'UNRATED' ? 'unrated' : rating.charAt(0) + rating.slice(1).toLowerCase();
  return baseScore === undefined ? word : `${word} ${baseScore.toFixed(1)}`;
}

export function restartWords(need: Schemas['FixView']['restart']): string {
  return need === 'UNKNOWN' ? 'restart unknown' : need === 'NONE' ? 'no restart' : `${need.toLowerCase()} restart`;
}

export const kindWord = (kind: Strip['kind']) => kind.toLowerCase();

const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten', 'Eleven', 'Twelve'];

/** "Eleven cases need your judgement"; whoever decides nothing reads that they need judgement. */
export function docketTitle(cases: number, judges = true, filtered = false): string {
  const number = NUMBERS[cases] ?? cases.toLocaleString('en-GB');
  const whose = judges ? 'your judgement' : 'judgement';
  return `${cases === 1 ? 'One' : number}${filtered ? ' of the' : ''} ${cases === 1 && !filtered ? 'case needs' : `cases need${cases === 1 ? 's' : ''}`} ${whose}`;
}

/** True for a case that stands on the docket: a cue is unanswered, and no successor brings it anyway. */
export function needsJudgement(strip: Strip): boolean {
  return strip.cues.length > 0 && !strip.noise && strip.foldedUnder === undefined;
}

export type Cue = Strip['cues'][number];

/** A cue as a sentence. */
export function cueWords(cue: Cue, now: Date, lacking = cue.hosts): string {
  const hosts = count(cue.hosts, 'host');
  const when = cue.when === undefined ? '' : lastDay(cue.when, now);
  if (cue.of !== undefined) {
    return `${cue.of}, which it contains: ${cueWords({ ...cue, of: undefined }, now, cue.hosts)}`;
  }
  switch (cue.type) {
    case 'KNOWN_EXPLOITED':
      return `${cue.about} is known to be exploited since ${cue.when === undefined ? 'lately' : since(cue.when, now)}; ${count(lacking, 'host')} ${lacking === 1 ? 'lacks' : 'lack'} the fix.`;
    case 'FAILURES_ABOVE_USUAL':
      return `${hosts} failed, most with ${cue.about}: more often than usual since ${since(cue.raised, now)}.`;
    case 'SILENT_AFTER_INSTALL':
      return `${hosts} fell silent after ${cue.hosts === 1 ? 'it' : 'they'} installed it, more often than hosts that did not.`;
    case 'ISSUE_OPENED':
      return `Known issue ${cue.about} told ${since(cue.raised, now)}${cue.hosts === 0 ? '' : `; it touches ${hosts} here`}.`;
    case 'ISSUE_FIXED':
      return `Known issue ${cue.about} is told to be fixed or worked around since ${since(cue.raised, now)}.`;
    case 'OBJECTED':
      return `Whoever answers for an exception objects to what goes over it since ${since(cue.raised, now)}, for ${hosts}: ${brief(cue.about)}`;
    case 'LOOK_AGAIN':
      return `To be looked at again since ${since(cue.raised, now)}: ${brief(cue.about)}`;
    case 'PROBABILITY_CROSSED':
      return `The exploit probability of ${cue.about} changed ${since(cue.raised, now)}, and with it what the numbers speak for.`;
    case 'SUPERSEDES_BLOCKED':
      return `Contains ${cue.about}, which is withheld from ${hosts}. Carry that over, lift it, or judge anew.`;
    case 'BLOCKED_BUT_INSTALLED':
      return `${hosts} ${cue.hosts === 1 ? 'carries' : 'carry'} it although block no. ${cue.about} covers ${cue.hosts === 1 ? 'it' : 'them'}.`;
    case 'DUE_AT_RISK':
      return `Forced until ${when}, and ${hosts} still ${cue.hosts === 1 ? 'lacks' : 'lack'} it.`;
    case 'OVERDUE':
      return `Overdue: forced until ${when}, and ${hosts} still ${cue.hosts === 1 ? 'lacks' : 'lack'} it.`;
    case 'PILOT_MET':
      return `The gate of its pilot is met: ${hosts} still ${cue.hosts === 1 ? 'waits' : 'wait'}, until ${when} at most.`;
    case 'PILOT_FAILED':
      return `Its pilot failed ${since(cue.raised, now)}: it is withheld from ${hosts} until ${when}.`;
    case 'PILOT_EXHAUSTED':
      return `All hosts of its pilot have answered, which is not enough either way; ${hosts} ${cue.hosts === 1 ? 'waits' : 'wait'} until ${when}.`;
    case 'PILOT_ENDED':
      return `The answer day of its pilot went by ${when}; ${hosts} that ${cue.hosts === 1 ? 'lacks' : 'lack'} it follow what is in force now.`;
    case 'PILOT_ENDS':
      return `Its pilot is to answer by ${when}; ${hosts} ${cue.hosts === 1 ? 'waits' : 'wait'} for it.`;
    case 'BLOCK_ENDED':
      return `Its block no. ${cue.about} ended ${when}; ${hosts} that ${cue.hosts === 1 ? 'lacks' : 'lack'} it follow what is in force now.`;
    case 'DEFERRAL_ENDED':
      return `Its deferral no. ${cue.about} ended ${when}: ${hosts} ${cue.hosts === 1 ? 'is' : 'are'} offered it since.`;
    case 'EXCEPTION_ENDED':
      return `Exception no. ${cue.about} ended ${when}; ${hosts} that ${cue.hosts === 1 ? 'lacks' : 'lack'} it follow what is in force now.`;
    case 'NEEDS_VERDICT':
      return `Needs a verdict: the rule never offers it to ${hosts} that ${cue.hosts === 1 ? 'lacks' : 'lack'} it.`;
    case 'BLOCK_ENDS':
      return `Its block ends ${when}; ${hosts} would be offered it then.`;
    case 'DEFERRAL_ENDS':
      return `Its deferral ends ${when}; ${hosts} will be offered it then.`;
    case 'EXCEPTION_ENDS':
      return `Exception no. ${cue.about} ends ${when}; it holds for ${hosts} that ${cue.hosts === 1 ? 'lacks' : 'lack'} it.`;
    case 'POPULATION_CHANGED':
      return `${hosts} came to or left the hosts of verdict no. ${cue.about} since it was handed down.`;
    case 'AFFECTED_NOW':
      return `It does matter now on ${hosts} on which note no. ${cue.about} told that it did not.`;
    case 'OFFERED_SOON':
      return `The standing rule offers it to ${cue.about} ${cue.when === undefined ? 'soon' : soon(cue.when, now)}, and nobody has judged it.`;
    case 'REVISED_FIXES':
      return `Revised ${dayTime(cue.raised, now)}, after it was answered: other versions are fixed now.`;
    case 'REVISED_TEXT':
      return `Revised ${dayTime(cue.raised, now)}, after it was answered: only words changed, the fixes are the same.`;
    case 'PRODUCTS_NOT_READ':
      return `${cue.about === '1' ? 'One product' : `${Number(cue.about).toLocaleString('en-GB')} products`} of it could not be read: nobody knows whether hosts here are affected.`;
    case 'WITHDRAWN':
      return `Withdrawn by its vendor, read ${dayTime(cue.raised, now)}. No rule offers it any longer.`;
    default:
      return `New: first read ${dayTime(cue.raised, now)}, ${span(cue.raised, now)} ago, and not judged since.`;
  }
}

/** As much of what somebody wrote as a cue has room for. */
function brief(words: string): string {
  const line = words.replace(/\s+/g, ' ').trim();
  return line.length <= 90 ? `${line.replace(/[.!?]$/, '')}.` : `${line.slice(0, 90).trimEnd()} …`;
}

/** "today", "yesterday", "Mon 14 Dec". */
export function since(instant: string, now: Date): string {
  const at = isoDay(new Date(instant), 0);
  return at === isoDay(now, 0) ? 'today' : at === isoDay(now, -1) ? 'yesterday' : day(instant, now);
}

/** Why a case is on the docket, as short sentences, the most urgent first. */
export function whySentences(strip: Strip, now: Date): string[] {
  const sentences: string[] = [];
  const cue = strip.cues.find((c) => c.type === 'NEW');
  const offered = strip.cues.find((c) => c.type === 'OFFERED_SOON');
  if (strip.groupedWith !== undefined) {
    sentences.push(`Closes the same vulnerability as ${strip.groupedWith}.`);
  }
  const open = openWords(strip.open, strip.lacking);
  if (open !== '') {
    sentences.push(open);
  }
  for (const other of strip.cues.filter((c) => c !== cue && c !== offered)) {
    sentences.push(cueWords(other, now, strip.lacking));
  }
  if (offered) {
    sentences.push(cueWords(offered, now));
  } else if (strip.nextOffer) {
    sentences.push(`The standing rule offers it to ${strip.nextOffer.population}: ${soon(strip.nextOffer.at, now)}.`);
  } else if (cue && strip.lacking > 0 && !strip.withdrawn && strip.cues.every((one) => one.type !== 'NEEDS_VERDICT')) {
    sentences.push('Nothing will change this without a verdict.');
  }
  if (cue) {
    const waited = `${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'has' : 'have'} waited ${span(cue.raised, now)}`;
    const facing =
      strip.facingPublic === 0 ? '' : `, ${strip.facingPublic} of them ${strip.facingPublic === 1 ? 'faces' : 'face'} the public`;
    const apart = strip.lacking - strip.marks.reduce((sum, mark) => sum + mark.lacking, 0);
    const none = strip.marks.length === 0 || apart <= 0 ? '' : `, ${apart} in no population`;
    sentences.push(`New since ${day(cue.raised, now)}: ${waited}${facing}${none}.`);
  }
  if (strip.contains.length > 0) {
    sentences.push(
      `Contains ${strip.contains.length} earlier: ${strip.contains.slice(0, 3).join(', ')}${strip.contains.length > 3 ? ' …' : ''}.`,
    );
  }
  return sentences;
}

/** Why a case is on the docket, all of it. */
export const whyNow = (strip: Strip, now: Date) => whySentences(strip, now).join(' ');

/** As many whole sentences as there is room for, and how many more there are; at least the first. */
export function whyBrief(strip: Strip, now: Date, room: number): string {
  const sentences = whySentences(strip, now);
  const more = (left: number) => (left === 0 ? '' : ` And ${left} more.`);
  let shown = 1;
  while (shown < sentences.length) {
    const longer = sentences.slice(0, shown + 1).join(' ') + more(sentences.length - shown - 1);
    if (longer.length > room) {
      break;
    }
    shown++;
  }
  return sentences.slice(0, shown).join(' ') + more(sentences.length - shown);
}

/** "Still open: Booking databases, 7 hosts": where some of the hosts that lack it are answered for, and others not. */
export function openWords(open: Strip['open'], lacking: number): string {
  const hosts = open.reduce((sum, part) => sum + part.hosts, 0);
  return hosts === 0 || hosts >= lacking
    ? ''
    : `Still open: ${open.map((part) => `${part.name}, ${count(part.hosts, 'host')}`).join('; ')}.`;
}

/** "Blocked for Ticket kiosks until Sat 12 Dec by M. Aldane." */
export function decidedWords(decided: Strip['decided'][number], now: Date): string {
  const populations = decided.populations.length === 0 ? '' : ` for ${decided.populations.join(', ')}`;
  const where = decided.where === undefined ? '' : ` where ${decided.where}`;
  const end = decided.end === undefined ? '' : lastDay(decided.end, now);
  const past = decided.end !== undefined && new Date(decided.end) <= now;
  switch (decided.type) {
    case 'BLOCK':
      return `Blocked${populations}${where} until ${end} by ${decided.author}.`;
    case 'DEFER':
      return past
        ? `Let go${populations}${where} by ${decided.author}.`
        : `Deferred${populations}${where} until ${end} by ${decided.author}.`;
    case 'PILOT':
      return `Piloted${populations}${where}, to answer by ${end}, by ${decided.author}.`;
    case 'FORCE':
      return `Forced${populations}${where}, due ${end}, by ${decided.author}.`;
    default:
      return `Left to the rule${populations} by ${decided.author}${end === '' ? '' : `, looked at again ${end}`}.`;
  }
}

/** True for a case that nothing speaks for or against: only new, or about to be offered, and best left to the rule. */
export function isRoutine(strip: Strip): boolean {
  return needsJudgement(strip) && strip.routine;
}

/** What holds, in words: "withheld until Mon 14 Dec by the block". */
export function ruleMatchWords(match: RuleMatch, now: Date, zone = 'Z'): string {
  const { effect, end, clause } = match;
  if (clause === 'CARRIED_OR_NOT_APPLICABLE') {
    return 'nothing to do';
  }
  if (clause === 'STANDING_RULE') {
    if (effect === 'OFFERED') {
      return match.due === undefined
        ? 'offered by the standing rule'
        : new Date(match.due) <= now
          ? `rule: overdue since ${lastDay(match.due, now, zone)}`
          : `offered by the rule, due ${lastDay(match.due, now, zone)}`;
    }
    return end ? `withheld by the standing rule until ${soon(end, now, zone)}` : 'withheld: no offer without a verdict';
  }
  if (clause === 'CANNOT_TAKE') {
    return 'withheld: it lacks what this requires';
  }
  if (clause === 'FIRST_DAY') {
    return `withheld until ${end ? dayTime(end, now, zone) : 'its end'}: it is new, and this is an upgrade`;
  }
  if (clause === 'TARGET_RELEASE') {
    return 'withheld: it stays at its release, and this is above it';
  }
  if (clause === 'CAUTION') {
    return `withheld until ${end ? lastDay(end, now, zone) : 'its end'}: only what is judged is offered`;
  }
  if (clause === 'FREEZE') {
    return `frozen until ${end ? dayTime(end, now, zone) : 'its end'}`;
  }
  if (clause === 'SUPERSEDES_BLOCKED' || clause === 'CONTAINS_EXCEPTED') {
    return `withheld as what it contains, until judged, at most until ${end ? lastDay(end, now, zone) : 'that ends'}`;
  }
  if (clause === 'EXCEPTION') {
    const what = effect === 'OFFERED' ? 'offered' : effect === 'BY_OPERATOR' ? 'by operator' : 'withheld';
    return `${what} by exception until ${end ? lastDay(end, now, zone) : 'its end'}`;
  }
  switch (match.verdict) {
    case 'BLOCK':
      return `${effect === 'REMOVE' ? 'to be removed: ' : ''}blocked until ${end ? lastDay(end, now, zone) : 'its end'}`;
    case 'PILOT':
      return effect === 'OFFERED'
        ? 'offered: it tries it first, in the pilot'
        : `withheld by the pilot until ${end ? lastDay(end, now, zone) : 'it answers'}`;
    case 'FORCE':
      return forcedWords(match, now, zone);
    default:
      return effect === 'WITHHELD'
        ? `deferred until ${end ? lastDay(end, now, zone) : 'its end'}`
        : `let go: ${effect === 'BY_OPERATOR' ? 'by operator' : 'offered'} since its deferral ended${dueByRule(match, now, zone)}`;
  }
}

/** What is let go falls due as the rule says. */
function dueByRule({ due }: RuleMatch, now: Date, zone: string): string {
  if (due === undefined) {
    return '';
  }
  return `, ${new Date(due) <= now ? 'overdue by the rule since' : 'by the rule due'} ${lastDay(due, now, zone)}`;
}

/** A force that is spread begins for some hosts later; one that an operator begins is asked for, not due. */
function forcedWords({ effect, due, end, clause }: RuleMatch, now: Date, zone: string): string {
  const day = due ? lastDay(due, now, zone) : 'at once';
  const over = clause === 'OVERRIDING_FORCE' ? ', over what else would hold' : '';
  if (effect === 'WITHHELD') {
    return `forced in a later part: withheld until ${end ? lastDay(end, now, zone) : 'judged'}, due ${day}`;
  }
  const past = due !== undefined && new Date(due) <= now;
  return effect === 'BY_OPERATOR'
    ? `by operator, ${past ? 'asked for by' : 'asked for until'} ${day}${past ? ', which is past' : ''}${over}`
    : `forced, ${past ? 'overdue since' : 'due'} ${day}${over}`;
}

/** The mark of what holds. */
export function markOf(match: RuleMatch): MarkName {
  if (match.clause === 'EXCEPTION' || match.clause === 'FREEZE') {
    return match.clause;
  }
  if (match.clause === 'SUPERSEDES_BLOCKED' || match.clause === 'CONTAINS_EXCEPTED') {
    return match.clause === 'SUPERSEDES_BLOCKED' ? 'BLOCK' : 'EXCEPTION';
  }
  return match.verdict ?? (match.effect === 'OFFERED' ? 'RULE' : 'RULE_WAITS');
}

const CLAUSES: Record<RuleMatch['clause'], string> = {
  CARRIED_OR_NOT_APPLICABLE: 'State on the host',
  CANNOT_TAKE: 'What the update requires',
  FIRST_DAY: 'First day of the host',
  OVERRIDING_FORCE: 'Force that names what it overrides',
  EXCEPTION: 'Exception',
  FREEZE: 'Freeze',
  VERDICT: 'Verdict',
  SUPERSEDES_BLOCKED: 'Contains an update that a verdict withholds',
  CONTAINS_EXCEPTED: 'Contains an update that an exception withholds',
  TARGET_RELEASE: 'Release that the population stays at',
  CAUTION: 'Caution of the fleet',
  STANDING_RULE: 'Standing rule',
};

/** A link of the chain: which clause, and what it says. */
export function chainWords(match: RuleMatch, now: Date, zone = 'Z'): string {
  const number = match.source === undefined ? '' : ` no. ${match.source}`;
  return `${CLAUSES[match.clause]}${number}: ${ruleMatchWords(match, now, zone)}`;
}

const REASONS: Record<string, string> = {
  EXPLOITED: 'exploited',
  EXPOSED: 'exposed',
  ROUTINE: 'routine',
  COMPATIBILITY: 'compatibility',
  NO_DOWNTIME: 'no downtime',
  UNTESTED: 'untested',
  KNOWN_ISSUE: 'known issue',
  FAILURES_SEEN: 'failures seen',
  NOT_AFFECTED_HERE: 'not affected here',
};

export type ReasonWord = Schemas['VerdictDraft']['reasons'][number];

export const REASON_WORDS = Object.entries(REASONS).map(([value, label]) => ({ value: value as ReasonWord, label }));

export function reasonWords(reasons: string[], words: string): string {
  const listed = reasons.map((reason) => REASONS[reason] ?? reason).join(', ');
  return [listed, words].filter((part) => part !== '').join('; ');
}

/** Names in a line: the first few, and how many more. */
export function names(hosts: Schemas['HostList'], most = 3): string {
  const shown = hosts.names.slice(0, most).join(', ');
  return hosts.count > most ? `${shown} and ${hosts.count - most} more` : shown;
}

export function bytes(size: number): string {
  const units = ['bytes', 'kB', 'MB', 'GB'];
  let unit = 0;
  let value = size;
  while (value >= 1000 && unit < units.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${value >= 100 || unit === 0 ? Math.round(value) : value.toFixed(1)} ${units[unit]}`;
}
