import { Button } from 'antd';
import { useNavigate } from 'react-router';
import { CalendarAddress } from '../account/CalendarAddress';
import { ChoosePassword } from '../account/ChoosePassword';
import { OpenSessions } from '../account/OpenSessions';
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
        <OpenSessions />
        {readsEverything(session?.role) && <CalendarAddress />}
      </div>
    </main>
  );
}
