import { App } from 'antd';
import { useNavigate } from 'react-router';
import { api, body, Refusal } from '../api/client';
import { useChange } from '../api/queries';
import { count } from '../words/dates';

/** Asks hosts to report at once, and says what came of it. */
export function useAskNow(asked: () => void) {
  const { message } = App.useApp();
  const ask = useChange((hosts: string[]) => body(api.POST('/api/asks', { body: { hosts } })));
  const now = (hosts: string[]) =>
    ask.mutate(hosts, {
      onSuccess: (result) => {
        message.info(
          `${count(result.asked, 'host is', 'hosts are')} asked to report at once.` +
            (result.unknown.length > 0 ? ` No host is called ${result.unknown.join(', ')}.` : ''),
        );
        asked();
      },
      onError: (error) => {
        message.error(`Nobody was asked: ${error instanceof Refusal ? error.message : 'the server cannot be reached'}`);
      },
    });
  return { now, isPending: ask.isPending };
}

/** Words an exception for hosts from an update: the server writes the condition that names them. */
export function useExceptThese() {
  const navigate = useNavigate();
  const read = useChange((names: string[]) => body(api.POST('/api/host-names', { body: { text: names.join('\n') } })), 'Not read');
  return (names: string[], update: string) =>
    read.mutate(names, {
      onSuccess: (found) => navigate(`/cases/${encodeURIComponent(update)}?except=yes&where=${encodeURIComponent(found.where)}`),
    });
}

type ChosenParts = {
  names: string[];
  askNow?: () => void;
  /** The update that all of them lack, if the list is of those that lack one. */
  except?: { update: string; word: () => void };
  none: () => void;
};

/** What can be done with hosts that were chosen from a list. */
export function Chosen({ names, askNow, except, none }: ChosenParts) {
  const { message } = App.useApp();
  const copy = async () => {
    await navigator.clipboard.writeText(names.join('\n'));
    message.info(`${count(names.length, 'name')} copied.`);
  };
  return (
    <div className="head tight">
      <span>
        <span className="strong">{count(names.length, 'host')}</span> chosen:{' '}
      </span>
      {askNow !== undefined && (
        <button type="button" className="plain link" onClick={askNow}>
          Ask now <kbd>A</kbd>
        </button>
      )}
      {except !== undefined && (
        <button type="button" className="plain link" onClick={except.word}>
          Except from {except.update} <kbd>E</kbd>
        </button>
      )}
      <button type="button" className="plain link" onClick={copy}>
        Copy the names
      </button>
      <button type="button" className="plain link" onClick={none}>
        Choose none
      </button>
    </div>
  );
}
