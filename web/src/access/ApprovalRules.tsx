import { useQuery } from '@tanstack/react-query';
import { Checkbox } from 'antd';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { Failed } from '../frame/Loading';
import styles from './access.module.css';

type Rules = Schemas['ApprovalRulesView'];

const TIERS = [1, 2, 3, 4];
const ASKED: { part: keyof Rules; words: string }[] = [
  { part: 'forces', words: 'Forcing hosts, at once or once a pilot has answered' },
  { part: 'disturbs', words: 'Installing or restarting in busy hours' },
  { part: 'excepts', words: 'Excepting hosts' },
];

/** What nobody decides alone, by what an outage of a host costs. */
export function ApprovalRules() {
  const rules = useQuery({ queryKey: ['approval rules'], queryFn: () => body(api.GET('/api/approval-rules')) });
  const change = useChange((next: Rules) => body(api.PUT('/api/approval-rules', { body: next })), 'Not changed');
  if (rules.isLoadingError) {
    return <Failed what="What needs an approver" error={rules.error} again={rules.refetch} />;
  }
  if (rules.data === undefined) {
    return null;
  }
  const now = rules.data;
  const turn = (part: keyof Rules, tier: number) =>
    change.mutate({ ...now, [part]: now[part].includes(tier) ? now[part].filter((one) => one !== tier) : [...now[part], tier].sort() });
  return (
    <section>
      <h2>What needs an approver</h2>
      <p className={`mid ${styles.lead}`}>
        It is proposed and holds nothing until somebody else with the role of an approver says so. Going over an exception of somebody else
        always needs one. What waits or is in force already stays as it is.
      </p>
      <table className="list" aria-label="What needs an approver">
        <thead>
          <tr>
            <th scope="col">On hosts of</th>
            {TIERS.map((tier) => (
              <th scope="col" key={tier}>
                tier {tier}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ASKED.map(({ part, words }) => (
            <tr key={part}>
              <th scope="row">{words}</th>
              {TIERS.map((tier) => (
                <td key={tier}>
                  <Checkbox
                    aria-label={`${words}, tier ${tier}`}
                    checked={now[part].includes(tier)}
                    disabled={change.isPending}
                    onChange={() => turn(part, tier)}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
