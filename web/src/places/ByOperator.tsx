import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, body } from '../api/client';
import { readsEverything, useChange, useOperatorWork, useSession } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { hostsDone, Work } from '../operators/Work';
import { count } from '../words/dates';
import { isAmiss, type OperatorWork, workWords } from '../words/operators';

const ACTS = ['ANALYST', 'OPERATOR'];

/** What tells one work from another; two parts of one verdict are one. */
const keyOf = (work: OperatorWork) => [work.update, work.populationId, work.match.clause, work.match.source ?? ''].join(' ');

/** What operators are to install by hand: their own, or that of everybody, and how far it is. */
export default function ByOperator() {
  const now = useNow();
  const navigate = useNavigate();
  const { done, takeBack } = useLastAct();
  const role = useSession().data?.role;
  const [search, set] = useAddress();
  const only = search.get('update') ?? undefined;
  const asked = useOperatorWork(only);
  const [chosen, setChosen] = useState<Record<string, string[]>>({});
  const mayAct = role !== undefined && ACTS.includes(role);
  const own = role === 'OPERATOR';
  const all = asked.data ?? [];
  const rows = all.flatMap((work) => work.hosts.map(({ host }) => ({ work, host, at: `${keyOf(work)} ${host}` })));
  const at = Math.max(
    0,
    rows.findIndex((row) => row.at === search.get('at')),
  );
  const current = rows[at];
  const move = (to: number) => set({ at: rows[Math.min(Math.max(to, 0), rows.length - 1)]?.at });
  const chosenOf = (work: OperatorWork) => chosen[keyOf(work)] ?? [];
  const choose = (work: OperatorWork, host: string) => {
    const some = chosenOf(work);
    setChosen({ ...chosen, [keyOf(work)]: some.includes(host) ? some.filter((one) => one !== host) : [...some, host] });
  };
  const say = useChange(
    ({ work, hosts }: { work: OperatorWork; hosts: string[] }) =>
      body(
        api.POST('/api/operator-work/entries', {
          body: { update: work.update, revision: work.revision, hosts, words: '' },
          params: { header: { 'Idempotency-Key': randomKey() } },
        }),
      ),
    'Not kept',
  );
  const sayDone = (work: OperatorWork, hosts: string[]) =>
    say.mutate(
      { work, hosts },
      {
        onSuccess: ({ undo }) => {
          done({ words: `${work.update} was said to be done on ${count(hosts.length, 'host')}.`, undo });
          setChosen({ ...chosen, [keyOf(work)]: [] });
        },
      },
    );
  const word = (work: OperatorWork | undefined) => set({ slot: work && keyOf(work) });
  useKeys({
    ArrowDown: () => move(at + 1),
    ArrowUp: () => move(at - 1),
    Enter: () => current && navigate(`/hosts/${encodeURIComponent(current.host)}`),
    ' ': () => mayAct && current && choose(current.work, current.host),
    s: () => mayAct && current && word(current.work),
    d: () => mayAct && current && !say.isPending && sayDone(current.work, hostsDone(current.work, chosenOf(current.work), current.host)),
    u: takeBack,
    x: () => set({ update: undefined }),
    Escape: () => setChosen({}),
  });
  const amiss = all.flatMap((work) => work.hosts.filter(isAmiss)).length;
  return (
    <main>
      <div className="head">
        <Heading>{own ? 'For you to install' : 'By operator'}</Heading>
        {asked.data && all.length > 0 && (
          <span className="mid">
            {workWords(all)}, what is asked for first in front
            {amiss > 0 && (
              <>
                ; <span className="strong">{count(amiss, 'install')} not as asked for or said</span>
              </>
            )}
          </span>
        )}
        {only !== undefined && (
          <button type="button" className="plain link" onClick={() => set({ update: undefined })}>
            Only {only}: show all <kbd>X</kbd>
          </button>
        )}
      </div>
      {asked.isLoadingError && <Failed what="What operators are to do" error={asked.error} again={asked.refetch} />}
      {asked.isPending && <Loading what="what operators are to do" />}
      {asked.data && all.length === 0 && (
        <p className="empty">
          <strong>Nothing is to be installed by hand{only !== undefined && ` of ${only}`}.</strong>
          What is handed to operators by a verdict, an exception or their population stands here: the steps, the hosts in their order, and
          the day until which it is asked for.
        </p>
      )}
      <div className="page">
        {all.map((work) => (
          <Row key={keyOf(work)} what={work.update}>
            {() => (
              <Work
                work={work}
                now={now}
                current={current?.work === work ? current.host : undefined}
                point={(host) => set({ at: `${keyOf(work)} ${host}` })}
                chosen={chosenOf(work)}
                choose={(host) => choose(work, host)}
                mayAct={mayAct}
                address={`/${readsEverything(role) ? 'cases' : 'carriers'}/${encodeURIComponent(work.update)}`}
                wording={search.get('slot') === keyOf(work)}
                word={(open) => word(open ? work : undefined)}
                done={(hosts) => sayDone(work, hosts)}
              />
            )}
          </Row>
        ))}
      </div>
      <Legend>
        <Key name="↑ ↓">move</Key>
        {mayAct && <Key name="Space">choose</Key>}
        {mayAct && <Key name="S">agree a slot</Key>}
        {mayAct && <Key name="D">say that it is done</Key>}
        {mayAct && <Key name="U">take the last one back</Key>}
        <Key name="Enter">open the host</Key>
      </Legend>
    </main>
  );
}
