import { fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { setLettersOff, useKeys } from './keys';

const pressed = vi.fn();

function Place() {
  useKeys({
    b: () => pressed('b'),
    Enter: () => pressed('Enter'),
    'Ctrl+Enter': () => pressed('Ctrl+Enter'),
    Escape: () => pressed('Escape'),
  });
  return (
    <>
      <input aria-label="text" />
      <button type="button">press</button>
      <p>page</p>
    </>
  );
}

afterEach(() => {
  pressed.mockClear();
  setLettersOff(false);
  document.body.innerHTML = '';
});

describe('keys', () => {
  it('act on the page', () => {
    render(<Place />);
    fireEvent.keyDown(screen.getByText('page'), { key: 'B' });
    fireEvent.keyDown(screen.getByText('page'), { key: 'Enter' });
    expect(pressed.mock.calls).toEqual([['b'], ['Enter']]);
  });
  it('are text while somebody types, but chords still act', () => {
    render(<Place />);
    const text = screen.getByLabelText('text');
    fireEvent.keyDown(text, { key: 'b' });
    fireEvent.keyDown(text, { key: 'Enter' });
    fireEvent.keyDown(text, { key: 'Enter', ctrlKey: true });
    fireEvent.keyDown(text, { key: 'Escape' });
    expect(pressed.mock.calls).toEqual([['Ctrl+Enter'], ['Escape']]);
  });
  it('are heard as chords before a control that uses Enter for itself, and once', () => {
    render(<Place />);
    const text = screen.getByLabelText('text');
    const used = vi.fn((event: Event) => event.preventDefault());
    text.addEventListener('keydown', used);
    fireEvent.keyDown(text, { key: 'Enter', ctrlKey: true });
    expect(pressed.mock.calls).toEqual([['Ctrl+Enter']]);
    expect(used).not.toHaveBeenCalled();
    fireEvent.keyDown(text, { key: 'Enter' });
    expect(used).toHaveBeenCalledOnce();
  });
  it('leave Enter to a focused button', () => {
    render(<Place />);
    fireEvent.keyDown(screen.getByText('press'), { key: 'Enter' });
    expect(pressed).not.toHaveBeenCalled();
  });
  it('can have their letters switched off', () => {
    setLettersOff(true);
    render(<Place />);
    fireEvent.keyDown(screen.getByText('page'), { key: 'b' });
    fireEvent.keyDown(screen.getByText('page'), { key: 'Enter' });
    expect(pressed.mock.calls).toEqual([['Enter']]);
  });
});
