import { jest } from '@jest/globals';

/** A test that opens a database, a browser or a large file takes its time, on a machine that is busy or slow above all. */
jest.setTimeout(240_000);
