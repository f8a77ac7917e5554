import type { Schemas } from '../api/client';
import { day, isoDay } from './dates';

type AnswerDraft = Schemas['AnswerDraft'];

/** How an answer is said, and how its day. */
export const SAID: Record<AnswerDraft['type'], { word: string; dayWord: string }> = {
  BLOCK: { word: 'Block', dayWord: 'until' },
  DEFER: { word: 'Defer', dayWord: 'until' },
  PILOT: { word: 'Pilot', dayWord: 'answer by' },
  FORCE: { word: 'Force', dayWord: 'due' },
};

/** True for an offer that begins at once, on all hosts. */
export const isLetGo = (answer: AnswerDraft, now: Date) =>
  answer.type === 'DEFER' && answer.until === isoDay(now, 0) && (answer.spread === undefined || answer.spread.parts === 1);

/** "Block for Gate controllers where model = K2 until Mon 14 Dec". */
export function answerWords(answer: AnswerDraft, populations: string[], now: Date): string {
  const { word, dayWord } = SAID[answer.type];
  const where = (answer.where ?? '').trim() === '' ? '' : ` where ${answer.where}`;
  const until = isLetGo(answer, now)
    ? ''
    : ` ${dayWord} ${/^\d{4}-/.test(answer.until ?? '') ? day(`${answer.until}T00:00:00Z`, now) : answer.until}`;
  const then =
    answer.pilot?.onceMet === undefined
      ? ''
      : `, once it is met ${answer.pilot.onceMet === 'LET_GO' ? 'let it go' : `force it within ${answer.pilot.onceMetDays ?? 3} days`}`;
  const away = answer.allowanceDays
    ? `, hosts that were away ${answer.allowanceDays} ${answer.allowanceDays === 1 ? 'day' : 'days'} after they return`
    : '';
  return `${isLetGo(answer, now) ? 'Let it go now' : word} for ${populations.join(', ') || 'nobody'}${where}${until}${then}${away}${answer.outsideWindows ? ', also outside windows' : ''}${deliveryWords(
    {
      parts: answer.spread?.parts ?? 1,
      byOperator: answer.byOperator !== undefined,
      removes: answer.removes ?? false,
    },
  )}`;
}

/** ", in 3 parts, by operator": how it reaches its hosts, where that is not as usual. */
export function deliveryWords({ parts, byOperator, removes }: { parts: number; byOperator: boolean; removes: boolean }): string {
  return `${parts > 1 ? `, in ${parts} parts` : ''}${byOperator ? ', by operator' : ''}${removes ? ', removed where it is' : ''}`;
}

/** The same of a verdict that was handed down. */
export const deliveredWords = (delivery: Schemas['DeliveryView'] | undefined): string =>
  delivery === undefined
    ? ''
    : deliveryWords({ parts: delivery.ends.length, byOperator: delivery.byOperator !== undefined, removes: delivery.removes });

type Ground = Schemas['Ground'];

const GROUNDS: Record<Ground['type'], (hosts: string) => string> = {
  FORCES: (hosts) => `it forces ${hosts}`,
  DISTURBS: (hosts) => `it disturbs ${hosts} in their busy hours`,
  EXCEPTS: (hosts) => `it excepts ${hosts}`,
  OVERRIDES_EXCEPTION: () => 'it overrides an exception of somebody else',
};

/** Why something needs an approver: "it forces hosts of tier 1". */
export const groundWords = (grounds: Ground[]): string =>
  grounds.map((ground) => GROUNDS[ground.type](`hosts of tier ${ground.tier}`)).join(' and ');
