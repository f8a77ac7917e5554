import { cleanup, configure } from '@testing-library/react';
import { afterEach } from 'vitest';

// A test waits for what it is told, however slow the machine; a limit only ends one that waits for nothing.
configure({ asyncUtilTimeout: 120_000 });

// What a test drew goes with it: what is drawn on its own time would else be drawn when no page is there any more.
afterEach(cleanup);
