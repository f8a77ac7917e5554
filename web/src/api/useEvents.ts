import { useEffect } from 'react';
import { useRefresh } from './queries';
import type { Topic } from './topics';

const AGAIN_AFTER = 3_000;

let flowing = false;

/** True while the server tells what changes; then nothing needs to be asked for again and again. */
export const eventsFlow = () => flowing;

/** Asks for what is on the screen again whenever the server says that something which it shows has changed, and for all of it after the server was away. */
export function useEvents() {
  const refresh = useRefresh();
  useEffect(() => {
    let events: EventSource | undefined;
    let lost = false;
    let again: ReturnType<typeof setTimeout> | undefined;
    const listen = () => {
      const opened = new EventSource('/api/events');
      events = opened;
      opened.addEventListener('changed', (event) => void refresh((event as MessageEvent<string>).data.split(',') as Topic[]));
      opened.addEventListener('listening', () => {
        flowing = true;
        if (lost) {
          lost = false;
          void refresh();
        }
      });
      opened.addEventListener('error', () => {
        flowing = false;
        if (!lost) {
          lost = true;
          // What is asked for now fails, and is asked for every few seconds from then on.
          void refresh();
        }
        // A connection that is only cut is made anew by the browser; one that was refused is not.
        if (opened.readyState === EventSource.CLOSED && events === opened) {
          clearTimeout(again);
          again = setTimeout(listen, AGAIN_AFTER);
        }
      });
    };
    const stop = () => {
      clearTimeout(again);
      events?.close();
      events = undefined;
      flowing = false;
    };
    // A browser opens only six connections to a server: pages that nobody sees give theirs back.
    const turned = () => {
      if (document.visibilityState === 'hidden') {
        stop();
        lost = true;
      } else if (events === undefined) {
        listen();
      }
    };
    turned();
    document.addEventListener('visibilitychange', turned);
    return () => {
      document.removeEventListener('visibilitychange', turned);
      stop();
    };
    // One stream for as long as the frame is open; refresh always asks for what is on the screen then.
  }, []);
}
