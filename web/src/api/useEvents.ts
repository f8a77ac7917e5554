import { useEffect } from 'react';
import { useRefresh } from './queries';

/** Asks for everything on the screen again whenever the server says that something changed, also after it was away. */
export function useEvents() {
  const refresh = useRefresh();
  useEffect(() => {
    const events = new EventSource('/api/events');
    let lost = false;
    events.addEventListener('changed', () => void refresh());
    events.addEventListener('listening', () => {
      if (lost) {
        lost = false;
        void refresh();
      }
    });
    events.addEventListener('error', () => {
      lost = true;
    });
    return () => events.close();
    // One stream for as long as the frame is open; refresh always asks for what is on the screen then.
  }, []);
}
