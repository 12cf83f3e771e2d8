import { jest } from '@jest/globals';

/** A test that opens a database, a browser or a large file takes its time on a busy machine. */
jest.setTimeout(60_000);
