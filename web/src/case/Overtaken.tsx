/** Says that somebody decided on the case meanwhile, and whether that has been read. */
export function Overtaken({ message, reading }: { message: string; reading: boolean }) {
  return (
    <p className="fault-line" role="alert">
      Not done: {message}.{' '}
      {reading ? 'What is in force now is being read.' : 'What is in force now is shown above; press again to do it all the same.'}
    </p>
  );
}
