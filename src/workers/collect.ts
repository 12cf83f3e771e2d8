import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

// V8's own collector is to be had only through a flag that holds for contexts made after it.
setFlagsFromString('--expose-gc');

/** Collects what a thread has used up; V8 would let it lie until there are some 250 MB of it. */
export const collect = runInNewContext('gc') as () => void;
