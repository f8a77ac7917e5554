import { useEffect, useState } from 'react';

/** The value once it has stayed the same for a moment, so that a question is not asked at every key press. */
export function useSettled<T>(value: T, milliseconds = 200): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return settled;
}
