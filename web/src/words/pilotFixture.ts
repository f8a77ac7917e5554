import type { Schemas } from '../api/client';

const gate: Schemas['GateView'] = {
  askedLimit: 0.05,
  limit: 0.05,
  hosts: 58,
  hostsForAskedLimit: 58,
  passesAtLimit: 0.051,
  passesAtOnePercent: 0.558,
  answeredToMeet: [58, 92, 123, 152, 181],
  triedToFail: [0, 0, 15, 27, 39],
};

/** @param tally soaked, failed, soaking, not tried */
export function pilot(
  [soaked, failed, soaking, notTried]: [number, number, number, number],
  part: Partial<Schemas['PilotView']> = {},
): Schemas['PilotView'] {
  return {
    number: 2,
    update: 'LNT-3051',
    title: 'Ticket printer agent 2.4',
    revision: '1',
    populations: [{ id: 'kiosks', name: 'Ticket kiosks' }],
    state: 'SOAKING',
    verdicts: [9],
    reasons: ['UNTESTED'],
    words: '',
    author: 'M. Aldane',
    startedAt: '2026-11-24T08:00:00Z',
    answerDay: '2026-12-03T00:00:00Z',
    gate,
    soakDays: 3,
    tally: { soaked, failed, soaking, notTried, down: 0, dismissed: 0, replaced: 0 },
    furtherClean: Math.max(0, (gate.answeredToMeet[failed] ?? 0) - failed - soaked),
    withheld: 113,
    others: 110,
    departments: [],
    coverage: { traits: ['model', 'site'], kinds: 18, covered: 18, uncovered: [] },
    hosts: [],
    path: [],
    undo: '/api/decisions?verdict=9',
    ...part,
  };
}
