import { z } from 'zod';

/** What is done at one stroke and undone as a whole: a name that the browser gives it. */
export const Act = z.string().min(8).max(80);

/** Of the acts of a window, how many of the latest a text says that it follows. */
export const MOST_OWN_ACTS = 50;

/** Earlier acts of the window that a text comes from: words saved under them are nobody else's. */
export const OwnActs = z.array(Act).max(MOST_OWN_ACTS).default([]);
