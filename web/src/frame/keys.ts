import { useEffect, useRef, useSyncExternalStore } from 'react';

/** Keys of a place: a key name such as "b", "ArrowDown", "Enter", " " or "Ctrl+Enter", and what it does. */
export type Keys = Record<string, () => void>;

const OFF = 'lucid.letters-off';
const listeners = new Set<() => void>();

function lettersOff(): boolean {
  return localStorage.getItem(OFF) === 'yes';
}

export function setLettersOff(off: boolean) {
  localStorage.setItem(OFF, off ? 'yes' : 'no');
  for (const listener of listeners) {
    listener();
  }
}

export function useLettersOff(): boolean {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, lettersOff);
}

/** True while a person types: letters then are text. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    !isBox(target) &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.closest('.ant-select, .ant-picker') !== null)
  );
}

/** In a box that is ticked nobody types. */
function isBox(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && (target.type === 'checkbox' || target.type === 'radio');
}

function inOverlay(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.closest('.ant-modal, .ant-dropdown, .ant-picker-dropdown, .ant-select-dropdown') !== null;
}

/** Puts the keys that act everywhere behind those of a place that was opened since. */
let everywhereLast = () => {};

/**
 * Listens for keys while the place is open. Single letters act only while nobody types and letters are not switched off;
 * keys on a focused link or button keep their own meaning.
 *
 * @param everywhere true for keys of all places: a place that has a use of its own for one comes first
 */
export function useKeys(keys: Keys, everywhere = false) {
  const current = useRef(keys);
  current.current = keys;
  useEffect(() => {
    function pressed(event: KeyboardEvent) {
      if (event.defaultPrevented || event.altKey || event.metaKey || inOverlay(event.target)) {
        return;
      }
      const name = event.ctrlKey ? `Ctrl+${event.key}` : event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const action = current.current[name];
      const chord = event.ctrlKey || event.key === 'Escape';
      if (!action || (!chord && isTyping(event.target))) {
        return;
      }
      const isLetter = /^[a-z]$/.test(name);
      if (isLetter && lettersOff()) {
        return;
      }
      const onControl = event.target instanceof HTMLElement && (event.target.closest('a, button') !== null || isBox(event.target));
      if (onControl && (name === 'Enter' || name === ' ')) {
        return;
      }
      event.preventDefault();
      action();
    }
    // Chords are heard before the focused control, which may have a use of its own for the key, such as a list for Enter.
    function chorded(event: KeyboardEvent) {
      if (event.ctrlKey) {
        pressed(event);
        if (event.defaultPrevented) {
          event.stopPropagation();
        }
      }
    }
    const listen = () => {
      window.addEventListener('keydown', chorded, true);
      window.addEventListener('keydown', pressed);
    };
    const leave = () => {
      window.removeEventListener('keydown', chorded, true);
      window.removeEventListener('keydown', pressed);
    };
    listen();
    if (everywhere) {
      everywhereLast = () => {
        leave();
        listen();
      };
    } else {
      everywhereLast();
    }
    return () => {
      leave();
      if (everywhere) {
        everywhereLast = () => {};
      }
    };
  }, [everywhere]);
}

/** While something is open that lies over the place, Escape closes that and nothing else. */
export function useEscapeCloses(open: boolean, close: () => void) {
  const current = useRef(close);
  current.current = close;
  useEffect(() => {
    function pressed(event: KeyboardEvent) {
      if (event.key === 'Escape') {
        event.preventDefault();
        event.stopPropagation();
        current.current();
      }
    }
    if (open) {
      window.addEventListener('keydown', pressed, true);
    }
    return () => window.removeEventListener('keydown', pressed, true);
  }, [open]);
}

/** How long a letter is waited for after G, in milliseconds. */
const WAITED = 2_000;

/** G, then the letter of a place, goes there: heard before the open place, where the letter has a use of its own. */
export function useGoTo(places: Keys) {
  const current = useRef(places);
  current.current = places;
  useEffect(() => {
    let begun = 0;
    function pressed(event: KeyboardEvent) {
      if (event.altKey || event.metaKey || event.ctrlKey || isTyping(event.target) || inOverlay(event.target) || lettersOff()) {
        return;
      }
      const letter = event.key.toLowerCase();
      const waiting = Date.now() - begun < WAITED;
      const go = waiting ? current.current[letter] : undefined;
      begun = letter === 'g' && !waiting ? Date.now() : 0;
      if (go !== undefined || letter === 'g') {
        event.preventDefault();
        event.stopPropagation();
        go?.();
      }
    }
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  }, []);
}

/** Tab goes on from a list and leaves it as it is. The list itself would choose the entry that happens to be marked. */
export function useTabLeavesLists() {
  useEffect(() => {
    function pressed(event: KeyboardEvent) {
      if (event.key === 'Tab' && event.target instanceof HTMLElement && event.target.closest('.ant-select') !== null) {
        event.stopPropagation();
      }
    }
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  }, []);
}
