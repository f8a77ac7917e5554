import { describe, expect, it } from 'vitest';

/** Each folder may use those before it, and itself: what a page is made of never asks for a page. */
const ORDER = [
  'api',
  'words',
  'look',
  'frame',
  'decisions',
  'intake',
  'access',
  'account',
  'hosts',
  'pilots',
  'calendar',
  'exceptions',
  'docket',
  'operators',
  'case',
  'carriers',
  'report',
  'populations',
  'places',
  '.',
];

const files = import.meta.glob<string>('./**/*.{ts,tsx}', { query: '?raw', import: 'default', eager: true });

/** The folder of a file, from its path below this one. */
const folder = (path: string) => (path.includes('/') ? path.slice(0, path.indexOf('/')) : '.');

function imports(path: string, text: string): string[] {
  const base = path.split('/').slice(0, -1);
  return [...text.matchAll(/from '(\.[^']*)'|import\('(\.[^']*)'\)|^import '(\.[^']*)'/gm)].map((found) => {
    const parts = [...base];
    for (const step of (found[1] ?? found[2] ?? found[3] ?? '').split('/')) {
      if (step === '..') parts.pop();
      else if (step !== '.') parts.push(step);
    }
    return parts.join('/');
  });
}

describe('folders', () => {
  it('are all in the order', () => {
    const all = new Set(Object.keys(files).map((path) => folder(path.slice(2))));
    expect([...all].filter((name) => !ORDER.includes(name))).toEqual([]);
    expect(Object.keys(files).length).toBeGreaterThan(100);
  });

  it('use only those before them', () => {
    const wrong = Object.entries(files).flatMap(([path, text]) => {
      const from = path.slice(2);
      return imports(from, text)
        .filter((to) => ORDER.indexOf(folder(to)) > ORDER.indexOf(folder(from)))
        .map((to) => `${from} uses ${to}`);
    });
    expect(wrong).toEqual([]);
  });
});
