import { jest } from '@jest/globals';

/** A browser and a survey take their time on a busy machine. */
jest.setTimeout(600_000);
