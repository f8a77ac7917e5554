import { useEffect } from 'react';
import { useRefresh } from './queries';

/** Asks for everything on the screen again whenever the server says that something changed, also after it was away. */
export function useEvents() {
  const refresh = useRefresh();
  useEffect(() => {
    let events: EventSource | undefined;
    let lost = false;
    const listen = () => {
      events = new EventSource('/api/events');
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
    };
    // A browser opens only six connections to a server: pages that nobody sees give theirs back.
    const turned = () => {
      if (document.visibilityState === 'hidden') {
        events?.close();
        events = undefined;
        lost = true;
      } else if (events === undefined) {
        listen();
      }
    };
    turned();
    document.addEventListener('visibilitychange', turned);
    return () => {
      document.removeEventListener('visibilitychange', turned);
      events?.close();
    };
    // One stream for as long as the frame is open; refresh always asks for what is on the screen then.
  }, []);
}
