import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { placesOf } from '../frame/placesOf';
import { Term } from '../frame/Term';
import { anchorOf, TERMS, type TermName } from '../words/terms';
import Help from './Help';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const show = (at: string, what = <Help />) => {
  vi.stubGlobal(
    'fetch',
    vi.fn(async () => Response.json({ login: 'm.aldane', displayName: 'M. Aldane', role: 'ANALYST' })),
  );
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter initialEntries={[at]}>{what}</MemoryRouter>
    </QueryClientProvider>,
  );
};

describe('help', () => {
  it('has every term once, under an address of its own', () => {
    show('/help');
    const names = Object.keys(TERMS) as TermName[];
    expect(new Set(names.map(anchorOf)).size).toBe(names.length);
    for (const name of names) {
      expect(document.getElementById(anchorOf(name))?.textContent).toBe(`${name}${TERMS[name]}`);
    }
  });
  it('opens at the term that somebody came from', () => {
    Element.prototype.scrollIntoView = vi.fn();
    show('/help#usual-cost');
    expect(document.activeElement?.id).toBe('usual-cost');
  });
  it('is where a term leads to', () => {
    show('/', <Term name="flip point">Would change with</Term>);
    expect(screen.getByRole('link', { name: 'Would change with' }).getAttribute('href')).toBe('/help#flip-point');
  });
  it('names every place of a role with a key of its own', () => {
    const keys = placesOf('ADMINISTRATOR').map((place) => place.key);
    expect(new Set(keys).size).toBe(keys.length);
    expect(placesOf('DESK').map((place) => place.name)).not.toContain('Docket');
  });
});
