import { App } from 'antd';
import { createContext, type ReactNode, useContext, useState } from 'react';
import { api, asItIs, body, type Schemas } from '../api/client';
import { useRefresh } from '../api/queries';
import { count } from '../words/dates';

/** The last thing that this person decided or told here, so that one key can take it back. */
interface Act {
  words: string;
  verdicts: number[];
  answers: number[];
  exceptions: number[];
  reports: string[];
  issues: string[];
  notes: number[];
  strikes: number[];
  /** The populations as they were before, as a document, and the version that was saved in their place. */
  ladder?: { document: string; version: string };
}

interface LastAct {
  /** Says what was done, and offers to take it back. */
  done: (act: Partial<Act> & { words: string }) => void;
  takeBack: () => void;
  takeBackThese: (act: Partial<Act> & { words: string }) => void;
}

type Opening = Schemas['OpeningView'];

const MOST_OPENINGS = 5;

const namesOf = (hosts: Opening['offered']) => `${hosts.names.slice(0, 4).join(', ')}${hosts.count > 4 ? ' …' : ''}`;

const Context = createContext<LastAct>({ done: () => {}, takeBack: () => {}, takeBackThese: () => {} });

export const useLastAct = () => useContext(Context);

export function LastActProvider({ children }: { children: ReactNode }) {
  const { message, modal } = App.useApp();
  const refresh = useRefresh();
  const [last, setLast] = useState<Act | undefined>();

  async function revoke(act: Act) {
    try {
      // A batch is one act: all of it is taken back, or nothing.
      if (act.verdicts.length > 0) {
        await api.DELETE('/api/verdicts', { params: { query: { number: act.verdicts } } });
      }
      if (act.answers.length > 0) {
        await api.DELETE('/api/rule-answers', { params: { query: { number: act.answers } } });
      }
      for (const number of act.exceptions) {
        await api.DELETE('/api/exceptions/{number}', { params: { path: { number } } });
      }
      for (const id of act.reports) {
        await api.DELETE('/api/failure-reports', { params: { query: { id } } });
      }
      for (const id of act.issues) {
        await api.DELETE('/api/known-issues', { params: { query: { id } } });
      }
      for (const number of act.notes) {
        await api.DELETE('/api/does-not-matter-notes/{number}', { params: { path: { number } } });
      }
      for (const number of act.strikes) {
        await api.DELETE('/api/strikes/{number}', { params: { path: { number } } });
      }
      if (act.ladder) {
        await api.PUT('/api/populations', {
          body: act.ladder.document,
          bodySerializer: asItIs,
          params: { header: { 'If-Match': act.ladder.version } },
        });
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
    if (act.verdicts.length + act.answers.length + act.exceptions.length > 0) {
      try {
        const { verdicts, answers, exceptions } = act;
        openings = await body(api.POST('/api/decisions/taking-back/consequences', { body: { verdicts, answers, exceptions } }));
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

  const whole = (act: Partial<Act> & { words: string }): Act => ({
    verdicts: [],
    answers: [],
    exceptions: [],
    reports: [],
    issues: [],
    notes: [],
    strikes: [],
    ...act,
  });

  return (
    <Context.Provider
      value={{
        done: (act) => {
          setLast(whole(act));
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
            message.info('Nothing was decided here since this page was opened; older decisions are taken back on their case.');
          }
        },
        takeBackThese: (act) => void askAndRevoke(whole(act)),
      }}
    >
      {children}
    </Context.Provider>
  );
}
