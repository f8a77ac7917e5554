import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useConsequences, type VerdictDraft } from '../api/queries';
import type { Changes } from '../frame/useAddress';
import { isLetGo, SAID } from '../words/answers';
import { count, isoDay } from '../words/dates';
import type { ReasonWord } from '../words/sentences';
import { type Clause, clauseIn, movedIn, others, populationsOf, wordedIn } from './clauses';
import { useDecisionDraft } from './useDecisionDraft';

export type VerdictType = VerdictDraft['type'];

type Page = Schemas['CaseView'];
type AnswerDraft = Schemas['AnswerDraft'];

export const DEFAULTS: Record<VerdictType, { days: number; reason: ReasonWord }> = {
  BLOCK: { days: 14, reason: 'UNTESTED' },
  DEFER: { days: 7, reason: 'UNTESTED' },
  // Time for a host that never tries: a week until another takes its place, and the days for which that one is watched.
  PILOT: { days: 14, reason: 'UNTESTED' },
  FORCE: { days: 3, reason: 'EXPOSED' },
};

/** What an address says; anything else is none. */
export function verdictTypeOf(text: string | null): VerdictType | undefined {
  const type = text?.toUpperCase();
  return Object.hasOwn(DEFAULTS, type ?? '') ? (type as VerdictType) : undefined;
}

/** Where what is worded stands. */
export interface Worded {
  page: Page;
  search: URLSearchParams;
  set: (changes: Changes) => void;
  stop: () => void;
  now: Date;
}

/** An answer as the address says it; what is left out is what is usual. */
function answerOf(clause: Clause, type: VerdictType, page: Page, now: Date): AnswerDraft {
  const populations = populationsOf(clause);
  const over = clause.over?.split(',').filter(Boolean) ?? [];
  const numbersOver = (kind: 'v' | 'e' | 'f') => over.filter((part) => part.startsWith(kind)).map((part) => Number(part.slice(1)));
  return {
    type,
    populations,
    where: clause.where ?? '',
    until: clause.until ?? (type === 'DEFER' ? deferredUntil(page, populations, now) : isoDay(now, DEFAULTS[type].days)),
    overrides: numbersOver('v'),
    overriddenExceptions: numbersOver('e'),
    overriddenFreezes: numbersOver('f'),
    pilot: type === 'PILOT' ? pilotOf(clause) : undefined,
    allowanceDays: type === 'FORCE' && clause.away !== undefined ? Number(clause.away) : undefined,
    outsideWindows: type === 'FORCE' && clause.outside === 'yes' ? true : undefined,
    ...deliveryOf(clause, type),
  };
}

/** How it reaches its hosts, as the address says it. */
function deliveryOf(clause: Clause, type: VerdictType): Pick<AnswerDraft, 'spread' | 'byOperator' | 'removes'> {
  const offersToAll = type === 'DEFER' || type === 'FORCE';
  return {
    spread:
      offersToAll && clause.parts !== undefined
        ? { parts: Number(clause.parts), daysApart: Number(clause.apart ?? 1), moved: movedIn(clause) }
        : undefined,
    byOperator:
      offersToAll && clause.who === 'operator'
        ? {
            checklist: (clause.steps ?? '').split('\n'),
            order: (clause.order ?? '')
              .split(',')
              .map((name) => name.trim())
              .filter(Boolean),
          }
        : undefined,
    removes: type === 'BLOCK' && clause.remove === 'yes' ? true : undefined,
  };
}

/** The answers as one sentence, in the place of what the address says. */
function sentenceOf(
  page: Page,
  search: URLSearchParams,
  [first, ...also]: AnswerDraft[],
  reasons: ReasonWord[],
  words: string,
): VerdictDraft {
  const replaces = replacedIn(search);
  return { update: page.update.id, revision: page.update.revision, reasons, words, ...(first as AnswerDraft), replaces, also };
}

/** Numbers of the verdicts that what is worded takes the place of. */
export const replacedIn = (search: URLSearchParams): number[] => search.get('replaces')?.split(',').filter(Boolean).map(Number) ?? [];

