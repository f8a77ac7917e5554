import { cleanup, render, screen } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { pilot } from '../words/pilotFixture';
import { GateChart } from './GateChart';
import { HostCells } from './HostCells';

afterEach(cleanup);

function host(
  name: string,
  state: Schemas['PilotHostView']['state'],
  part: Partial<Schemas['PilotHostView']> = {},
): Schemas['PilotHostView'] {
  return { host: { name, population: 'kiosks', words: 'K1 · Fell' }, state, since: '2026-11-24T08:00:00Z', ...part };
}

describe('the gate as a drawing', () => {
  it('says in words what it draws', () => {
    render(<GateChart pilot={pilot([29, 1, 19, 9], { path: [{ at: '2026-11-25T08:00:00Z', tried: 49, failed: 1 }] })} />);
    const words = screen.getByRole('img').getAttribute('aria-label') ?? '';
    expect(words).toContain('49 hosts have tried it, 30 have answered, 1 of them failed');
    expect(words).toContain('With 1 failed the gate is met by 92 that answered');
    expect(words).toContain('2 failed of at most 15, 3 failed of at most 27');
  });
  it('draws no way on once it has failed', () => {
    const { container } = render(<GateChart pilot={pilot([5, 3, 0, 50], { state: 'FAILED' })} />);
    expect(container.querySelector('path[class*="dotted"]')).toBeNull();
  });
});

describe('the hosts of a pilot', () => {
  it('stand by what they have shown, those that failed by name', () => {
    render(
      <MemoryRouter>
        <AntApp>
          <HostCells
            hosts={[
              host('ksk-3', 'NOT_TRIED'),
              host('ksk-1', 'SOAKED', { at: '2026-11-25T08:00:00Z' }),
              host('ksk-2', 'FAILED', { at: '2026-11-25T08:00:00Z', code: 'E-7', failureClass: 'REFUSED' }),
            ]}
            now={new Date('2026-11-29T08:00:00Z')}
          />
        </AntApp>
      </MemoryRouter>,
    );
    const cells = screen.getAllByRole('listitem').map((cell) => cell.querySelector('a')?.getAttribute('aria-label'));
    expect(cells[0]).toContain('ksk-1, K1 · Fell: soaked, clean, installed Wed 25 Nov 08:00');
    expect(cells[1]).toContain('ksk-2, K1 · Fell: failed with E-7');
    expect(document.body.textContent).toContain('1 soaked, clean · 1 failed: ksk-2 E-7, refused · 1 not tried yet');
  });
});
