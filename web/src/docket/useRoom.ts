import { type RefObject, useEffect, useState } from 'react';

const LINES = 2;
/** Mean width of a character of the sans face at its size here, in pixels. */
const CHARACTER = 6.5;
/** Where nothing was measured yet. */
const USUAL = 165;

/** How many characters of why now fit on a strip: as many as the window is wide, so that sentences are left out whole, never cut. */
export function useRoom(list: RefObject<HTMLElement | null>): number {
  const [room, setRoom] = useState(USUAL);
  useEffect(() => {
    const measure = () => {
      const width = list.current?.querySelector('.why')?.clientWidth ?? 0;
      if (width > 0) {
        setRoom(Math.floor(width / CHARACTER) * LINES);
      }
    };
    measure();
    window.addEventListener('resize', measure);
    return () => window.removeEventListener('resize', measure);
  });
  return room;
}