/** A sentence while it is worded: what stands in the address, what it would do, and what it would have to override. */
export function useVerdictDraft({ page, search, set, stop, now }: Worded, type: VerdictType, populations: string[]) {
  const { update } = page;
  const [armed, setArmed] = useState(false);
  const before = wordedIn(search);
  const clauses = [...before, { ...clauseIn(search), for: populations.join(',') }];
  const answers = clauses.map((clause, place) =>
    answerOf(clause, place === before.length ? type : (verdictTypeOf(clause.verdict ?? null) ?? 'BLOCK'), page, now),
  );
  const current = answers[before.length] as AnswerDraft;
  const question = sentenceOf(page, search, answers, [], '');
  const letGo = isLetGo(current, now);
  const wanting = page.populations.filter((row) => row.lacking > 0);
  const everywhere = wanting.length > 1 && answers.some((answer) => wanting.every((row) => answer.populations.includes(row.id)));
  const releasesUpgrade = update.kind === 'UPGRADE' && answers.some((answer) => answer.type !== 'BLOCK');

  const asked = useConsequences(question, page.version);
  const sampleOf = (place: number) => asked.data?.find((one) => one.answer === place)?.pilot?.sample;
  const draft = sentenceOf(
    page,
    search,
    // Those start a pilot who were seen, whoever has reported meanwhile.
    answers.map((answer, place) => ({
      ...answer,
      pilot: answer.pilot && { ...answer.pilot, hosts: sampleOf(place)?.map((host) => host.name) },
    })),
    (search.get('because')?.split(',').filter(Boolean) ?? [DEFAULTS[answers[0]?.type ?? type].reason]) as ReasonWord[],
    search.get('words') ?? '',
  );
  // Without what it overrides: which blocks and exceptions keep hosts from what is worded. An offer goes over them only if it names them.
  const bare = { ...current, overrides: [], overriddenExceptions: [], overriddenFreezes: [] };
  const claims = claimsOf(
    useConsequences(sentenceOf(page, search, [...answers.slice(0, -1), bare], [], ''), page.version).data?.filter(
      (one) => one.answer === before.length,
    ),
  );
  const contained = (claim: Claim) => claim.match.clause === 'SUPERSEDES_BLOCKED';
  const blocks = claims.filter((claim) => claim.match.verdict === 'BLOCK' || contained(claim)).map((claim) => claim.match.source ?? 0);
  const exceptions = claims
    .filter((claim) => (type === 'FORCE' && claim.match.clause === 'EXCEPTION') || claim.match.clause === 'CONTAINS_EXCEPTED')
    .map((claim) => claim.match.source ?? 0);
  const freezes =
    type === 'FORCE' ? [...new Set(claims.filter((claim) => claim.match.clause === 'FREEZE').map((claim) => claim.match.source ?? 0))] : [];

  const effectOf = (answer: AnswerDraft, worded: Schemas['WordedView'][] | undefined) => {
    const hosts = answer.type === 'PILOT' ? (worded?.[0]?.pilot?.sample.length ?? 0) : hostsOf(worded);
    return effectWords(answer.type, isLetGo(answer, now), hosts);
  };
  const of = (worded: Schemas['WordedView'][] | undefined, place: number) => worded?.filter((one) => one.answer === place);
  const effect = (worded: Schemas['WordedView'][] | undefined) => {
    const late = (worded ?? []).reduce((sum, one) => sum + one.tooLate.count, 0);
    const words = answers.map((answer, place) => effectOf(answer, of(worded, place)));
    const sentence = words.map((one, place) => (place === 0 ? one : `${one.charAt(0).toLowerCase()}${one.slice(1)}`)).join(', ');
    return `${sentence}${late === 0 ? '' : `, ${late} too late`}`;
  };
  const groundsOf = (worded: Schemas['WordedView'][] | undefined) =>
    (worded ?? [])
      .flatMap((one) => one.grounds)
      .filter((ground, place, all) => all.findIndex((one) => one.type === ground.type && one.tier === ground.tier) === place);
  const decision = useDecisionDraft<VerdictDraft, Schemas['WordedView'][], Handed>({
    version: page.version,
    draft,
    question,
    usePreview: useConsequences,
    // Where something else holds for every host, handing this down would change nothing.
    complete: (worded) =>
      answers.every((answer, place) => {
        const own = of(worded, place);
        return answer.populations.length > 0 && !(hostsOf(own) === 0 && claimsOf(own).length > 0);
      }),
    confirm: () => {
      setArmed(true);
      return armed || !(everywhere || releasesUpgrade);
    },
    send: (verdict, seen) =>
      groundsOf(asked.data).length > 0
        ? body(api.POST('/api/proposals', { body: verdict, params: { header: seen } }))
        : body(api.POST('/api/verdicts', { body: verdict, params: { header: seen } })),
    said: (made, worded) =>
      'verdicts' in made
        ? `${
            answers.length > 1 || type === 'PILOT'
              ? effect(worded)
              : effectWords(
                  type,
                  letGo,
                  made.verdicts.reduce((sum, one) => sum + one.hosts, 0),
                )
          }.`
        : `Proposed: ${effect(worded).toLowerCase()}. It holds nothing until an approver says so.`,
    close: stop,
  });
  const grounds = groundsOf(decision.consequence);
  return {
    ...decision,
    draft,
    /** The answer that is being worded. */
    current,
    /** Its own consequence. */
    own: of(decision.consequence, before.length),
    /** The answers that are worded already, with the effect of each. */
    before: before.map((clause, place) => ({
      clause,
      answer: answers[place] as AnswerDraft,
      effect: effectOf(answers[place] as AnswerDraft, of(decision.consequence, place)),
    })),
    /** Populations without an answer yet. */
    left: others(page, clauses),
    letGo,
    wanting,
    everywhere,
    /** Why it needs an approver; none: it does not. */
    grounds,
    /** It waits for the second press. */
    armed: armed && (everywhere || releasesUpgrade),
    /** What the button says: the effect. */
    effect: grounds.length > 0 ? `Propose: ${effect(decision.consequence).toLowerCase()}` : effect(decision.consequence),
    overriding: current.overrides.length + current.overriddenExceptions.length + current.overriddenFreezes.length > 0,
    /** What it could knowingly override, in words; none: nothing. */
    overridable:
      type === 'BLOCK' || blocks.length + exceptions.length + freezes.length === 0
        ? undefined
        : [
            blocks.length > 0 && count(blocks.length, claims.some(contained) ? 'withholding verdict' : 'block'),
            exceptions.length > 0 && count(exceptions.length, 'exception'),
            freezes.length > 0 && count(freezes.length, 'freeze'),
          ]
            .filter(Boolean)
            .join(' and '),
    override: (yes: boolean) =>
      set({
        over: yes
          ? [
              ...blocks.map((number) => `v${number}`),
              ...exceptions.map((number) => `e${number}`),
              ...freezes.map((number) => `f${number}`),
            ].join(',')
          : undefined,
      }),
  };
}

