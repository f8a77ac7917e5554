import { configure } from '@testing-library/react';

// A test waits for what it is told, however slow the machine; a limit only ends one that waits for nothing.
configure({ asyncUtilTimeout: 120_000 });
