import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useConsequences, type VerdictDraft } from '../api/queries';
import type { Changes } from '../frame/useAddress';
import { count, isoDay } from '../words/dates';
import type { ReasonWord } from '../words/sentences';
import { useDecisionDraft } from './useDecisionDraft';

export type VerdictType = VerdictDraft['type'];

type Page = Schemas['CaseView'];

export const DEFAULTS: Record<VerdictType, { word: string; days: number; reason: ReasonWord; dayWord: string }> = {
  BLOCK: { word: 'Block', days: 14, reason: 'UNTESTED', dayWord: 'until' },
  DEFER: { word: 'Defer', days: 7, reason: 'UNTESTED', dayWord: 'until' },
  PILOT: { word: 'Pilot', days: 10, reason: 'UNTESTED', dayWord: 'answer by' },
  FORCE: { word: 'Force', days: 3, reason: 'EXPOSED', dayWord: 'due' },
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

/** A verdict while it is worded: what stands in the address, what it would do, and what it would have to override. */
export function useVerdictDraft({ page, search, set, stop, now }: Worded, type: VerdictType, populations: string[]) {
  const { update } = page;
  const [armed, setArmed] = useState(false);
  const until = search.get('until') ?? (type === 'DEFER' ? deferredUntil(page, populations, now) : isoDay(now, DEFAULTS[type].days));
  const over = search.get('over')?.split(',').filter(Boolean) ?? [];
  const numbersOver = (kind: 'v' | 'e' | 'f') => over.filter((part) => part.startsWith(kind)).map((part) => Number(part.slice(1)));
  const question: VerdictDraft = {
    update: update.id,
    revision: update.revision,
    type,
    populations,
    where: search.get('where') ?? '',
    until,
    reasons: [],
    words: '',
    overrides: numbersOver('v'),
    overriddenExceptions: numbersOver('e'),
    overriddenFreezes: numbersOver('f'),
    pilot: type === 'PILOT' ? pilotOf(search) : undefined,
  };
  const letGo = type === 'DEFER' && until === isoDay(now, 0);
  const wanting = page.populations.filter((row) => row.lacking > 0);
  const everywhere = wanting.length > 1 && wanting.every((row) => populations.includes(row.id));
  const releasesUpgrade = update.kind === 'UPGRADE' && type !== 'BLOCK';

  const asked = useConsequences(question, page.version);
  const draft: VerdictDraft = {
    ...question,
    reasons: (search.get('because')?.split(',').filter(Boolean) ?? [DEFAULTS[type].reason]) as ReasonWord[],
    words: search.get('words') ?? '',
    // Those start it who were seen, whoever has reported meanwhile.
    pilot: question.pilot && { ...question.pilot, hosts: asked.data?.[0]?.pilot?.sample.map((host) => host.name) },
  };
  // Without what it overrides: which blocks and exceptions keep hosts from what is worded. An offer goes over them only if it names them.
  const claims = claimsOf(
    useConsequences({ ...question, overrides: [], overriddenExceptions: [], overriddenFreezes: [] }, page.version).data,
  );
  const contained = (claim: Claim) => claim.match.clause === 'SUPERSEDES_BLOCKED';
  const blocks = claims.filter((claim) => claim.match.verdict === 'BLOCK' || contained(claim)).map((claim) => claim.match.source ?? 0);
  const exceptions = claims
    .filter((claim) => (type === 'FORCE' && claim.match.clause === 'EXCEPTION') || claim.match.clause === 'CONTAINS_EXCEPTED')
    .map((claim) => claim.match.source ?? 0);
  const freezes =
    type === 'FORCE' ? [...new Set(claims.filter((claim) => claim.match.clause === 'FREEZE').map((claim) => claim.match.source ?? 0))] : [];

  const effect = (worded: Schemas['WordedView'][] | undefined) => {
    const late = (worded ?? []).reduce((sum, one) => sum + one.tooLate.count, 0);
    const hosts = type === 'PILOT' ? (worded?.[0]?.pilot?.sample.length ?? 0) : hostsOf(worded);
    return `${effectWords(type, letGo, hosts)}${late === 0 ? '' : `, ${late} too late`}`;
  };
  const decision = useDecisionDraft({
    version: page.version,
    draft,
    question,
    usePreview: useConsequences,
    // Where something else holds for every host, handing this down would change nothing.
    complete: (worded) => populations.length > 0 && !(hostsOf(worded) === 0 && claimsOf(worded).length > 0),
    confirm: () => {
      setArmed(true);
      return armed || !(everywhere || releasesUpgrade);
    },
    send: (verdict, seen) => body(api.POST('/api/verdicts', { body: verdict, params: { header: seen } })),
    said: (made, worded) =>
      `${
        type === 'PILOT'
          ? effect(worded)
          : effectWords(
              type,
              letGo,
              made.verdicts.reduce((sum, one) => sum + one.hosts, 0),
            )
      }.`,
    close: stop,
  });
  return {
    ...decision,
    draft,
    letGo,
    wanting,
    everywhere,
    /** It waits for the second press. */
    armed: armed && (everywhere || releasesUpgrade),
    /** What the button says: the effect. */
    effect: effect(decision.consequence),
    overriding: over.length > 0,
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

/** The pilot as the address says it; what is left out is what is usual. A number that is none is passed on, to be refused by name. */
export function pilotOf(search: URLSearchParams): Schemas['PilotDraft'] {
  const number = (name: string) => (search.has(name) ? Number(search.get(name)) : undefined);
  const limit = number('limit');
  const several = (name: string) => search.get(name)?.split(',').filter(Boolean) ?? [];
  return {
    size: number('size'),
    soakDays: number('soak'),
    limit: limit === undefined ? undefined : limit / 100,
    alsoTier1: search.get('tier1') === 'yes',
    departments: several('signed'),
    without: several('not'),
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
  return `${letGo ? 'Let it go' : DEFAULTS[type].word} on ${count(hosts, 'host')}`;
}