/** What became of a sentence: it was handed down, or it waits for an approver. */
type Handed = Schemas['Committed'] | Schemas['Proposed'];

/** The pilot as the address says it; what is left out is what is usual. A number that is none is passed on, to be refused by name. */
function pilotOf(clause: Clause): Schemas['PilotDraft'] {
  const number = (text: string | undefined) => (text === undefined ? undefined : Number(text));
  const limit = number(clause.limit);
  const several = (text: string | undefined) => text?.split(',').filter(Boolean) ?? [];
  return {
    size: number(clause.size),
    soakDays: number(clause.soak),
    limit: limit === undefined ? undefined : limit / 100,
    alsoTier1: clause.tier1 === 'yes',
    departments: several(clause.signed),
    without: several(clause.not),
    onceMet: clause.met === 'LET_GO' || clause.met === 'FORCE' ? clause.met : undefined,
    onceMetDays: number(clause.within),
  };
}

type Claim = Schemas['ConsequenceView']['claimed'][number];

const claimsOf = (worded: Schemas['WordedView'][] | undefined): Claim[] => (worded ?? []).flatMap((one) => one.consequence.claimed);

const hostsOf = (worded: Schemas['WordedView'][] | undefined) =>
  (worded ?? []).reduce((sum, one) => sum + one.consequence.decided.count, 0);

/** A week from now, or the last day on which the rule withholds it, where that is later: a deferral brings no offer forward unless somebody says so. */
export function deferredUntil(page: Page, populations: string[], now: Date): string {
  const byRule = page.populations
    .filter((row) => populations.includes(row.id) && row.offeredByRule !== undefined)
    .map((row) => isoDay(new Date(new Date(row.offeredByRule ?? '').getTime() - 1), 0, row.timeZone));
  return [isoDay(now, DEFAULTS.DEFER.days), ...byRule].sort().at(-1) as string;
}

function effectWords(type: VerdictType, letGo: boolean, hosts: number): string {
  return `${letGo ? 'Let it go' : SAID[type].word} on ${count(hosts, 'host')}`;
}
