import { cache } from 'react';
import { collectionById, countsOf } from '@/server/catalogue/collections';

/** What the frame and the page in it both need is read once for each request. */
export const collectionOnce = cache(collectionById);
export const countsOnce = cache(countsOf);
