import type { Schemas } from '../api/client';

type State = Schemas['PilotView']['state'];
type HostState = Schemas['PilotHostView']['state'];

/** "20.6 %", "5 %". */
export function percent(share: number): string {
  return `${Number((100 * share).toFixed(1))} %`;
}

/** "model × site": by what hosts are told apart. */
export const kindWords = (traits: string[]) => traits.join(' × ');

export const LEFT_OUT: Record<Schemas['LeftOutView']['why'], string> = {
  TRIED: 'tried it before',
  PROTECTED: 'protected by their population',
  DECIDED_OTHERWISE: 'something else holds there, which this does not override',
  SILENT: 'not heard of for too long',
  TIER_1: 'tier 1',
  BY_HAND: 'left out by you',
};

/** What a pilot has come to, in one or two words. */
export const PILOT_STATES: Record<State, string> = {
  SOAKING: 'soaking',
  MET: 'met',
  AWAITS_SIGN_OFF: 'waits for a sign-off',
  FAILED: 'failed',
  EXHAUSTED: 'exhausted',
  ENDED: 'ended',
  STOPPED: 'taken back',
};

export const HOST_STATES: Record<HostState, string> = {
  NOT_TRIED: 'not tried yet',
  SOAKING: 'soaking',
  SOAKED: 'soaked, clean',
  FAILED: 'failed',
  DISMISSED: 'failure dismissed',
  REPLACED: 'replaced',
};

/** What follows from the state, and what would decide it: the sentence at the top of a pilot. */
export function outlook(pilot: Schemas['PilotView']): string {
  const { gate, tally, furtherClean } = pilot;
  switch (pilot.state) {
    case 'MET':
      return 'The gate is met. The others wait until the answer day, or until you let it go.';
    case 'AWAITS_SIGN_OFF':
      return 'The gate is met; not every department has signed it off.';
    case 'FAILED':
      return 'The gate failed: it is withheld from everybody, the sampled hosts that have not installed it among them. Narrow it to a cause and start again, or block it.';
    case 'EXHAUSTED':
      return 'Every host has answered, and that is not enough either way. Extend the sample, accept what is known, or take it back.';
    case 'ENDED':
      return 'Its answer day has gone by; what else is in force holds again.';
    case 'STOPPED':
      return 'It was taken back; what else is in force holds again.';
    default: {
      const failing = [1, 2, 3, 4].find((more) => {
        const most = gate.triedToFail[tally.failed + more] ?? 0;
        return most >= tally.soaking + tally.soaked + tally.failed;
      });
      const left = tally.notTried + tally.soaking;
      const met = `${furtherClean} more ${furtherClean === 1 ? 'host' : 'hosts'} without failure would meet it`;
      const room = furtherClean > left ? `, ${furtherClean - left} more than the sample still has` : '';
      return `${met}${room}; one host down${failing === undefined ? '' : `, or ${failing} more failed now,`} would fail it.`;
    }
  }
}
