import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Boundary, Row } from './Boundary';

function Broken(): never {
  throw new RangeError('Invalid time value');
}

beforeEach(() => {
  // React tells each caught fault on the console; it is expected here.
  vi.spyOn(console, 'error').mockImplementation(() => undefined);
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

describe('a fault in drawing', () => {
  it('of one row leaves the others, and says which it is', () => {
    const rows = ['A-1', 'B-2', 'C-3'];
    render(
      <table>
        <tbody>
          {rows.map((id) => (
            <Row key={id} what={id} columns={2}>
              {() => {
                if (id === 'B-2') {
                  throw new RangeError('Invalid time value');
                }
                return (
                  <tr>
                    <td>{id}</td>
                    <td>drawn</td>
                  </tr>
                );
              }}
            </Row>
          ))}
        </tbody>
      </table>,
    );
    expect(screen.getAllByRole('row').map((row) => row.textContent)).toEqual([
      'A-1drawn',
      'B-2 cannot be drawn: Invalid time value',
      'C-3drawn',
    ]);
  });

  it('of a place says what to do instead of leaving a white page', () => {
    render(
      <Boundary what="This place">
        <Broken />
      </Boundary>,
    );
    expect(screen.getByRole('alert').textContent).toContain('This place cannot be drawn.');
    expect(screen.getByRole('button', { name: 'Load the page again' })).toBeTruthy();
  });
});
