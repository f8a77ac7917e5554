import { Button } from 'antd';
import { useNavigate } from 'react-router';
import { ChoosePassword } from '../account/ChoosePassword';
import { DigestMail } from '../account/DigestMail';
import { OpenSessions } from '../account/OpenSessions';
import { PersonalAddress } from '../account/PersonalAddress';
import { SecondFactor } from '../account/SecondFactor';
import { readsEverything, useSession } from '../api/queries';
import { Heading } from '../frame/Heading';

/** What is one's own: password, second factor, and where one is signed in. */
export default function Account() {
  const navigate = useNavigate();
  const session = useSession().data;
  return (
    <main>
      <div className="head">
        <Heading>Your account</Heading>
        <span className="mid">
          {session?.displayName}, signs in as {session?.login}
        </span>
      </div>
      <div className="page account">
        <ChoosePassword done={() => navigate('/')} more={<Button onClick={() => navigate(-1)}>Cancel</Button>} />
        <SecondFactor has={session?.secondFactor === true} />
        <DigestMail />
        {readsEverything(session?.role) && (
          <>
            <PersonalAddress
              use="CALENDAR"
              title="Your calendar of what is in force"
              what="Ends, dues, answer days and freezes, for a program that shows calendars (iCalendar)."
            />
            <PersonalAddress
              use="FEED"
              title="Your feed of the record"
              what="The newest entries of the record, for a program that shows feeds (Atom)."
            />
          </>
        )}
        {session?.role === 'OPERATOR' && (
          <PersonalAddress
            use="SLOTS"
            title="Your calendar of what to install"
            what="Agreed slots, and the days by which installs are asked for, for a program that shows calendars (iCalendar)."
          />
        )}
        <OpenSessions />
      </div>
    </main>
  );
}
