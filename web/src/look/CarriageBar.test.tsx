import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { NO_HOSTS } from '../words/states';
import { CarriageBar } from './CarriageBar';

describe('carriage bar', () => {
  it('says its counts', () => {
    render(<CarriageBar counts={{ ...NO_HOSTS, carries: 21, partly: 1, missing: 147, unknown: 2, notApplicable: 0 }} />);
    expect(screen.getByRole('img').getAttribute('aria-label')).toBe('21 carry it, 1 carry it in part, 147 lack it, 2 unknown');
  });
  it('keeps a small part visible and inside the bar', () => {
    const { container } = render(<CarriageBar width={100} counts={{ ...NO_HOSTS, missing: 100_000, unknown: 1, notApplicable: 3 }} />);
    const unknown = container.querySelectorAll('rect')[4];
    expect(Number(unknown?.getAttribute('width'))).toBe(2);
    expect(Number(unknown?.getAttribute('x'))).toBe(97.5);
  });
  it('draws nothing where the update is for no host', () => {
    const { container } = render(<CarriageBar counts={{ ...NO_HOSTS, notApplicable: 9 }} />);
    expect(container.innerHTML).toBe('');
  });
});
