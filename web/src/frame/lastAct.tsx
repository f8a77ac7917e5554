import { App } from 'antd';
import { createContext, type ReactNode, useContext, useState } from 'react';
import { revocationAt, type Schemas, takeBackAt } from '../api/client';
import { useRefresh } from '../api/queries';
import { count } from '../words/dates';

/** The last thing that this person decided or told here, so that one key can take it back. */
interface Act {
  words: string;
  /** The address at which it is taken back, as the answer to it told. */
  undo?: string;
}

interface LastAct {
  /** Says what was done, and offers to take it back. */
  done: (act: Act) => void;
  takeBack: () => void;
  takeBackThese: (act: Act) => void;
}

type Opening = Schemas['OpeningView'];

const MOST_OPENINGS = 5;

const namesOf = (hosts: Opening['offered']) => `${hosts.names.slice(0, 4).join(', ')}${hosts.count > 4 ? ' …' : ''}`;

const Context = createContext<LastAct>({ done: () => {}, takeBack: () => {}, takeBackThese: () => {} });

export const useLastAct = () => useContext(Context);

/** What this window keeps of a person's last act, so that the page may be read anew in between. */
function useKept(person: string): [Act | undefined, (act: Act | undefined) => void] {
  const name = `lucid.last-act ${person}`;
  const [last, setLast] = useState<Act | undefined>(() => JSON.parse(sessionStorage.getItem(name) ?? 'null') ?? undefined);
  return [
    last,
    (act) => {
      setLast(act);
      if (act === undefined) {
        sessionStorage.removeItem(name);
      } else {
        sessionStorage.setItem(name, JSON.stringify(act));
      }
    },
  ];
}

/** @param person who signed in: what another did here before is not theirs to take back by a key */
export function LastActProvider({ person, children }: { person: string; children: ReactNode }) {
  const { message, modal } = App.useApp();
  const refresh = useRefresh();
  const [last, setLast] = useKept(person);

  async function revoke(act: Act) {
    try {
      if (act.undo !== undefined) {
        await takeBackAt(act.undo);
      }
      message.info(`Taken back: ${act.words}`);
    } catch (error) {
      message.error(`Not taken back: ${error instanceof Error ? error.message : 'the server refused it'}`);
      setLast(act);
    }
    await refresh();
  }

  /** Where taking it back would offer or force something on a host, that is said first and asked for once more. */
  async function askAndRevoke(act: Act) {
    let openings: Opening[] = [];
    if (act.undo !== undefined) {
      try {
        openings = await revocationAt(act.undo);
      } catch (error) {
        message.error(`Not taken back: ${error instanceof Error ? error.message : 'the server refused it'}`);
        setLast(act);
        return;
      }
    }
    const released = openings.filter((one) => one.offered.count + one.forced.count > 0);
    if (released.length === 0) {
      await revoke(act);
      return;
    }
    modal.confirm({
      title: `Take back: ${act.words}`,
      content: (
        <>
          {released.slice(0, MOST_OPENINGS).map((one) => (
            <p key={one.update}>
              <b>{one.update}</b> would {one.forced.count > 0 ? 'be due on' : 'be offered to'}{' '}
              {count(Math.max(one.forced.count, one.offered.count), 'host')}: {namesOf(one.forced.count > 0 ? one.forced : one.offered)}
            </p>
          ))}
          {released.length > MOST_OPENINGS && <p>and {count(released.length - MOST_OPENINGS, 'more update')}</p>}
        </>
      ),
      okText: 'Take it back',
      cancelText: 'Keep it',
      onOk: () => revoke(act),
      onCancel: () => setLast(act),
    });
  }

  return (
    <Context.Provider
      value={{
        done: (act) => {
          setLast(act);
          message.info(
            <span>
              {act.words} <kbd>U</kbd> takes it back.
            </span>,
            5,
          );
        },
        takeBack: () => {
          if (last) {
            setLast(undefined);
            void askAndRevoke(last);
          } else {
            message.info('Nothing was decided in this window; older decisions are taken back on their case.');
          }
        },
        takeBackThese: (act) => void askAndRevoke(act),
      }}
    >
      {children}
    </Context.Provider>
  );
}
