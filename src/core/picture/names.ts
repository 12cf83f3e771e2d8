import type { Message } from '../model/message';

/** A colour as `colours.ts` names it, and a thing as `things.ts` does, to be said in the language of the interface. */
export const colourMessage = (name: string): Message => ({ id: `colour.${name}` });
export const thingMessage = (name: string): Message => ({ id: `thing.${name.replaceAll(' ', '-')}` });
