import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, it } from 'vitest';
import { NumberField } from './NumberField';

afterEach(cleanup);

describe('a number that is typed', () => {
  let last: number | undefined;

  function Field({ whole }: { whole?: boolean }) {
    const [value, setValue] = useState<number | undefined>(7);
    last = value;
    return <NumberField label="Days" value={value} least={0} most={365} whole={whole} change={setValue} />;
  }

  const type = (text: string) => fireEvent.change(screen.getByLabelText('Days'), { target: { value: text } });

  it.each(['-3', '400', '3.7'])('is never put right in silence: %s', (text) => {
    render(<Field />);
    type(text);
    fireEvent.blur(screen.getByLabelText('Days'));
    expect((screen.getByLabelText('Days') as HTMLInputElement).value).toBe(text);
    expect(screen.getByRole('alert').textContent).toContain('a whole number from 0 to 365');
    expect(last).toBe(Number(text));
  });

  it('tells what is no number as out of range', () => {
    render(<Field />);
    type('soon');
    expect(screen.getByRole('alert')).toBeTruthy();
    expect(last).toBe(-1);
  });

  it('takes what is in range, also with a comma, and nothing', () => {
    render(<Field whole={false} />);
    type('3,5');
    expect(last).toBe(3.5);
    expect(screen.queryByRole('alert')).toBeNull();
    fireEvent.blur(screen.getByLabelText('Days'));
    expect((screen.getByLabelText('Days') as HTMLInputElement).value).toBe('3.5');
    type('');
    expect(last).toBeUndefined();
    expect(screen.queryByRole('alert')).toBeNull();
  });
});
