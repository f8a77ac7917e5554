import { fireEvent, render, screen } from '@testing-library/react';
import { Select } from 'antd';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { setLettersOff, useGoTo, useKeys, useTabLeavesLists } from './keys';

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

describe('keys that act everywhere', () => {
  function Inner() {
    useKeys({ k: () => pressed('place') });
    return <p>inner</p>;
  }

  function Everywhere({ place }: { place: boolean }) {
    useKeys({ k: () => pressed('everywhere'), '/': () => pressed('search everything') }, true);
    return place ? <Inner /> : <p>outer</p>;
  }

  it('give way to a place that is opened later and has a use of its own for one', () => {
    const { rerender } = render(<Everywhere place={false} />);
    fireEvent.keyDown(document.body, { key: 'k' });
    rerender(<Everywhere place />);
    fireEvent.keyDown(document.body, { key: 'k' });
    fireEvent.keyDown(document.body, { key: '/' });
    rerender(<Everywhere place={false} />);
    fireEvent.keyDown(document.body, { key: 'k' });
    expect(pressed.mock.calls).toEqual([['everywhere'], ['place'], ['search everything'], ['everywhere']]);
  });
});

describe('g and a letter', () => {
  const gone = vi.fn();

  function WithPlaces() {
    useGoTo({ b: () => gone('b') });
    return <Place />;
  }

  it('go to a place, before the open place hears the letter', () => {
    render(<WithPlaces />);
    const page = screen.getByText('page');
    fireEvent.keyDown(page, { key: 'g' });
    fireEvent.keyDown(page, { key: 'b' });
    expect(gone).toHaveBeenCalledOnce();
    expect(pressed).not.toHaveBeenCalled();
    fireEvent.keyDown(page, { key: 'b' });
    expect(pressed.mock.calls).toEqual([['b']]);
    fireEvent.keyDown(screen.getByLabelText('text'), { key: 'g' });
    fireEvent.keyDown(page, { key: 'b' });
    expect(gone).toHaveBeenCalledOnce();
  });
});

describe('an open list', () => {
  const chosen = vi.fn();

  function WithList() {
    useTabLeavesLists();
    return (
      <Select
        aria-label="populations"
        mode="multiple"
        defaultOpen
        defaultActiveFirstOption
        options={[{ value: 'kiosks' }, { value: 'tablets' }]}
        onChange={chosen}
      />
    );
  }

  it('takes the marked entry with Enter, and is left with Tab', () => {
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
    render(<WithList />);
    const list = screen.getByRole('combobox');
    fireEvent.keyDown(list, { key: 'ArrowDown', which: 40, keyCode: 40 });
    fireEvent.keyDown(list, { key: 'Tab', which: 9, keyCode: 9 });
    expect(chosen).not.toHaveBeenCalled();
    fireEvent.keyDown(list, { key: 'Enter', which: 13, keyCode: 13 });
    expect(chosen).toHaveBeenCalledWith(['tablets'], expect.anything());
  });
});
