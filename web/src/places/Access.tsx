import { AllowedHosts } from '../access/AllowedHosts';
import { ApprovalRules } from '../access/ApprovalRules';
import { IdentityProvider } from '../access/IdentityProvider';
import { MailServer } from '../access/MailServer';
import { People } from '../access/People';
import { Safekeeping } from '../access/Safekeeping';
import { Subscriptions } from '../access/Subscriptions';
import { Tokens } from '../access/Tokens';
import { Heading } from '../frame/Heading';
import styles from './Access.module.css';

/** People, machine tokens, hosts that may be fetched from, and what keeps the data safe; plainly. */
export default function Access() {
  return (
    <main>
      <div className="head">
        <Heading>Access</Heading>
        <span className="mid">Who signs in, which machines may send, and what is kept.</span>
      </div>
      <div className={`page ${styles.sections}`}>
        <People />
        <ApprovalRules />
        <Tokens />
        <AllowedHosts />
        <Safekeeping />
        <Subscriptions />
        <MailServer />
        <IdentityProvider />
      </div>
    </main>
  );
}
